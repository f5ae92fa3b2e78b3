// SPDX-License-Identifier: GPL-3.0-or-later
// bricol turntable: a row of finished pictures.
#include <chrono>
#include <filesystem>
#include <fmt/format.h>
#include <unistd.h>

#include "cli/report.h"
#include "cli/still_order.h"
#include "core/ground/stop.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

FrameTurn turn_named(const std::string& name) {
    return name == "camera" ? FrameTurn::camera : name == "none" ? FrameTurn::none : FrameTurn::shapes;
}

}  // namespace

int run_turntable(const MakeCommand& making, const TurntableCommand& table, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    const auto still = still_order(table.still, making);
    if (!still) return fail(still.problem(), exit_wrong_use);
    const std::string& out = making.outputs.front();
    if (!is_moving_picture(out) && std::filesystem::path(out).has_extension() && !std::filesystem::is_directory(out))
        return fail({"A row is written to a folder, or as WebP or GIF.", out,
                     "Name a folder, or give the file the ending .webp or .gif."},
                    exit_wrong_use);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    const MakeOptions options = making_options(making);
    const RowOrder order{*still, table.frames, table.first + making.frame, turn_named(table.turn)};
    FrameTaker taker(*recipe, options, order);
    FrameRow row;
    row.frames = table.frames, row.rate = table.rate, row.out = out;
    row.made_of = row_note(order, *recipe, options.environment.surroundings);
    row.curve = still->curve;
    row.take = [&](int frame) { return taker.take(frame); };
    const auto start = std::chrono::steady_clock::now();
    if (!common.quiet && isatty(STDERR_FILENO))
        row.progress = [&](int done, int kept) {
            const double taken = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
            const double left = done > kept ? taken / (done - kept) * (table.frames - done) : 0;
            fmt::print(stderr, "\r{} of {} frames, {:.0f} s left    ", done, table.frames, left);
        };
    const StopScope scope(&interrupted);
    Result<FrameRowDone> done = FrameRowDone{};
    try {
        done = take_frames(row);
    } catch (const Stopped&) {  // while the moving picture was put together
        done = FrameRowDone{0, 0, true};
    }
    if (row.progress) fmt::print(stderr, "\r{:50}\r", "");
    if (!done) return fail(done.problem(), exit_file);
    if (done->stopped)
        return fail({fmt::format("Stopped after {} frames.", done->made + done->kept), row.out,
                     "The same command goes on from there."},
                    exit_stopped);
    if (taker.with_errors()) fmt::print(stderr, "{}", errors_text(*recipe, *taker.with_errors(), making.parts));
    const int good = taker.with_errors() ? exit_recipe_errors : exit_good;
    if (common.json)
        return print(pretty_json(Json{
                         {"frames", table.frames}, {"made", done->made}, {"kept", done->kept}, {"written", row.out}}),
                     good);
    if (common.quiet) return good;
    return print(fmt::format("{} frames, {} of them were there already: {}\n", table.frames, done->kept, row.out),
                 good);
}

}  // namespace bricol
