// SPDX-License-Identifier: GPL-3.0-or-later
// bricol handover: a folder that an engine or a renderer takes.
#include <fmt/format.h>
#include <unistd.h>

#include "cli/report.h"
#include "cli/running.h"
#include "core/files/handover_words.h"
#include "core/ground/words.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

std::optional<Problem> read_order(const MakeCommand& making, const HandoverCommand& command, HandoverOrder& order) {
    order.parts = making.parts;
    if (auto problem = read_kinds(command.kinds, order)) return problem;
    order.apart = command.apart;
    order.presets = command.presets;
    order.page = command.page;
    Dressing& dressing = order.dressing;
    dressing.light_uvs = command.light_uvs;
    dressing.most_pieces = command.most_pieces;
    if (command.collision == "hull") dressing.collision = CollisionKind::hull;
    if (command.collision == "boxes") dressing.collision = CollisionKind::boxes;
    if (command.collision == "pieces") dressing.collision = CollisionKind::pieces;
    if (!command.collision_name.empty()) dressing.collision_name = command.collision_name;
    if (auto problem = collision_name_problem(dressing.collision_name)) return problem;
    if (!making.unit.empty()) order.options.scale = 1 / find_unit(making.unit)->factor;
    if (!making.up.empty()) order.options.up = making.up == "y" ? UpAxis::y : UpAxis::z;
    order.options.attributes = !command.no_values;
    order.options.joined_copies = command.joined_copies;
    order.options.cages = command.cages;
    if (auto problem = read_pivot(command.pivot, dressing)) return problem;
    const auto levels = typed_levels(command.levels);
    if (!levels) return levels.problem();
    dressing.levels = *levels;
    const auto frames = typed_frames(command.frames, command.rate);
    if (!frames) return frames.problem();
    order.frames = *frames;
    return std::nullopt;
}

int report(const HandoverReport& done, const HandoverCommand& command, const CommonOptions& common) {
    const int code = done.stopped   ? exit_stopped
                     : done.broken  ? exit_recipe_errors
                     : done.problem ? exit_file
                                    : exit_good;
    if (common.json) {
        Json json{{"folder", command.out}, {"stopped", done.stopped}, {"notes", done.notes}, {"files", Json::array()}};
        for (const HandedFile& file : done.files)
            json["files"].push_back({{"name", file.name}, {"bytes", file.bytes}, {"hash", file.hash}});
        if (done.problem) json["problem"] = done.problem->text();
        return print(pretty_json(json), code);
    }
    if (done.stopped) return fail({"Stopped.", "", ""}, exit_stopped);
    if (done.problem) return fail(*done.problem, static_cast<ExitCode>(code));
    std::string text;
    if (!common.quiet)
        for (const HandedFile& file : done.files)
            text += fmt::format("{:<28} {:>12}\n", file.name,
                                fmt::format("{:.1f} kB", static_cast<double>(file.bytes) / 1000));
    for (const std::string& note : done.notes) text += "note: " + note + "\n";
    return print(text, code);
}

}  // namespace

int run_handover(const MakeCommand& making, const HandoverCommand& command, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    HandoverOrder order{*recipe, making_options(making), command.out};
    if (auto problem = read_order(making, command, order)) return fail(*problem, exit_wrong_use);
    const bool terminal = !common.quiet && isatty(STDERR_FILENO);
    if (terminal) order.progress = [](const std::string& what) { fmt::print(stderr, "\r{:<60}", shortened(what, 56)); };
    const HandoverReport done = hand_over(order);
    if (terminal) fmt::print(stderr, "\r{:60}\r", "");
    return report(done, command, common);
}

}  // namespace bricol
