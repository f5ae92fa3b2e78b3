// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/numbers_on.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_colour(StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    const Domain domain = run.word("on") == "corners" ? Domain::corner : Domain::vertex;
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    const std::string& by = run.word("by");
    Array<Vec4> colours(count, Vec4(1));
    if (const auto* before = mesh.attributes.values<Vec4>(domain, attribute_name::colour))
        colours = *before;
    else if (const auto* other = mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour))
        for (std::size_t c = 0; c < count; ++c) colours[c] = (*other)[mesh.topology->corner_vertex[c]];
    Mask mask = Mask(count, 1);
    if (!run.word("only").empty()) {
        // A corner belongs to the set when its face does: neighbouring faces keep a crisp border between their colours.
        if (domain == Domain::corner) {
            const Mask faces = run.chosen(mesh, Domain::face);
            for (Index f = 0; f < mesh.face_count(); ++f)
                for (Index c = mesh.topology->face_offsets[f]; c < mesh.topology->face_offsets[f + 1]; ++c)
                    mask[c] = faces[f];
        } else {
            mask = run.chosen(mesh, domain);
        }
    }
    if (by == "one") {
        const Vec4 one(Vec3(run.vector("colour")), 1);
        for (std::size_t i = 0; i < count; ++i)
            if (mask[i]) colours[i] = one;
    } else {
        const Array<Vec3>& p = *mesh.positions;
        Array<float> values(count, 0.0f);
        if (by == "axis") {
            const int axis = run.axis("axis");
            for (std::size_t i = 0; i < count; ++i)
                values[i] = p[domain == Domain::vertex ? i : mesh.topology->corner_vertex[i]][axis];
        } else {
            if (run.word("attribute").empty()) {
                run.tell(Severity::error, "no-name", "Choose the attribute that the gradient goes over.");
                return;
            }
            values = run.weights(mesh, domain, "attribute");
        }
        double low = run.number("low"), high = run.number("high");
        if (run.toggle("fit")) {
            low = 1e300, high = -1e300;
            for (std::size_t i = 0; i < count; ++i)
                if (mask[i])
                    low = std::min(low, static_cast<double>(values[i])),
                    high = std::max(high, static_cast<double>(values[i]));
        }
        const Gradient& gradient = run.as<Gradient>("gradient");
        for (std::size_t i = 0; i < count; ++i)
            if (mask[i])
                colours[i] = Vec4(
                    Vec3(gradient.colour(high > low ? (static_cast<double>(values[i]) - low) / (high - low) : 0)), 1);
    }
    mesh.attributes.remove(domain == Domain::corner ? Domain::vertex : Domain::corner, attribute_name::colour);
    mesh.attributes.set(domain, attribute_name::colour, std::move(colours));
    run.give(std::move(shape));
}

const Registered colour_step(StepInfo{
    .key = "colour",
    .name = "Colour",
    .family = Family::look,
    .purpose = "Colours points or faces: one colour, or a gradient over an attribute or an axis.",
    .words = "color paint vertex gradient tint stain shade",
    .help =
        "Colours are kept per point, or per corner so that they end sharply at faces, and go out as glTF's COLOR_0. "
        "They tint the material. A gradient goes from the low to the high value, or is fitted to what there is.",
    .glyph = "M12 3 C7 9 5 12 5 15a7 6.5 0 0 0 14 0 C19 12 17 9 12 3z M8.5 15a3.5 3.5 0 0 0 3.5 3.5",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
    .parameters = {choice_of("by", "By", {{"one", "one colour"}, {"attribute", "an attribute"}, {"axis", "an axis"}},
                             "Where the colour comes from."),
                   when(colour_of("colour", "Colour", {0.45, 0.12, 0.08}, "Red, green and blue, linear."), "by=one"),
                   when(attribute_of("attribute", "Attribute", "weight", "What the gradient goes over."),
                        "by=attribute"),
                   when(axis_of("axis", "Axis", "z", "What the gradient goes along."), "by=axis"),
                   when(kind_of(ParameterKind::gradient, "gradient", "Gradient", "From the low value to the high one."),
                        "by=attribute|axis"),
                   when(toggle_of("fit", "Fit the range", true, "From the smallest to the largest value there is."),
                        "by=attribute|axis"),
                   when(number_of("low", "Low", 0, -1e6, 1e6, "Where the gradient begins, when it is not fitted."),
                        "by=attribute|axis"),
                   when(number_of("high", "High", 1, -1e6, 1e6, "Where it ends."), "by=attribute|axis"),
                   choice_of("on", "Kept on", {{"vertices", "points"}, {"corners", "corners of faces"}},
                             "Points blend; corners let neighbouring faces differ."),
                   only_of("Only the points or faces of this set.")},
    .telling = "{by}",
    .make = run_colour});

}  // namespace

}  // namespace bricol
