// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/real_geometry.h"
#include "core/steps/shared/deformer.h"
#include "core/steps/shared/path_checks.h"
#include "core/catalogue/settings.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

struct FollowCurve {
    enum class Origin { origin, middle, base };
    Axis axis = Axis::x;
    double start = 0;
    bool from_low = true;
    bool stretch = false;
    Origin origin = Origin::origin;
    Frames frames = Frames::least;
    DVec3 up{0, 0, 1};
    double roll = 0;
    double twist = 0;
    bool own_radius = false;
    bool smooth = true;
    std::string only;
};

/// How a point of the straight shape is read: how far along, and how far to the right and up.
struct Reading {
    int along, right, up;
    double right_sign;
};
Reading reading_of(int axis) {
    if (axis == 0) return {0, 1, 2, -1};
    if (axis == 1) return {1, 0, 2, 1};
    return {2, 1, 0, 1};
}

void tell_tight(StepRun& run, const Path& path, const DVec3& low, const DVec3& high, const Reading& read) {
    double worst = 0, radius_there = 0, needs_there = 0;
    Vec3 where(0);
    for (std::size_t i = 0; i < path.size(); ++i) {
        DVec3 inward(0);
        const double radius = path.bend_at(i, &inward);
        if (path.sharp[i] || !(radius < 1e9)) continue;
        const Station& s = path.points[i];
        double needs = 0;
        for (const double r : {low[read.right], high[read.right]})
            for (const double u : {low[read.up], high[read.up]})
                needs = std::max(needs, glm::dot(s.right * (r * read.right_sign) + s.up * u, inward) * s.radius);
        if (needs / radius > worst)
            worst = needs / radius, radius_there = radius, needs_there = needs, where = Vec3(s.at);
    }
    if (worst > 1 + 1e-3)
        run.tell(Severity::caution, "tight-bend", tight_bend_text("shape", radius_there, needs_there, 1)).places = {
            where};
}

/// The path turned about itself by the roll and the twist; of the twist of a closed one only whole turns.
Path turned_path(const FollowCurve& s, StepRun& run, Path path) {
    const double roll = glm::radians(s.roll);
    double twist = glm::radians(s.twist);
    if (const double over = std::remainder(twist, 2 * pi); path.closed && std::abs(over) > 1e-6) {
        twist -= over;
        run.tell(Severity::note, "closing-twist",
                 fmt::format("The shape would miss itself by {:.3g}° where the path closes; only whole turns of twist "
                             "are kept.",
                             glm::degrees(over)));
    }
    // Between two points the directions across are blended, so no piece may turn by much.
    double turning = std::abs(twist);
    for (std::size_t i = 0; i < path.pieces(); ++i)
        turning += std::abs(path.points[(i + 1) % path.size()].roll - path.points[i].roll);
    if (turning > 0) path = in_pieces_up_to(path, path.whole * glm::radians(2.0) / turning);
    for (std::size_t i = 0; i < path.size(); ++i) path.points[i].roll += roll + twist * path.length[i] / path.whole;
    return path;
}

