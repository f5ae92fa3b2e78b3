// SPDX-License-Identifier: GPL-3.0-or-later
// bricol still: one finished picture.
#include <charconv>
#include <fmt/format.h>
#include <map>
#include <unistd.h>

#include "cli/report.h"
#include "cli/running.h"
#include "cli/still_order.h"
#include "core/recipe/recipe_json.h"
#include "core/ground/stop.h"
#include "core/still/picture_file.h"

namespace bricol {

namespace {

/// "1600x1000" as two numbers.
std::optional<Problem> read_size(const std::string& text, StillOrder& order) {
    const std::size_t cross = text.find('x');
    const auto number = [&](std::size_t from, std::size_t to, int& out) {
        const auto end = text.data() + to;
        const auto [stopped, error] = std::from_chars(text.data() + from, end, out);
        return error == std::errc() && stopped == end && out >= least_picture_side && out <= most_picture_side;
    };
    if (cross != std::string::npos && number(0, cross, order.width) && number(cross + 1, text.size(), order.height))
        return std::nullopt;
    return Problem{
        fmt::format("“{}” is not a size.", text), "",
        fmt::format("Write it as 1600x1000, each side from {} to {}.", least_picture_side, most_picture_side)};
}

}  // namespace

Result<StillOrder> still_order(const StillCommand& command, const MakeCommand& making) {
    StillOrder order;
    if (!command.size.empty())
        if (auto problem = read_size(command.size, order)) return *problem;
    using Kind = StageBackdrop::Kind;
    const std::map<std::string, Kind> kinds{
        {"bent", Kind::bent}, {"plain", Kind::plain}, {"gradient", Kind::gradient}, {"nothing", Kind::nothing}};
    if (const auto kind = kinds.find(command.backdrop); kind != kinds.end()) order.backdrop = kind->second;
    order.parts = making.parts, order.camera = command.camera;
    order.samples = command.samples, order.seconds = command.seconds, order.wanted_noise = command.noise / 100;
    order.exposure = command.exposure, order.dark = command.dark, order.raw = command.raw;
    order.curve = command.plain ? StillCurve::plain : StillCurve::filmic;
    return order;
}

std::optional<Problem> take_picture(const StillOrder& order, const Recipe& recipe, const Made& made,
                                    const std::string& path) {
    auto still = ordered_still(order, recipe, made);
    if (!still) return still.problem();
    StillPicture picture = still_of(still->scene, still->options);
    filter_noise(picture);
    return write_picture(picture, path, order.curve);
}

int run_still(const MakeCommand& making, const StillCommand& command, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    for (const std::string& output : making.outputs)
        if (!output.ends_with(".png") && !output.ends_with(".exr"))
            return fail({"Pictures are written as PNG or EXR.", output, "Give the file the ending .png or .exr."},
                        exit_wrong_use);
    const auto order = still_order(command, making);
    if (!order) return fail(order.problem(), exit_wrong_use);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    Maker maker;
    const Made made = maker.make(*recipe, making_options(making));
    if (made.stopped) return fail({"Stopped. Nothing was written.", "", ""}, exit_stopped);
    const bool errors = made.has_errors(*recipe, making.parts);
    if (errors) fmt::print(stderr, "{}", errors_text(*recipe, made, making.parts));
    auto still = ordered_still(*order, *recipe, made);
    if (!still) return fail(still.problem(), errors ? exit_recipe_errors : exit_wrong_use);
    StillOptions& options = still->options;
    if (!common.quiet && isatty(STDERR_FILENO)) {
        fmt::print(stderr, "{} × {} pixels, about {:.0f} MB of memory\n", options.width, options.height,
                   still->memory / 1e6);
        options.progress = [](double share, double noise) {
            fmt::print(stderr, "\r{:3.0f} %  noise {:.1f} %   ", share * 100, noise * 100);
        };
    }
    const StopScope scope(&interrupted);
    StillPicture picture = still_of(still->scene, options);
    if (options.progress) fmt::print(stderr, "\r{:40}\r", "");
    if (picture.samples == 0) return fail({"Stopped. Nothing was written.", "", ""}, exit_stopped);
    if (!command.raw && !picture.stopped) filter_noise(picture);
    for (const std::string& output : making.outputs)
        if (const auto problem = write_picture(picture, output, order->curve)) return fail(*problem, exit_file);
    const int good = picture.stopped ? exit_stopped : errors ? exit_recipe_errors : exit_good;
    if (common.json) {
        Json report = report_json(*recipe, made, making.parts);
        report["still"] = {{"width", picture.width},  {"height", picture.height}, {"samples", picture.samples},
                           {"noise", picture.noise},  {"rays", picture.rays},     {"stopped", picture.stopped},
                           {"memory", still->memory}, {"written", making.outputs}};
        return print(pretty_json(report), good);
    }
    if (common.quiet) return good;
    std::string notes;
    for (const Finding& finding : made.findings)
        if (finding.severity != Severity::error)
            notes += fmt::format("{}: {}\n", severity_name(finding.severity), finding.text);
    return print(notes + fmt::format("{} × {} pixels, {} samples each, noise {:.1f} % before the filter\n",
                                     picture.width, picture.height, picture.samples, picture.noise * 100),
                 good);
}

}  // namespace bricol
