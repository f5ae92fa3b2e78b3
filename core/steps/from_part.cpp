// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_from_part(StepRun& run) {
    // The maker links the part named by a part parameter as an input of the same key.
    const ShapePtr source = run.input_pointer("part");
    if (!source) {
        run.tell(Severity::error, "no-part", "Choose the part to take.");
        return;
    }
    if (source->empty()) run.tell(Severity::note, "empty", "That part is empty.");
    if (!run.toggle("instance")) {
        run.give(source);
        return;
    }
    Shape shape;
    shape.instances.push_back({source, {glm::mat4(1)}, {}});
    run.give(std::move(shape));
}

const Registered from_part_step(StepInfo{
    .key = "from_part",
    .name = "From part",
    .family = Family::make,
    .purpose = "Another part's result, live.",
    .words = "reference use instance copy object link",
    .help = "Follows the other part: whatever changes there changes here.",
    .glyph = "M4 4h9v9h-9z M11 16h9v4h-9z M8.5 13v5h2.5 M9 16 L11 18 L9 20",
    .gives = 0,
    .inputs = {},
    .parameters = {[] {
                       ParameterInfo p;
                       p.key = "part";
                       p.label = "Part";
                       p.help = "The part whose result is taken.";
                       p.kind = ParameterKind::part;
                       return p;
                   }(),
                   toggle_of("instance", "As an instance", false,
                             "Shows the other part without copying it; steps that change faces make it real.")},
    .telling = "{part}",
    .make = run_from_part});

}  // namespace

}  // namespace bricol
