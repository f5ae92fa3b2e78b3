// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_given_shape(StepRun& run) {
    const ShapePtr given = run.input_pointer(run.word("which"));
    if (given) {
        run.give(given);
        return;
    }
    run.tell(Severity::note, "nothing-given",
             "Nothing is given here: this recipe stands alone, or nothing is linked to the recipe step that holds it.");
    run.give(Shape{});
}

const Registered given_shape_step(StepInfo{
    .key = "given_shape",
    .name = "Given shape",
    .family = Family::make,
    .purpose = "The shape that a recipe step hands to the recipe inside it.",
    .words = "input kit parameter outside inlet",
    .help = "In a recipe that is used as a step of another: what is linked to that step.",
    .glyph = "M3 12h10 M9.5 8.5 L13 12 L9.5 15.5 M14 4h6v16h-6",
    .gives = content_any,
    .inputs = {},
    .parameters = {choice_of(
        "which", "Which",
        {{"shape", "the first"}, {"second", "the second"}, {"third", "the third"}, {"fourth", "the fourth"}},
        "Which of the step's inputs.")},
    .telling = "{which}",
    .make = run_given_shape,
    .given = true});

}  // namespace

}  // namespace bricol
