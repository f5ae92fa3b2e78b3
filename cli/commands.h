// SPDX-License-Identifier: GPL-3.0-or-later
// The subcommands, apart from reading the command line.
#pragma once

#include <exception>
#include <string>
#include <vector>

namespace bricol {

/// Exit codes of the command.
enum ExitCode : int { exit_good = 0, exit_recipe_errors = 1, exit_wrong_use = 2, exit_file = 3, exit_stopped = 130 };

struct CommonOptions {
    bool json = false, quiet = false;
    int threads = 0;  ///< 0 for all
};

struct MakeCommand {
    std::string recipe;
    std::string preset;
    std::vector<std::string> parts, settings, outputs;
    double frame = 0, seed = 0;
    std::string unit, up;
    bool attributes = false;  ///< the artist's own values go along
    bool check_only = false;
    bool thorough = false;
    bool allow_outside = false;  ///< kits and drawings may lie outside the recipe's folder
};

int run_make(const MakeCommand& command, const CommonOptions& common);
struct ValuesCommand {
    std::string step;  ///< "part.step", a step's id where only one part has it, a part's name, or empty
    std::string on = "vertices", set;
    bool spread_only = false;
};

struct StillCommand {
    std::string size;      ///< empty for the camera's
    std::string camera;    ///< empty for the first
    std::string backdrop;  ///< empty for the recipe's
    int samples = 64;
    double seconds = 0;   ///< 0 for no limit
    double noise = 0;     ///< percent; 0 for no limit
    double exposure = 0;  ///< steps
    bool dark = false, plain = false, raw = false;
};

struct TurntableCommand {
    StillCommand still;
    int frames = 120;
    double first = 0;             ///< what formulas see as `frame` in the first one
    double rate = 25;             ///< pictures a second
    std::string turn = "shapes";  ///< "shapes", "camera" or "none"
};

int run_turntable(const MakeCommand& making, const TurntableCommand& table, const CommonOptions& common);
int run_still(const MakeCommand& making, const StillCommand& command, const CommonOptions& common);
int run_values(const MakeCommand& making, const ValuesCommand& command, const CommonOptions& common);
struct VariantsCommand {
    std::size_t count = 100;
    std::uint64_t seed = 0;
    bool even = false, pictures = false;
    std::string grid, table, shard, out, gather;
    std::string cluster;  ///< "slurm", or empty
    std::size_t shards = 0;
    bool wait = false;
    std::vector<std::string> dials, kinds, cluster_options;
    std::vector<std::string> typed;  ///< the command as it was typed, program first
    StillCommand still;
};
int run_variants(const MakeCommand& making, const VariantsCommand& command, const CommonOptions& common);

struct TrialCommand {
    std::size_t samples = 200;
    std::uint64_t seed = 0;
    bool cautions = false, thorough = false;
    std::string pictures;  ///< folder for pictures of what broke; none when empty
};
int run_trial(const MakeCommand& making, const TrialCommand& command, const CommonOptions& common);

struct HandoverCommand {
    std::string out, pivot, levels, collision, collision_name, frames;
    std::vector<std::string> kinds;
    std::size_t most_pieces = 16;
    double rate = 25;
    bool apart = false, light_uvs = false, no_values = false, joined_copies = false, cages = false, presets = false,
         page = false;
};
int run_handover(const MakeCommand& making, const HandoverCommand& command, const CommonOptions& common);

int run_dials(const std::string& recipe, const CommonOptions& common);
/// What the stock holds: names, words, dials.
int run_stock(const CommonOptions& common);
int run_formulas(bool manual, const CommonOptions& common);
int run_steps(const std::string& step, bool manual, bool schema, const CommonOptions& common);

/// Says what ended a command that could not end by itself, such as want of memory; gives its exit code.
int say_broken(const std::exception& error);

}  // namespace bricol
