// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/order.h"

#include <fmt/format.h>
#include <unistd.h>

#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

/// Why there is no room for a picture of that size; nothing when there is.
std::optional<Problem> no_room(double bytes) {
    const auto have = static_cast<double>(sysconf(_SC_PHYS_PAGES)) * static_cast<double>(sysconf(_SC_PAGESIZE));
    if (bytes < 0.9 * have) return std::nullopt;
    return Problem{
        fmt::format("This picture would need {:.1f} GB of memory; this machine has {:.1f}.", bytes / 1e9, have / 1e9),
        "", "Take a smaller one."};
}

std::string camera_names(const Stage& stage) {
    std::string names;
    for (const auto& camera : stage.cameras) names += (names.empty() ? "It has “" : ", “") + camera.step + "”";
    return names.empty() ? "It has none." : names + ".";
}

std::optional<Problem> refused_size(const StillOptions& o) {
    const bool sides = o.width >= least_picture_side && o.height >= least_picture_side &&
                       o.width <= most_picture_side && o.height <= most_picture_side;
    if (sides && static_cast<double>(o.width) * o.height <= most_picture_pixels) return std::nullopt;
    return Problem{fmt::format("A picture of {} × {} pixels is not taken.", o.width, o.height), "",
                   fmt::format("Each side goes from {} to {}, and all of it up to {:.0f} million pixels.",
                               least_picture_side, most_picture_side, most_picture_pixels / 1e6)};
}

}  // namespace

Result<OrderedStill> ordered_still(const StillOrder& order, const Recipe& recipe, const Made& made,
                                   const StageCamera* framing, FrameTurn turn, double turned) {
    std::vector<ShapePtr> shapes = delivered_shapes(recipe, made, order.parts);
    if (shapes.empty())
        return Problem{"There is nothing to see: no part has faces.", "", "Add a shape, or show a part."};
    const Stage stage = stage_of(recipe, made);
    const OnStage<StageCamera>* own = stage.camera(order.camera);
    if (!order.camera.empty() && !own)
        return Problem{fmt::format("The recipe has no camera “{}”.", order.camera), "", camera_names(stage)};
    if (!own && !stage.cameras.empty()) own = &stage.cameras.front();
    OrderedStill out;
    StillOptions& options = out.options;
    if (own) options.width = own->piece.width, options.height = own->piece.height;
    if (order.width > 0) options.width = order.width, options.height = order.height;
    if (auto problem = refused_size(options)) return *problem;
    options.samples = order.samples, options.seconds = order.seconds, options.wanted_noise = order.wanted_noise;
    double triangles = 0;
    for (const ShapePtr& shape : shapes) triangles += 2 * static_cast<double>(weight_of(*shape).faces);
    out.memory = still_memory(static_cast<double>(options.width) * options.height, triangles);
    if (auto problem = no_room(out.memory)) return *problem;
    StagedWishes wishes;
    wishes.camera = own ? &own->piece : framing;
    wishes.aspect = static_cast<double>(options.width) / options.height;
    wishes.dark = order.dark;
    wishes.turn = turn, wishes.turned = turned;
    if (order.backdrop) {
        wishes.backdrop = stage.backdrop ? stage.backdrop->piece : standard_backdrop(order.dark);
        wishes.backdrop->kind = *order.backdrop;
    }
    out.scene = staged_scene(std::move(shapes), stage, wishes);
    out.scene.camera.exposure += order.exposure;
    return out;
}

std::string row_note(const RowOrder& order, const Recipe& recipe, const Surroundings& surroundings) {
    const StillOrder& s = order.still;
    std::string parts;
    for (const std::string& part : s.parts) parts += part + " ";
    return recipe_text(recipe) + fmt::format("\n{} {} {} {} {} {} {} {} {} {} {} {} {} {} {}\n", order.frames,
                                             order.first, static_cast<int>(order.turn), s.camera, s.width, s.height,
                                             s.samples, s.wanted_noise, s.backdrop ? static_cast<int>(*s.backdrop) : -1,
                                             s.exposure, s.dark, s.raw, static_cast<int>(s.curve), surroundings.seed,
                                             parts);
}

FrameTaker::FrameTaker(const Recipe& recipe, MakeOptions making, RowOrder order)
    : recipe_(recipe), making_(std::move(making)), order_(std::move(order)) {}

Result<StillPicture> FrameTaker::take(int frame) {
    StillPicture stopped;
    stopped.stopped = true;
    making_.environment.surroundings.frame = order_.first + frame;
    Made made = maker_.make(recipe_, making_);
    if (made.stopped) return stopped;
    const StageCamera* framing = framing_ ? &*framing_ : nullptr;
    auto still =
        ordered_still(order_.still, recipe_, made, framing, order_.turn, static_cast<double>(frame) / order_.frames);
    if (!still) return still.problem();
    // The row's camera stays where the first frame has it, or shapes that move would seem to stand still.
    if (!framing_)
        framing_ = framing_camera(delivered_shapes(recipe_, made, order_.still.parts),
                                  static_cast<double>(still->options.width) / still->options.height);
    if (made.has_errors(recipe_, order_.still.parts)) with_errors_ = std::move(made);
    if (!rays_ || shapes_ != still->scene.shapes)
        rays_ = std::make_shared<const RayScene>(still->scene.shapes, still->scene.plain_colour, RayTrees::one,
                                                 rays_.get());
    shapes_ = still->scene.shapes;
    StillPicture picture = still_of(still->scene, still->options, rays_);
    if (picture.stopped) return stopped;
    if (!order_.still.raw) filter_noise(picture);
    return picture;
}

}  // namespace bricol
