// SPDX-License-Identifier: GPL-3.0-or-later
// bricol variants: a recipe made under many dial settings, each to files of its own.
#include <charconv>
#include <filesystem>
#include <fmt/format.h>
#include <thread>
#include <unistd.h>

#include "cli/cluster.h"
#include "cli/running.h"
#include "cli/still_order.h"
#include "core/files/csv.h"
#include "core/files/format.h"
#include "core/files/variant_folder.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

/// "3/8": the third of eight.
std::optional<Problem> read_shard(const std::string& text, VariantOrder& order) {
    const std::size_t slash = text.find('/');
    std::size_t number = 0, of = 0;
    const auto read = [&](std::size_t from, std::size_t to, std::size_t& out) {
        const auto end = text.data() + to;
        const auto [stopped, error] = std::from_chars(text.data() + from, end, out);
        return error == std::errc() && stopped == end;
    };
    if (slash != std::string::npos && read(0, slash, number) && read(slash + 1, text.size(), of) && number >= 1 &&
        number <= of) {
        order.shard = number - 1, order.shards = of;
        return std::nullopt;
    }
    return Problem{fmt::format("“{}” is not a shard.", text), "", "Write it as 3/8: the third of eight."};
}

Result<VariantPlan> plan_of(const VariantsCommand& command, const Recipe& recipe) {
    if (!command.grid.empty()) return grid_plan(recipe, command.grid);
    if (!command.table.empty()) {
        const auto text = read_file(command.table);
        if (!text) return text.problem();
        const auto rows = read_csv(*text);
        auto plan = rows ? table_plan(recipe, *rows) : Result<VariantPlan>(rows.problem());
        if (plan) return plan;
        Problem problem = plan.problem();
        problem.where = command.table + (problem.where.empty() ? "" : ", " + problem.where);
        return problem;
    }
    const auto dials = command.dials.empty() ? Result<std::vector<std::string>>(usual_dials(recipe))
                                             : named_dials(recipe, command.dials);
    if (!dials) return dials.problem();
    if (dials->empty())
        return Problem{"The recipe has no dials that could vary.", "", "Make some of its settings dials."};
    return command.even ? even_plan(recipe, *dials, command.count, command.seed)
                        : random_plan(recipe, *dials, command.count, command.seed);
}

int report(const VariantsReport& done, const VariantsCommand& command, const CommonOptions& common, std::size_t count) {
    const int code = done.problem      ? exit_file
                     : done.stopped    ? exit_stopped
                     : done.broken > 0 ? exit_recipe_errors
                                       : exit_good;
    if (common.json) {
        Json json{{"count", count},          {"made", done.made},       {"kept", done.kept},    {"broken", done.broken},
                  {"missing", done.missing}, {"stopped", done.stopped}, {"folder", command.out}};
        if (done.problem) json["problem"] = done.problem->text();
        return print(pretty_json(json), code);
    }
    if (done.problem) return fail(*done.problem, exit_file);
    if (common.quiet) return code;
    return print(fmt::format("{} made, {} kept, {} broken, {} missing of {}{}\n", done.made, done.kept, done.broken,
                             done.missing, count, done.stopped ? ", stopped" : ""),
                 code);
}

int gather(const VariantsCommand& command, const CommonOptions& common) {
    const auto gathered = gather_variants(command.gather);
    if (!gathered) return fail(gathered.problem(), exit_file);
    const int code = gathered->broken > 0 || !gathered->missing.empty() ? exit_recipe_errors : exit_good;
    if (common.json)
        return print(pretty_json({{"count", gathered->count},
                                  {"broken", gathered->broken},
                                  {"missing", gathered->missing},
                                  {"folder", command.gather}}),
                     code);
    if (common.quiet) return code;
    std::string text = fmt::format("{} variants, {} broken, {} missing\n", gathered->count, gathered->broken,
                                   gathered->missing.size());
    for (std::size_t i = 0; i < std::min<std::size_t>(gathered->missing.size(), 20); ++i)
        text += fmt::format("  missing: {}\n", gathered->missing[i]);
    if (gathered->missing.size() > 20) text += fmt::format("  and {} more\n", gathered->missing.size() - 20);
    return print(text, code);
}

/// The command that was typed, for one share: whole paths, without what is for the cluster alone.
std::vector<std::string> share_command(const MakeCommand& making, const VariantsCommand& command) {
    const auto whole = [](const std::string& path) { return std::filesystem::absolute(path).string(); };
    std::error_code error;
    const std::string self = std::filesystem::read_symlink("/proc/self/exe", error).string();
    std::vector<std::string> out{error ? command.typed[0] : self};
    for (std::size_t i = 1; i < command.typed.size(); ++i) {
        const std::string& word = command.typed[i];
        const std::string name = word.substr(0, word.find('='));
        if (name == "--wait" || name == "--json" || name == "--quiet") continue;
        if (name == "--cluster" || name == "--shards" || name == "--cluster-option") {
            if (name == word) ++i;  // its value is the next word
            continue;
        }
        if ((name == "--out" || name == "--table") && name != word)
            out.push_back(name + "=" + whole(word.substr(name.size() + 1)));
        else if (word == making.recipe || command.typed[i - 1] == "--out" || command.typed[i - 1] == "--table")
            out.push_back(whole(word));
        else
            out.push_back(word);
    }
    out.emplace_back("--quiet");
    return out;
}

