// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct GivenShape {
    enum class Which { shape, second, third, fourth };
    Which which = Which::shape;
};

/// The keys of a recipe step's inputs, in the order of `Which`.
constexpr std::array<std::string_view, 4> inputs = {"shape", "second", "third", "fourth"};

void run_given_shape(const GivenShape& s, StepRun& run) {
    const ShapePtr given = run.input_pointer(inputs[static_cast<std::size_t>(s.which)]);
    if (given) {
        run.give(given);
        return;
    }
    run.tell(Severity::note, "nothing-given",
             "Nothing is given here: this recipe stands alone, or nothing is linked to the recipe step that holds it.");
    run.give(Shape{});
}

const StepOf<GivenShape> given_shape_step(
    StepInfo{.key = "given_shape",
             .name = "Given shape",
             .family = Family::make,
             .purpose = "The shape that a recipe step hands to the recipe inside it.",
             .words = "input kit parameter outside inlet",
             .help = "In a recipe that is used as a step of another: what is linked to that step.",
             .glyph = "M3 12h10 M9.5 8.5 L13 12 L9.5 15.5 M14 4h6v16h-6",
             .gives = content_any,
             .inputs = {},
             .telling = "{which}",
             .given = true},
    {choice_of(&GivenShape::which, "which", "Which",
               {{GivenShape::Which::shape, "shape", "the first"},
                {GivenShape::Which::second, "second", "the second"},
                {GivenShape::Which::third, "third", "the third"},
                {GivenShape::Which::fourth, "fourth", "the fourth"}},
               "Which of the step's inputs.")},
    run_given_shape);

}  // namespace

}  // namespace bricol
