// SPDX-License-Identifier: GPL-3.0-or-later
// What the subcommands that make a recipe share: reading it, turning its dials, Ctrl+C, and what is said at the end.
#pragma once

#include <atomic>
#include <optional>
#include <tbb/global_control.h>

#include "cli/commands.h"
#include "core/make/make.h"

namespace bricol {

/// Says what is wrong on standard error; gives the code.
int fail(const Problem& problem, ExitCode code);
/// Gives `good`, or the code for a file when the text could not be written (a full disk, a closed pipe).
int print(const std::string& text, int good = exit_good);

/// Raised by the first Ctrl+C, which ends the work in order; a second one ends the program.
extern std::atomic<bool> interrupted;

/// The recipe with its dials turned, and named parts looked up; `code` is how the program ends when that fails.
Result<Recipe> load_turned(const MakeCommand& command, ExitCode& code);
/// How to make it; from here on Ctrl+C stops.
MakeOptions making_options(const MakeCommand& command);
/// Holds the number of threads down while it lives, when that is asked for.
std::optional<tbb::global_control> bounded_threads(const CommonOptions& common);

}  // namespace bricol