/// Follows the shares until the last has ended; whether it was not told to stop.
std::optional<Problem> follow(const std::string& job, std::size_t shards, bool terminal) {
    for (std::size_t silent = 0;;) {
        const auto left = shards_left(job);
        // A scheduler that is busy misses a question now and then.
        if (!left && ++silent > 30) return left.problem();
        if (left) silent = 0;
        if (left && terminal) fmt::print(stderr, "\r{} of {} shares done   ", shards - std::min(shards, *left), shards);
        if (left && *left == 0) return std::nullopt;
        for (int tenth = 0; tenth < 10; ++tenth) {
            if (interrupted)
                return Problem{"Not waited any longer: the shares go on.", "job " + job,
                               "End them with scancel, or join them later with --gather."};
            std::this_thread::sleep_for(std::chrono::milliseconds(100));
        }
    }
}

int on_cluster(const MakeCommand& making, const VariantsCommand& command, const CommonOptions& common) {
    if (command.shards == 0 || !command.shard.empty())
        return fail({"A cluster wants --shards, and no --shard.", "", "Say in how many shares: --shards 200."},
                    exit_wrong_use);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    const auto plan = plan_of(command, *recipe);  // what is wrong with it is said here, not in two hundred logs
    if (!plan) return fail(plan.problem(), command.table.empty() ? exit_wrong_use : exit_file);
    const ClusterOrder order{share_command(making, command), std::filesystem::absolute(command.out).string(),
                             command.shards, command.cluster_options};
    const auto job = submit_shards(order);
    if (!job) return fail(job.problem(), exit_file);
    if (!command.wait) {
        if (common.json)
            return print(pretty_json({{"job", *job}, {"shards", command.shards}, {"folder", command.out}}));
        return print(fmt::format("Job {}: {} shares of {} variants. Join them with: bricol variants --gather {}\n",
                                 *job, command.shards, plan->count, shell_word(command.out)));
    }
    static_cast<void>(making_options(making));  // from here on Ctrl+C ends the waiting
    const bool terminal = !common.quiet && isatty(STDERR_FILENO);
    const auto problem = follow(*job, command.shards, terminal);
    if (terminal) fmt::print(stderr, "\r{:40}\r", "");
    if (problem) return fail(*problem, interrupted ? exit_stopped : exit_file);
    VariantsCommand joining = command;
    joining.gather = command.out;
    return gather(joining, common);
}

}  // namespace

int run_variants(const MakeCommand& making, const VariantsCommand& command, const CommonOptions& common) {
    if (!command.gather.empty()) return gather(command, common);
    if (making.recipe.empty() || command.out.empty())
        return fail({"A recipe and --out are wanted, or --gather and a folder.", "", ""}, exit_wrong_use);
    if (!command.cluster.empty()) return on_cluster(making, command, common);
    if (command.shards > 0 || command.wait || !command.cluster_options.empty())
        return fail({"--shards, --wait and --cluster-option are for a cluster.", "",
                     "Add --cluster slurm, or make one share with --shard 1/8."},
                    exit_wrong_use);
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    const auto plan = plan_of(command, *recipe);
    if (!plan) return fail(plan.problem(), command.table.empty() ? exit_wrong_use : exit_file);
    VariantOrder order{*recipe, making_options(making), *plan, command.out};
    if (!command.kinds.empty()) order.suffixes = command.kinds;
    for (std::string& suffix : order.suffixes) {
        if (suffix.starts_with('.')) suffix.erase(0, 1);
        if (!find_format("x." + suffix))
            return fail({fmt::format("Bricol writes {} files.", suffix_words()), suffix, ""}, exit_wrong_use);
    }
    order.parts = making.parts;
    if (!command.shard.empty())
        if (auto problem = read_shard(command.shard, order)) return fail(*problem, exit_wrong_use);
    const auto picture = still_order(command.still, making);
    if (!picture) return fail(picture.problem(), exit_wrong_use);
    if (command.pictures) {
        order.picture = [&](const Recipe& turned, const Made& made, const std::string& path) {
            return take_picture(*picture, turned, made, path);
        };
        order.picture_kind = row_note({*picture}, *recipe, {});
    }
    if (!common.quiet && isatty(STDERR_FILENO))
        order.progress = [](std::size_t done, std::size_t of) { fmt::print(stderr, "\r{} of {}   ", done, of); };
    const VariantsReport done = write_variants(order);
    if (order.progress) fmt::print(stderr, "\r{:40}\r", "");
    // A shard alone leaves the index to who gathers them.
    if (!done.problem && order.shards == 1)
        if (const auto gathered = gather_variants(command.out); !gathered) return fail(gathered.problem(), exit_file);
    return report(done, command, common, plan->count);
}

}  // namespace bricol
