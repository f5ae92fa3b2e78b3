// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <tbb/global_control.h>
#include <unistd.h>

#include "cli/report.h"
#include "core/files/export.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/formula/formula.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

int fail(const Problem& problem, ExitCode code) {
    fmt::print(stderr, "bricol: {}\n", problem.text());
    return code;
}

void print(const std::string& text) {
    std::fwrite(text.data(), 1, text.size(), stdout);
    std::fflush(stdout);
}

/// "girth=1.1", "girth=110 cm"
std::optional<Problem> apply_setting(Recipe& recipe, const std::string& setting) {
    const std::size_t equals = setting.find('=');
    if (equals == std::string::npos) return Problem{fmt::format("“{}” is not DIAL=VALUE.", setting), "", ""};
    const std::string name = setting.substr(0, equals);
    const Dial* dial = recipe.dial(name);
    if (!dial) {
        std::string known;
        for (const Dial& d : recipe.dials) known += (known.empty() ? "" : ", ") + d.name;
        return Problem{fmt::format("There is no dial “{}”.", name), "",
                       known.empty() ? "The recipe has no dials." : "Dials: " + known + "."};
    }
    const Quantity quantity = dial->unit == "m"     ? Quantity::length
                              : dial->unit == "deg" ? Quantity::angle
                                                    : Quantity::plain;
    const auto typed = read_typed(setting.substr(equals + 1), quantity, "m");
    if (!typed) return typed.problem();
    if (typed->formula)
        return Problem{fmt::format("A dial takes a number, not the formula “{}”.", typed->text), "", ""};
    if (typed->value < dial->low || typed->value > dial->high)
        return Problem{fmt::format("{} is outside the range of {}.", format_number(typed->value), name), "",
                       fmt::format("It goes from {} to {}.", format_number(dial->low), format_number(dial->high))};
    auto turned = turn_dial(recipe, name, typed->value);
    if (!turned) return turned.problem();
    recipe = std::move(*turned);
    return std::nullopt;
}

}  // namespace

int run_make(const MakeCommand& command, const CommonOptions& common) {
    std::optional<tbb::global_control> threads;
    if (common.threads > 0)
        threads.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(common.threads));
    ExportOptions options;
    if (!command.unit.empty()) options.scale = 1 / find_unit(command.unit)->factor;
    if (!command.up.empty()) options.up = command.up == "y" ? UpAxis::y : UpAxis::z;

    auto loaded = load_recipe(command.recipe);
    if (!loaded) return fail(loaded.problem(), exit_file);
    Recipe recipe = std::move(*loaded);
    for (const std::string& setting : command.settings)
        if (const auto problem = apply_setting(recipe, setting)) return fail(*problem, exit_wrong_use);
    for (const std::string& part : command.parts)
        if (!recipe.part(part))
            return fail({fmt::format("There is no part “{}”.", part), command.recipe, ""}, exit_wrong_use);

    Maker maker;
    MakeOptions making;
    making.environment =
        environment_in(std::filesystem::path(command.recipe).parent_path().string(), {command.frame, command.seed});
    making.for_export = !command.check_only;
    making.thorough = command.check_only;
    const bool terminal = !common.quiet && isatty(STDERR_FILENO);
    if (terminal)
        making.progress = [](double share, const std::string& step) {
            fmt::print(stderr, "\r{:3.0f} %  {:<24}", share * 100, step);
        };
    const Made made = maker.make(recipe, making);
    if (terminal) fmt::print(stderr, "\r{:40}\r", "");

    for (const std::string& output : command.outputs) {
        std::vector<NamedShape> shapes;
        for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
            const Part& part = *recipe.parts[p];
            const bool named = std::ranges::find(command.parts, part.name) != command.parts.end();
            if (command.parts.empty() ? !part.hidden : named) shapes.push_back({part.name, made.parts[p]->shape});
        }
        if (const auto problem = export_shapes(shapes, output, options)) return fail(*problem, exit_file);
    }
    if (common.json)
        print(pretty_json(report_json(recipe, made, command.parts)));
    else if (!common.quiet)
        print(report_text(recipe, made, command.parts));
    return made.has_errors() ? exit_recipe_errors : exit_good;
}

int run_dials(const std::string& path, const CommonOptions& common) {
    const auto recipe = load_recipe(path);
    if (!recipe) return fail(recipe.problem(), exit_file);
    print(common.json ? pretty_json(dials_json(*recipe)) : dials_text(*recipe));
    return exit_good;
}

int run_formulas(bool manual, const CommonOptions& common) {
    print(manual ? formulas_manual() : common.json ? pretty_json(formulas_json()) : formulas_text());
    return exit_good;
}

int run_steps(const std::string& step, bool manual, bool schema, const CommonOptions& common) {
    if (manual) {
        print(steps_manual());
        return exit_good;
    }
    if (schema) {
        print(pretty_json(recipe_schema()));
        return exit_good;
    }
    if (!step.empty()) {
        const StepInfo* info = find_step_info(step);
        if (!info) {
            const auto like = nearest_step(step);
            return fail({fmt::format("There is no step “{}”.", step), "",
                         like.empty() ? "" : fmt::format("Did you mean “{}”?", like)},
                        exit_wrong_use);
        }
        print(common.json ? pretty_json(step_info_json(*info)) : step_info_text(*info));
        return exit_good;
    }
    if (common.json) {
        Json list = Json::array();
        for (const StepInfo* info : all_steps()) list.push_back(step_info_json(*info));
        print(pretty_json({{"steps", list}}));
        return exit_good;
    }
    std::string text;
    for (const StepInfo* info : all_steps()) text += fmt::format("{:<14} {}\n", info->key, info->purpose);
    print(text);
    return exit_good;
}

}  // namespace bricol
