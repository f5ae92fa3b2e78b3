// SPDX-License-Identifier: GPL-3.0-or-later
// bricol still: one finished picture.
#include <charconv>
#include <fmt/format.h>
#include <unistd.h>

#include "cli/report.h"
#include "cli/running.h"
#include "core/recipe/recipe_json.h"
#include "core/ground/stop.h"
#include "core/still/picture_file.h"

namespace bricol {

namespace {

constexpr int least_side = 8, most_side = 16384;
constexpr double most_pixels = 120e6;  // with what is known of each some 12 GB
const DVec3 light_sheet(0.72, 0.71, 0.68), dark_sheet(0.055, 0.06, 0.068);

/// "1600x1000" as two numbers.
std::optional<Problem> read_size(const std::string& text, StillOptions& options) {
    const std::size_t cross = text.find('x');
    const auto number = [&](std::size_t from, std::size_t to, int& out) {
        const auto end = text.data() + to;
        const auto [stopped, error] = std::from_chars(text.data() + from, end, out);
        return error == std::errc() && stopped == end && out >= least_side && out <= most_side;
    };
    if (cross != std::string::npos && number(0, cross, options.width) &&
        number(cross + 1, text.size(), options.height)) {
        if (static_cast<double>(options.width) * options.height <= most_pixels) return std::nullopt;
        return Problem{fmt::format("A picture of {} has more than {:.0f} million pixels.", text, most_pixels / 1e6), "",
                       "Take a smaller one."};
    }
    return Problem{fmt::format("“{}” is not a size.", text), "",
                   fmt::format("Write it as 1600x1000, each side from {} to {}.", least_side, most_side)};
}

/// Parts that stand in the result, or the named ones.
std::vector<ShapePtr> shapes_for(const Recipe& recipe, const Made& made, const MakeCommand& making) {
    std::vector<ShapePtr> shapes;
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        const bool named = std::ranges::find(making.parts, part.name) != making.parts.end();
        if ((making.parts.empty() ? part.delivered() : named) && made.parts[p] &&
            made.parts[p]->shape->face_count() > 0)
            shapes.push_back(made.parts[p]->shape);
    }
    return shapes;
}

StillScene scene_for(std::vector<ShapePtr> shapes, const StillCommand& command, double aspect) {
    StillScene scene = framed_scene(std::move(shapes), aspect);
    scene.camera.exposure = command.exposure;
    const DVec3 sheet = command.dark ? dark_sheet : light_sheet;
    if (command.backdrop == "bent") scene.shapes.push_back(bent_backdrop(scene.shapes, scene.camera, sheet));
    scene.ground.high = sheet * 0.8, scene.ground.low = sheet;
    return scene;
}

}  // namespace

int run_still(const MakeCommand& making, const StillCommand& command, const CommonOptions& common) {
    const std::optional<tbb::global_control> threads = bounded_threads(common);
    StillOptions options;
    if (const auto problem = read_size(command.size, options)) return fail(*problem, exit_wrong_use);
    options.samples = command.samples, options.seconds = command.seconds, options.wanted_noise = command.noise / 100;
    for (const std::string& output : making.outputs)
        if (!output.ends_with(".png") && !output.ends_with(".exr"))
            return fail({"Pictures are written as PNG or EXR.", output, "Give the file the ending .png or .exr."},
                        exit_wrong_use);
    ExitCode code{};
    const auto recipe = load_turned(making, code);
    if (!recipe) return fail(recipe.problem(), code);
    Maker maker;
    const Made made = maker.make(*recipe, making_options(making));
    if (made.stopped) return fail({"Stopped. Nothing was written.", "", ""}, exit_stopped);
    std::vector<ShapePtr> shapes = shapes_for(*recipe, made, making);
    if (shapes.empty())
        return fail({"There is nothing to see: no part has faces.", making.recipe, ""}, exit_recipe_errors);
    const StillScene scene = scene_for(std::move(shapes), command, static_cast<double>(options.width) / options.height);
    if (!common.quiet && isatty(STDERR_FILENO))
        options.progress = [](double share, double noise) {
            fmt::print(stderr, "\r{:3.0f} %  noise {:.1f} %   ", share * 100, noise * 100);
        };
    const StopScope scope(&interrupted);
    StillPicture picture = still_of(scene, options);
    if (options.progress) fmt::print(stderr, "\r{:40}\r", "");
    if (picture.samples == 0) return fail({"Stopped. Nothing was written.", "", ""}, exit_stopped);
    if (!command.raw && !picture.stopped) filter_noise(picture);
    for (const std::string& output : making.outputs)
        if (const auto problem = write_picture(picture, output, command.plain ? StillCurve::plain : StillCurve::filmic))
            return fail(*problem, exit_file);
    const bool errors = made.has_errors(*recipe, making.parts);
    const int good = picture.stopped ? exit_stopped : errors ? exit_recipe_errors : exit_good;
    if (errors) fmt::print(stderr, "{}", errors_text(*recipe, made, making.parts));
    if (common.json)
        return print(pretty_json(Json{{"width", picture.width},
                                      {"height", picture.height},
                                      {"samples", picture.samples},
                                      {"noise", picture.noise},
                                      {"rays", picture.rays},
                                      {"stopped", picture.stopped},
                                      {"written", making.outputs}}),
                     good);
    if (common.quiet) return good;
    return print(fmt::format("{} × {} pixels, {} samples each, noise {:.1f} % before the filter\n", picture.width,
                             picture.height, picture.samples, picture.noise * 100),
                 good);
}

}  // namespace bricol
