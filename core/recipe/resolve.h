// SPDX-License-Identifier: GPL-3.0-or-later
// Works out the numbers of a recipe: formulas, dials, links between numbers.
#pragma once

#include <functional>
#include <unordered_map>

#include "core/catalogue/finding.h"
#include "core/catalogue/step_info.h"
#include "core/formula/formula.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// What formulas see besides the recipe.
struct Surroundings {
    double frame = 0, seed = 0;
    std::map<std::string, double> names{};  ///< of whoever makes this recipe many times
    friend bool operator==(const Surroundings&, const Surroundings&) = default;
};

/// Works out numbers of one recipe. Remembers every number it has followed and every failure, so
/// a chain of links costs once.
class Resolver {
public:
    /// What a step's shape came out as: `path` is what stands behind `made.`
    using AskMade = std::function<Result<double>(const Part& part, const Step& step, std::string_view path)>;

    explicit Resolver(const Recipe& recipe, Surroundings surroundings = {}, AskMade made = {});

    /// Value of a name as seen from a part: a dial, `step.number`, `part.step.number`, `frame`, `seed`.
    Result<double> name(const std::string& part, const std::string& name);
    /// A number or formula as written in a step of a part. For one of three numbers (`axis` 0 to 2) a name that stands
    /// for three gives the one of its own.
    Result<double> number(const std::string& part, const Json& written, int axis = -1);
    /// What "= name" stands for where that is a choice's or a colour's dial: its word, or its colour.
    std::optional<Value> named(const Json& written) const;
    /// Every parameter of a step; problems become error findings and the parameter keeps its default.
    Values parameters(const Part& part, const Step& step, const StepInfo& info, std::vector<Finding>& findings);

    /// Names in an attribute formula that stand for one number here: dials, other steps' numbers, frame, seed.
    std::map<std::string, double> constants(const std::string& part, const std::string& text);

    /// Where a name with dots leads, as seen from a part: to a step's number, or to what was made (`is_made`); a part's
    /// own name leads to its result.
    struct Meant {
        const Part* part;
        const Step* step;
        std::string path;
        bool is_made() const;
    };
    std::optional<Meant> meant(const std::string& part, const std::string& name);

private:
    std::optional<Result<double>> given_number(const Part& part, const Step& step, const StepInfo& info,
                                               const std::string& key, const std::string& name);
    Result<double> setting(const Part& part, const Step& step, const std::string& path, const std::string& name);

    const Step* step_of(const std::string& part, const std::string& id);
    void work_out_behind(const std::string& part, const std::string& name);
    Result<double> follow(const std::string& part, const std::string& name);

    const Recipe& recipe_;
    Surroundings surroundings_;
    AskMade made_;
    std::unordered_map<std::string, Result<double>> known_;
    std::unordered_map<std::string, std::unordered_map<std::string, const Step*>> steps_;  // part → id → step
    std::vector<std::string> path_;  // names being followed, to spell out a circle
};

}  // namespace bricol
