// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/extrude.h"
#include "core/catalogue/settings.h"
#include "core/steps/shared/held_inset.h"

namespace bricol {

namespace {

struct Inset {
    enum class How { each, together };
    double width = 0.02;
    How how = How::each;
    std::string only;
    std::string inner_set;
    std::string rim_set;
};

void run_inset(const Inset& s, StepRun& run) {
    Shape shape = run.shape();
    ExtrudeResult result =
        inset_faces(shape.mesh, run.chosen(shape.mesh, Domain::face, s.only), s.width, s.how == Inset::How::together);
    tell_held_inset(run, result, s.width, s.how == Inset::How::together, run.key_of(s.width));
    run.name_set(result.mesh, Domain::face, s.inner_set, result.front);
    run.name_set(result.mesh, Domain::face, s.rim_set, result.side);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<Inset> inset_step(
    StepInfo{
        .key = "inset",
        .name = "Inset",
        .family = Family::faces,
        .purpose = "New smaller faces inside the old ones.",
        .words = "offset shrink border panel frame",
        .help =
            "Every chosen face, or the whole patch together, gets a smaller copy of itself in its own plane and a ring "
            "of quads round it.",
        .glyph = "M4 4h16v16h-16z M8 8h8v8h-8z M4 4 L8 8 M20 4 L16 8 M20 20 L16 16 M4 20 L8 16",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{width}"},
    {length_of(&Inset::width, "width", "Width", 0, 0.5, "From the old border to the new one."),
     choice_of(&Inset::how, "how", "How",
               {{Inset::How::each, "each", "one by one"}, {Inset::How::together, "together", "together"}},
               "Every face alone, or joined faces as one patch."),
     only_of(&Inset::only, "Only the faces of this set."),
     new_set_of(&Inset::inner_set, "inner_set", "Inner as set", "A name for the smaller faces."),
     new_set_of(&Inset::rim_set, "rim_set", "Rim as set", "A name for the rings.")},
    run_inset);

}  // namespace

}  // namespace bricol
