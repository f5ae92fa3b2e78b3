// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include <fmt/format.h>
#include <unistd.h>

#include "cli/report.h"
#include "cli/running.h"
#include "core/ground/words.h"
#include "core/files/delivered.h"
#include "core/files/export.h"
#include "core/files/recipe_file.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

/// Writes the shown parts, or the named ones, to a file.
std::optional<Problem> write_parts(const Recipe& recipe, const Made& made, const MakeCommand& command,
                                   const std::string& output, const ExportOptions& options) {
    const ShapeNames names = shape_names(recipe, made);
    ExportOptions named = options;
    named.copied = &names;
    const StopScope scope(&interrupted);
    try {
        return export_shapes(shapes_to_write(recipe, made, command.parts), output, named);
    } catch (const Stopped&) {
        return Problem{"Stopped. Nothing was written.", output, ""};
    }
}

}  // namespace

int run_make(const MakeCommand& command, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    ExportOptions options;
    if (!command.unit.empty()) options.scale = 1 / find_unit(command.unit)->factor;
    if (!command.up.empty()) options.up = command.up == "y" ? UpAxis::y : UpAxis::z;
    options.attributes = command.attributes;
    ExitCode code_of_problem{};
    const auto loaded = load_turned(command, code_of_problem);
    if (!loaded) return fail(loaded.problem(), code_of_problem);
    const Recipe& recipe = *loaded;

    Maker maker;
    MakeOptions making = making_options(command);
    const bool terminal = !common.quiet && isatty(STDERR_FILENO);
    if (terminal)
        making.progress = [](const MakeProgress& at) {
            const std::string of_step = at.of_step >= 0 ? fmt::format(" {:.0f} %", at.of_step * 100) : "";
            fmt::print(stderr, "\r{:3.0f} %  {:<36}", at.share * 100, shortened(at.what, 28) + of_step);
        };
    const Made made = maker.make(recipe, making);
    if (terminal) fmt::print(stderr, "\r{:40}\r", "");
    if (made.stopped) return fail({"Stopped. Nothing was written.", "", ""}, exit_stopped);

    std::optional<Problem> unwritten;
    std::vector<std::string> written;
    for (const std::string& output : command.outputs) {
        unwritten = write_parts(recipe, made, command, output, options);
        if (unwritten) break;
        written.push_back(output);
    }
    const int code = interrupted                              ? exit_stopped
                     : made.has_errors(recipe, command.parts) ? exit_recipe_errors
                     : unwritten                              ? exit_file
                                                              : exit_good;
    if (unwritten) fail(*unwritten, exit_file);
    if (common.json) {
        Json report = report_json(recipe, made, command.parts);
        report["written"] = written;
        if (unwritten) report["problem"] = unwritten->text();
        return print(pretty_json(report), code);
    }
    if (common.quiet) {  // no report, but never in silence past what is wrong
        fmt::print(stderr, "{}", errors_text(recipe, made, command.parts));
        return code;
    }
    return print(report_text(recipe, made, command.parts), code);
}

int run_dials(const std::string& path, const CommonOptions& common) {
    const auto recipe = load_recipe(path);
    if (!recipe) return fail(recipe.problem(), exit_file);
    return print(common.json ? pretty_json(dials_json(*recipe)) : dials_text(*recipe));
}

int run_formulas(bool manual, const CommonOptions& common) {
    return print(manual ? formulas_manual() : common.json ? pretty_json(formulas_json()) : formulas_text());
}

int run_steps(const std::string& step, bool manual, bool schema, const CommonOptions& common) {
    if (manual) {
        return print(steps_manual());
    }
    if (schema) {
        return print(pretty_json(recipe_schema()));
    }
    if (!step.empty()) {
        const StepInfo* info = find_step_info(step);
        if (!info) {
            const auto like = nearest_step(step);
            return fail({fmt::format("There is no step “{}”.", step), "",
                         like.empty() ? "" : fmt::format("Did you mean “{}”?", like)},
                        exit_wrong_use);
        }
        return print(common.json ? pretty_json(step_info_json(*info)) : step_info_text(*info));
    }
    if (common.json) {
        Json list = Json::array();
        for (const StepInfo* info : all_steps()) list.push_back(step_info_json(*info));
        return print(pretty_json({{"steps", list}}));
    }
    std::string text;
    for (const StepInfo* info : all_steps()) text += fmt::format("{:<14} {}\n", info->key, info->purpose);
    return print(text);
}

}  // namespace bricol
