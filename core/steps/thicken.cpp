// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/thicken.h"

#include <fmt/format.h>

#include "core/steps/width_marks.h"

namespace bricol {

namespace {

void run_thicken(StepRun& run) {
    Shape shape = run.shape();
    ThickenOptions options;
    options.thickness = run.number("thickness");
    const std::string& side = run.word("side");
    options.outward = side == "outward" ? 1 : side == "both" ? 0.5 : 0;
    options.rims = run.toggle("rims");
    note_uneven_size(run, shape.mesh);
    const bool all = run.word("only").empty();
    ThickenResult result = thickened(shape.mesh, options, all ? Mask{} : run.chosen(shape.mesh, Domain::face));
    if (!result.too_tight.empty()) {
        Finding& finding =
            run.tell(Severity::caution, "too-thick",
                     fmt::format("The surface bends tighter than the wall is thick along {} edge{}, where the far side "
                                 "folds over. Make the wall thinner, or turn it to the other side.",
                                 result.too_tight.size(), result.too_tight.size() == 1 ? "" : "s"));
        result.too_tight.resize(std::min<std::size_t>(result.too_tight.size(), 64));
        finding.places = result.too_tight;
    }
    run.name_set(result.mesh, Domain::face, "outer_set", result.outer);
    run.name_set(result.mesh, Domain::face, "inner_set", result.inner);
    run.name_set(result.mesh, Domain::face, "rim_set", result.rim);
    shape.mesh = std::move(result.mesh);
    shape.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // rims have sharp edges of their own
    mark(shape.mesh, attribute_name::even_width);
    run.give(std::move(shape));
}

const Registered thicken_step(StepInfo{
    .key = "thicken",
    .name = "Thicken",
    .family = Family::faces,
    .purpose = "A wall of even thickness from a surface.",
    .words = "shell offset sheet metal wall plate",
    .help = "Both sides stay the same distance apart, at sharp folds too. Rims close the wall along open borders.",
    .glyph = "M3 15 C8 15 9 6 15 6 L21 6 M3 19 C10 19 11 10 17 10 L21 10 M3 15v4 M21 6v4",
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters = {length_of("thickness", "Thickness", 0.01, 1e-6, 0.5, "From one side to the other."),
                   choice_of("side", "Goes", {{"inward", "inward"}, {"both", "both ways"}, {"outward", "outward"}},
                             "Where the wall lies, seen from the surface."),
                   toggle_of("rims", "Rims", true, "Closes the wall along open borders."),
                   only_of("Only the faces of this set."),
                   new_set_of("outer_set", "Outer as set", "", "A name for the outer side."),
                   new_set_of("inner_set", "Inner as set", "", "A name for the inner side."),
                   new_set_of("rim_set", "Rim as set", "", "A name for the rims.")},
    .telling = "{thickness}",
    .make = run_thicken});

}  // namespace

}  // namespace bricol
