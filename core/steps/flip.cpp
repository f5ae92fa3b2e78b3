// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/measure.h"
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Flip {
    enum class Which { all, inside_out };
    Which which = Which::all;
};

void run_flip(const Flip& s, StepRun& run) {
    Shape shape = run.shape();
    if (s.which == Flip::Which::inside_out) {
        const Measures m = measured(shape);
        if (!m.closed) {
            run.tell(Severity::note, "open", "An open shape has no inside; its faces stay as they are.");
            run.give(std::move(shape));
            return;
        }
        if (*m.volume >= 0) {
            run.give(std::move(shape));
            return;
        }
    }
    shape.mesh = flipped(shape.mesh);
    run.give(std::move(shape));
}

const StepOf<Flip> flip_step(
    StepInfo{.key = "flip",
             .name = "Flip",
             .family = Family::faces,
             .purpose = "Turns faces the other way round.",
             .words = "reverse normals inside out invert orientation",
             .help = "Turns every face, or only the faces of a closed shape that is inside out.",
             .glyph = "M4 9 h12 M12.5 5.5 L16 9 L12.5 12.5 M20 15 h-12 M11.5 11.5 L8 15 L11.5 18.5",
             .gives = 0,
             .inputs = {{"shape", "Mesh", content_faces, true}},
             .telling = "{which}"},
    {choice_of(&Flip::which, "which", "Which",
               {{Flip::Which::all, "all", "all faces"}, {Flip::Which::inside_out, "inside_out", "when inside out"}},
               "Whether to look first.")},
    run_flip);

}  // namespace

}  // namespace bricol
