// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

void run_recipe(const InnerWanted& wanted, StepRun& run) {
    if (!run.inner && run.failed()) return;  // refused before anything inside was made
    if (!run.inner) {
        run.tell(Severity::error, "no-kit", "Recipes inside recipes cannot be looked up here.");
        return;
    }
    auto made = run.inner(wanted);
    if (!made) {
        run.tell(Severity::error, "no-kit", made.problem().text());
        return;
    }
    // What is wrong inside is wrong here, but what could be made is passed on.
    for (Finding& finding : made->findings) {
        if (finding.severity == Severity::error) finding.code = "inside";
        run.findings.push_back(std::move(finding));
    }
    if (made->shape->empty()) run.tell(Severity::caution, "empty", "The recipe makes nothing with these numbers.");
    run.give(made->shape);
}

const StepOf<InnerWanted> recipe_step(
    StepInfo{
        .key = "recipe",
        .name = "Recipe",
        .family = Family::make,
        .purpose = "Another recipe as one step, its dials as its numbers.",
        .words = "kit group subgraph asset include reference pack nested",
        .help = "A kit recipe is a file beside this one and changes here when it changes there; packed steps are kept "
                "inside this recipe and can be opened again in place.",
        .glyph = "M4 5h16v14h-16z M4 9h16 M8 13h3 M8 16h6 M15 13h2",
        .gives = content_any,
        .inputs = {{"shape", "Shape", content_any, false},
                   {"second", "Second shape", content_any, false},
                   {"third", "Third shape", content_any, false},
                   {"fourth", "Fourth shape", content_any, false}},
        .telling = "{kit}"},
    {kind_of(&InnerWanted::kit, ParameterKind::kit, "kit", "Recipe",
             "A kit recipe's file, or the packed steps themselves."),
     text_of(&InnerWanted::part, "part", "Part",
             "Which of its parts is given; empty for its last shown one, * for all that are shown."),
     kind_of(&InnerWanted::preset, ParameterKind::preset, "preset", "Preset",
             "One of its presets; its dials below are turned from there."),
     kind_of(&InnerWanted::dials, ParameterKind::dials, "dials", "Its dials",
             "A number or formula for each dial; others keep the preset's or the recipe's own value.")},
    run_recipe);

}  // namespace

}  // namespace bricol
