// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/thicken.h"

#include <fmt/format.h>

#include "core/steps/shared/width_marks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct ThickenSettings {
    enum class Side { inward, both, outward };
    double thickness = 0.01;
    Side side = Side::inward;
    bool rims = true;
    std::string only;
    std::string outer_set;
    std::string inner_set;
    std::string rim_set;
};

void run_thicken(const ThickenSettings& s, StepRun& run) {
    Shape shape = run.shape();
    ThickenOptions options;
    options.thickness = s.thickness;
    const ThickenSettings::Side side = s.side;
    options.outward = side == ThickenSettings::Side::outward ? 1 : side == ThickenSettings::Side::both ? 0.5 : 0;
    options.rims = s.rims;
    note_uneven_size(run, shape.mesh);
    const bool all = s.only.empty();
    ThickenResult result =
        thickened(shape.mesh, options, all ? Selection() : Selection(run.chosen(shape.mesh, Domain::face, s.only)));
    if (!result.too_tight.empty()) {
        Finding& finding =
            run.tell(Severity::caution, "too-thick",
                     fmt::format("The surface bends tighter than the wall is thick along {} edge{}, where the far side "
                                 "folds over. Make the wall thinner, or turn it to the other side.",
                                 result.too_tight.size(), result.too_tight.size() == 1 ? "" : "s"));
        result.too_tight.resize(std::min<std::size_t>(result.too_tight.size(), 64));
        finding.places = result.too_tight;
    }
    run.name_set(result.mesh, Domain::face, s.outer_set, result.outer);
    run.name_set(result.mesh, Domain::face, s.inner_set, result.inner);
    run.name_set(result.mesh, Domain::face, s.rim_set, result.rim);
    shape.mesh = std::move(result.mesh);
    shape.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // rims have sharp edges of their own
    mark(shape.mesh, attribute_name::even_width);
    run.give(std::move(shape));
}

const StepOf<ThickenSettings> thicken_step(
    StepInfo{
        .key = "thicken",
        .name = "Thicken",
        .family = Family::faces,
        .purpose = "A wall of even thickness from a surface.",
        .words = "shell offset sheet metal wall plate",
        .help = "Both sides stay the same distance apart, at sharp folds too. Rims close the wall along open borders.",
        .glyph = "M3 15 C8 15 9 6 15 6 L21 6 M3 19 C10 19 11 10 17 10 L21 10 M3 15v4 M21 6v4",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{thickness}"},
    {length_of(&ThickenSettings::thickness, "thickness", "Thickness", 1e-6, 0.5, "From one side to the other."),
     choice_of(&ThickenSettings::side, "side", "Goes",
               {{ThickenSettings::Side::inward, "inward", "inward"},
                {ThickenSettings::Side::both, "both", "both ways"},
                {ThickenSettings::Side::outward, "outward", "outward"}},
               "Where the wall lies, seen from the surface."),
     toggle_of(&ThickenSettings::rims, "rims", "Rims", "Closes the wall along open borders."),
     only_of(&ThickenSettings::only, "Only the faces of this set."),
     new_set_of(&ThickenSettings::outer_set, "outer_set", "Outer as set", "A name for the outer side."),
     new_set_of(&ThickenSettings::inner_set, "inner_set", "Inner as set", "A name for the inner side."),
     new_set_of(&ThickenSettings::rim_set, "rim_set", "Rim as set", "A name for the rims.")},
    run_thicken);

}  // namespace

}  // namespace bricol
