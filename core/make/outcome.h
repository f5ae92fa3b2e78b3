// SPDX-License-Identifier: GPL-3.0-or-later
// What came of making a recipe: shapes, findings, measures and times.
#pragma once

#include "core/catalogue/finding.h"
#include "core/catalogue/value.h"
#include "core/kernels/measure.h"
#include "core/make/made_numbers.h"
#include "core/recipe/recipe.h"

namespace bricol {

struct StagePiece;

struct StepOutcome {
    ShapePtr shape;                           ///< never null
    std::shared_ptr<const StagePiece> stage;  ///< a camera, lamp, sky or backdrop; null for most
    std::vector<Finding> findings;
    Values values;            ///< parameters worked out
    double milliseconds = 0;  ///< time of the run that made it
    std::uint64_t hash = 0;   ///< of everything the shape depends on
    bool kept = false;        ///< taken from memory, not made again
    bool failed = false;      ///< an error finding; the shape is the input passed through
    /// What formulas ask of the shape; made with it, measured when asked.
    std::shared_ptr<const MadeNumbers> numbers;
};

struct PartOutcome {
    ShapePtr shape;  ///< result of the part; never null
    std::string result_step;
    Measures measures;
    std::vector<Finding> findings;  ///< about the finished part (open, inside out, over budget …)
    /// What nobody looked for and why, as a clause; empty when everything was.
    std::string not_looked_for;
};

struct Made {
    /// In the order of recipe.parts and part.steps.
    std::vector<std::vector<std::shared_ptr<const StepOutcome>>> steps;
    std::vector<std::shared_ptr<const PartOutcome>> parts;
    std::vector<Finding> findings;  ///< about the recipe as a whole
    double milliseconds = 0;
    std::size_t made = 0, kept = 0;  ///< steps run and steps taken from memory
    bool stopped = false;            ///< asked to stop; outcomes may be missing

    const StepOutcome* step(const Recipe& recipe, const std::string& part, const std::string& id) const;
    const PartOutcome* part(const Recipe& recipe, const std::string& name) const;
    bool has_errors() const;
    /// The same, but of the steps that these parts come from (`steps_behind`) and of the parts themselves.
    bool has_errors(const Recipe& recipe, const std::vector<std::string>& only) const;
    std::size_t faces(const Recipe& recipe) const;  ///< of all parts that are shown
};

}  // namespace bricol
