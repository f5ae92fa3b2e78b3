// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/numbers_on.h"
#include "core/catalogue/settings.h"
#include "core/steps/shared/marked.h"

namespace bricol {

namespace {

struct Colour {
    enum class By { one, attribute, axis };
    By by = By::one;
    DVec3 colour{0.45, 0.12, 0.08};
    std::string attribute = "weight";
    Axis axis = Axis::z;
    Gradient gradient;
    bool fit = true;
    double low = 0;
    double high = 1;
    Domain on = Domain::vertex;
    std::string only;
};

void run_colour(const Colour& s, StepRun& run) {
    Shape shape = run.shape();
    // Without a mesh there are only copies to colour, or else knots.
    const Domain instead = !shape.instances.empty() ? Domain::instance : Domain::knot;
    const bool bare = shape.mesh.empty() && !shape.empty() && s.on != Domain::knot;
    MarkedElements marked(run, shape, bare ? instead : s.on);
    if (!marked.there()) return;
    Mesh& mesh = marked.mesh();
    const Domain domain = marked.domain();
    const std::size_t count = mesh.domain_sizes()[static_cast<std::size_t>(domain)];
    const Colour::By by = s.by;
    Array<Vec4> colours(count, Vec4(1));
    if (const auto* before = mesh.attributes.values<Vec4>(domain, attribute_name::colour))
        colours = *before;
    else if (const auto* other = mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour))
        for (std::size_t c = 0; c < count; ++c) colours[c] = (*other)[mesh.topology->corner_vertex[c]];
    Mask mask = Mask(count, 1);
    if (!s.only.empty()) {
        // A corner belongs to the set when its face does: neighbouring faces keep a crisp border between their colours.
        if (domain == Domain::corner) {
            const Mask faces = run.chosen(mesh, Domain::face, s.only);
            for (Index f = 0; f < mesh.face_count(); ++f)
                for (Index c = mesh.topology->face_offsets[f]; c < mesh.topology->face_offsets[f + 1]; ++c)
                    mask[c] = faces[f];
        } else {
            mask = run.chosen(mesh, domain, s.only);
        }
    }
    if (by == Colour::By::one) {
        const Vec4 one(Vec3(s.colour), 1);
        for (std::size_t i = 0; i < count; ++i)
            if (mask[i]) colours[i] = one;
    } else {
        const Array<Vec3>& p = *mesh.positions;
        Array<float> values(count, 0.0f);
        if (by == Colour::By::axis) {
            const int axis = index_of(s.axis);
            for (std::size_t i = 0; i < count; ++i)
                values[i] = p[domain == Domain::vertex ? i : mesh.topology->corner_vertex[i]][axis];
        } else {
            if (s.attribute.empty()) {
                run.tell(Severity::error, "no-name", "Choose the attribute that the gradient goes over.");
                return;
            }
            values = run.weights(mesh, domain, s.attribute);
        }
        double low = s.low, high = s.high;
        if (s.fit) {
            low = 1e300, high = -1e300;
            for (std::size_t i = 0; i < count; ++i)
                if (mask[i])
                    low = std::min(low, static_cast<double>(values[i])),
                    high = std::max(high, static_cast<double>(values[i]));
        }
        const Gradient& gradient = s.gradient;
        for (std::size_t i = 0; i < count; ++i)
            if (mask[i])
                colours[i] = Vec4(
                    Vec3(gradient.colour(high > low ? (static_cast<double>(values[i]) - low) / (high - low) : 0)), 1);
    }
    mesh.attributes.remove(domain == Domain::corner ? Domain::vertex : Domain::corner, attribute_name::colour);
    mesh.attributes.set(domain, attribute_name::colour, std::move(colours));
    marked.keep(attribute_name::colour);
    run.give(std::move(shape));
}

const StepOf<Colour> colour_step(
    StepInfo{
        .key = "colour",
        .name = "Colour",
        .family = Family::look,
        .purpose = "Colours points or faces: one colour, or a gradient over an attribute or an axis.",
        .words = "color paint vertex gradient tint stain shade",
        .help =
            "Colours are kept per point, or per corner so that they end sharply at faces, and go out as glTF's "
            "COLOR_0. "
            "They tint the material. A gradient goes from the low to the high value, or is fitted to what there is.",
        .glyph = "M12 3 C7 9 5 12 5 15a7 6.5 0 0 0 14 0 C19 12 17 9 12 3z M8.5 15a3.5 3.5 0 0 0 3.5 3.5",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{by}"},
    {choice_of(&Colour::by, "by", "By",
               {{Colour::By::one, "one", "one colour"},
                {Colour::By::attribute, "attribute", "an attribute"},
                {Colour::By::axis, "axis", "an axis"}},
               "Where the colour comes from."),
     when(colour_of(&Colour::colour, "colour", "Colour", "Red, green and blue, linear."), "by=one"),
     when(attribute_of(&Colour::attribute, "attribute", "Attribute", "What the gradient goes over."), "by=attribute"),
     when(axis_of(&Colour::axis, "axis", "Axis",
                  "What the gradient goes along: with Fit from the lowest to the highest element of the set, or of the "
                  "whole shape when there is none."),
          "by=axis"),
     when(kind_of(&Colour::gradient, ParameterKind::gradient, "gradient", "Gradient",
                  "From the low value to the high one."),
          "by=attribute|axis"),
     when(toggle_of(&Colour::fit, "fit", "Fit the range", "From the smallest to the largest value there is."),
          "by=attribute|axis"),
     when(number_of(&Colour::low, "low", "Low", -1e6, 1e6, "Where the gradient begins, when it is not fitted."),
          "by=attribute|axis"),
     when(number_of(&Colour::high, "high", "High", -1e6, 1e6, "Where it ends."), "by=attribute|axis"),
     choice_of(&Colour::on, "on", "Kept on",
               {{Domain::vertex, "vertices", "points"},
                {Domain::corner, "corners", "corners of faces"},
                {Domain::instance, "instances", "copies"},
                {Domain::knot, "knots", "knots"}},
               "Points blend; corners let neighbouring faces differ; a copy has one colour, times what its shape has; "
               "what is swept, turned or filled blends between the colours of its knots."),
     only_of(&Colour::only, "Only the points or faces of this set.")},
    run_colour);

}  // namespace

}  // namespace bricol