void run_follow_curve(const FollowCurve& s, StepRun& run) {
    const ShapePtr path_shape = run.input_pointer("path");
    PathOptions frames = path_options(s.frames, s.up);
    frames.turn_over = false;
    std::vector<Path> paths;
    if (path_shape) {
        paths = paths_of(run, s.smooth ? finer(*path_shape) : *path_shape, frames);
    } else {
        run.tell(Severity::error, "no-path", "There is no path to follow. Link a curve at “path”.");
    }
    if (paths.empty()) return;
    if (paths.size() > 1)
        run.tell(Severity::note, "several-paths",
                 fmt::format("There are {} paths; the first is followed.", paths.size()));
    const ShapePtr real = real_geometry(run.input_pointer("shape"));
    const auto box = box_of(*real);
    if (!box) return;
    Path path = std::move(paths.front());
    if (!s.own_radius)
        for (Station& s : path.points) s.radius = 1;
    path = turned_path(s, run, std::move(path));
    const Reading read = reading_of(index_of(s.axis));
    const double length = box->size()[read.along], start = s.start;
    if (length <= 0) {
        run.tell(Severity::error, "no-span", "The shape has no length along that axis. Choose another axis.");
        return;
    }
    if (s.stretch && start >= path.whole) {
        run.tell(
            Severity::error, "no-room",
            fmt::format("The shape begins {} along a path of {}: nothing is left to fill. Begin earlier.",
                        format_value(start, Quantity::length, "m"), format_value(path.whole, Quantity::length, "m")));
        return;
    }
    const double factor = s.stretch ? (path.whole - start) / length : 1;
    DVec3 origin(0);
    if (s.origin == FollowCurve::Origin::middle) origin = box->centre();
    if (s.origin == FollowCurve::Origin::base) origin = box->centre(), origin[read.up] = box->low[read.up];
    const double begin = s.from_low ? box->low[read.along] : 0;
    const double first = (box->low[read.along] - begin) * factor + start,
                 last = (box->high[read.along] - begin) * factor + start;
    if (!path.closed && (last > path.whole * (1 + 1e-4) || first < -1e-4 * path.whole))
        run.tell(Severity::caution, "longer-than-path",
                 fmt::format("The shape runs {} beyond its path, straight on from there. Stretch it to fit, or make "
                             "the path longer.",
                             format_value(std::max(last - path.whole, -first), Quantity::length, "m")))
            .remedy = Remedy{"Stretch it to fit", {{"", run.key_of(s.stretch), true}}, {}};
    const DVec3 low = box->low - origin, high = box->high - origin;
    for (const int side : {read.right, read.up})
        if (low[side] > 0.25 * box->size()[side] + 1e-6 || high[side] < -0.25 * box->size()[side] - 1e-6) {
            run.tell(Severity::note, "different-origins",
                     fmt::format("The shape stands {} beside the origin that travels on the path, so it runs beside "
                                 "the path by as much.",
                                 format_value(low[side] > 0 ? low[side] : -high[side], Quantity::length, "m")))
                .remedy = Remedy{"Put its middle on the path", {{"", run.key_of(s.origin), "middle"}}, {}};
            break;
        }
    tell_tight(run, path, low, high, read);
    const Rails rails(path);
    run.give(deformed_points(run, *real, s.only, [&](const DVec3& p) {
        return rails.at((p[read.along] - begin) * factor + start,
                        (p[read.right] - origin[read.right]) * read.right_sign, p[read.up] - origin[read.up]);
    }));
}

const StepOf<FollowCurve> follow_curve_step(
    StepInfo{
        .key = "follow_curve",
        .name = "Follow curve",
        .family = Family::bend,
        .purpose = "Bends a straight shape along a path.",
        .words = "path deform spline bend wrap along curve rail",
        .help =
            "Lengths along the path stay as they were, whatever the path does; what stands across goes along stiffly "
            "and rolls only as told. Corners of the path become mitres. Instances become real geometry.",
        .glyph = "M3 17 C8 5 15 21 21 8 M3 13 C8 1 15 17 21 4 M3 13v4 M21 4v4 M9.5 7.5v4 M15 12.2v4",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable | content_instances, true},
                   {"path", "Path", content_curves | content_edges, true}},
        .telling = "along {axis}"},
    {axis_of(&FollowCurve::axis, "axis", "Lies along", "The shape's own axis that goes along the path."),
     offset_of(&FollowCurve::start, "start", "Start at", "How far along the path the shape begins."),
     toggle_of(&FollowCurve::from_low, "from_low", "Begin at its low end",
               "The shape's low end begins there; otherwise the origin does."),
     toggle_of(&FollowCurve::stretch, "stretch", "Stretch to fit", "Sizes the shape along its axis to fill the path."),
     choice_of(&FollowCurve::origin, "origin", "On the path",
               {{FollowCurve::Origin::origin, "origin", "its origin"},
                {FollowCurve::Origin::middle, "middle", "its middle"},
                {FollowCurve::Origin::base, "base", "middle of its base"}},
               "What of the cross-section travels on the path."),
     frames_of(&FollowCurve::frames), up_of(&FollowCurve::up),
     angle_of(&FollowCurve::roll, "roll", "Roll", -360, 360, "Turns the shape about the path."),
     angle_of(&FollowCurve::twist, "twist", "Twist", -36000, 36000, "From start to end of the path."),
     toggle_of(&FollowCurve::own_radius, "own_radius", "Width by knots",
               "The radius of the path's knots sizes the cross-section."),
     toggle_of(&FollowCurve::smooth, "smooth", "Smooth path",
               "Follows the curve itself; otherwise its straight pieces."),
     only_of(&FollowCurve::only, "Moves only the points of this set.")},
    run_follow_curve);

}  // namespace

}  // namespace bricol
