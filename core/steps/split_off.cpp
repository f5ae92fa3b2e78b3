// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remove_elements.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SplitOff {
    std::string only;
};

void run_split_off(const SplitOff& s, StepRun& run) {
    Shape shape = run.shape();
    if (s.only.empty())
        run.tell(Severity::note, "no-set",
                 "Choose the set to split off; without one there is nothing to part it from.");
    shape.mesh = split_off(shape.mesh, run.chosen(shape.mesh, Domain::face, s.only));
    run.give(std::move(shape));
}

const StepOf<SplitOff> split_off_step(
    StepInfo{.key = "split_off",
             .name = "Split off",
             .family = Family::faces,
             .purpose = "Parts faces from their neighbours along the border of a set.",
             .words = "detach separate rip unweld",
             .help = "The faces stay where they are but share no points with the others any more.",
             .glyph = "M3 6h8v12h-8z M13 4h8v16h-8z M12 3v2 M12 8v2 M12 13v2 M12 18v2",
             .inputs = {{"shape", "Mesh", content_faces, true}},
             .telling = "{only}"},
    {only_of(&SplitOff::only, "The faces to part from the rest.")}, run_split_off);

}  // namespace

}  // namespace bricol
