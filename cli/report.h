// SPDX-License-Identifier: GPL-3.0-or-later
// What the command line says about a recipe, as JSON and as text.
#pragma once

#include "core/make/make.h"

namespace bricol {

/// Whether a part is asked for; all are when none is named.
bool wanted(const std::vector<std::string>& parts, const std::string& name);

/// Steps of parts nobody asked for that those asked for come from, and have something to say.
struct FindingBehind {
    const Part& part;
    const Step& step;
    const Finding& finding;
};
std::vector<FindingBehind> findings_behind(const Recipe& recipe, const Made& made,
                                           const std::vector<std::string>& parts);

Json report_json(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts);
std::string report_text(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts);
/// The errors alone, one a line.
std::string errors_text(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts);

Json dials_json(const Recipe& recipe);
std::string dials_text(const Recipe& recipe);

/// The catalogue of steps: all, or one.
Json step_info_json(const StepInfo& info);
std::string step_info_text(const StepInfo& info);
/// The reference manual's page of all steps, in Markdown.
std::string steps_manual();
/// What formulas understand: grammar, and every function with its example.
Json formulas_json();
std::string formulas_text();
/// The same as the manual's page, in Markdown.
std::string formulas_manual();
/// JSON Schema (draft 2020-12) of the recipe file, made from the catalogue.
Json recipe_schema();

}  // namespace bricol
