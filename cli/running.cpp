// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/running.h"

#include <csignal>
#include <new>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>

#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/recipe/edit.h"

namespace bricol {

std::atomic<bool> interrupted = false;

namespace {

/// The first Ctrl+C ends the work in order; a second one ends the program.
void listen_for_interrupts() {
    struct sigaction action {};
    action.sa_handler = [](int) { interrupted = true; };
    action.sa_flags = static_cast<int>(SA_RESETHAND);
    ::sigaction(SIGINT, &action, nullptr);
    ::sigaction(SIGTERM, &action, nullptr);
}

/// "girth=1.1", "girth=110 cm", "style=fluted", "lid=yes", "paint=#7a4b20"
std::optional<Problem> apply_setting(Recipe& recipe, const std::string& setting) {
    const std::size_t equals = setting.find('=');
    if (equals == std::string::npos) return Problem{fmt::format("“{}” is not DIAL=VALUE.", setting), "", ""};
    const std::string name = setting.substr(0, equals);
    const Dial* dial = recipe.dial(name);
    Result<Json> typed = Json(nullptr);
    if (dial) typed = typed_dial(*dial, setting.substr(equals + 1));
    if (!typed) return typed.problem();
    auto turned_to = with_dials(recipe, {{name, *typed}});
    if (!turned_to) return turned_to.problem();
    recipe = std::move(*turned_to);
    return std::nullopt;
}

}  // namespace

int fail(const Problem& problem, ExitCode code) {
    fmt::print(stderr, "bricol: {}\n", problem.text());
    return code;
}

int print(const std::string& text, int good) {
    const bool written = std::fwrite(text.data(), 1, text.size(), stdout) == text.size() && std::fflush(stdout) == 0;
    return written ? good : fail({"The report could not be written to the standard output.", "", ""}, exit_file);
}

Result<Recipe> load_turned(const MakeCommand& command, ExitCode& code) {
    code = exit_file;
    auto loaded = load_recipe(command.recipe);
    if (!loaded) return loaded;
    Recipe recipe = std::move(*loaded);
    code = exit_wrong_use;
    if (!command.preset.empty()) {
        auto there = apply_preset(recipe, command.preset);
        if (!there) return there;
        recipe = std::move(*there);
    }
    for (const std::string& setting : command.settings)
        if (const auto problem = apply_setting(recipe, setting)) return *problem;
    for (const std::string& part : command.parts)
        if (!recipe.part(part)) return Problem{fmt::format("There is no part “{}”.", part), command.recipe, ""};
    return recipe;
}

MakeOptions making_options(const MakeCommand& command) {
    MakeOptions making;
    const std::string beside = std::filesystem::path(command.recipe).parent_path().string();
    const std::string folder = beside.empty() ? "." : beside;
    making.environment = environment_in(folder, {command.frame, command.seed},
                                        std::make_shared<FileFence>(folder, command.allow_outside));
    making.for_export = !command.check_only;
    making.thorough = command.check_only || command.thorough;
    listen_for_interrupts();
    making.stop = &interrupted;
    return making;
}

std::optional<tbb::global_control> bounded_threads(const CommonOptions& common) {
    std::optional<tbb::global_control> threads;
    if (common.threads > 0)
        threads.emplace(tbb::global_control::max_allowed_parallelism, static_cast<std::size_t>(common.threads));
    return threads;
}

int say_broken(const std::exception& error) {
    // Where memory is bounded, want of it also shows as threads that cannot be begun.
    const std::string what = error.what();
    if (!dynamic_cast<const std::bad_alloc*>(&error) && what.find("pthread_create") == std::string::npos)
        return fail({"The command could not go on: " + what + ".", "", "Nothing was written by it from there on."},
                    exit_file);
    return fail({"There is not enough memory for this.", "",
                 "Close other programs, or ask for less: fewer parts, smaller counts, smaller pictures."},
                exit_file);
}

}  // namespace bricol
