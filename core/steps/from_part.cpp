// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct FromPart {
    std::string part;
    bool instance = false;
};

void run_from_part(const FromPart& s, StepRun& run) {
    // The maker links the part named by a part parameter as an input of the same key.
    const ShapePtr source = run.input_pointer("part");
    if (!source) {
        run.tell(Severity::error, "no-part", "Choose the part to take.");
        return;
    }
    if (source->empty()) run.tell(Severity::note, "empty", "That part is empty.");
    if (!s.instance) {
        run.give(source);
        return;
    }
    Shape shape;
    shape.instances.emplace_back(source, Array<glm::mat4>{glm::mat4(1)});
    run.give(std::move(shape));
}

const StepOf<FromPart> from_part_step(
    StepInfo{.key = "from_part",
             .name = "From part",
             .family = Family::make,
             .purpose = "Another part's result, live.",
             .words = "reference use instance copy object link",
             .help = "Follows the other part: whatever changes there changes here.",
             .glyph = "M4 4h9v9h-9z M11 16h9v4h-9z M8.5 13v5h2.5 M9 16 L11 18 L9 20",
             .gives = 0,
             .inputs = {},
             .telling = "{part}"},
    {kind_of(&FromPart::part, ParameterKind::part, "part", "Part", "The part whose result is taken."),
     toggle_of(&FromPart::instance, "instance", "As an instance",
               "Shows the other part without copying it; steps that change faces make it real.")},
    run_from_part);

}  // namespace

}  // namespace bricol
