// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/lathe.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/lathe_profiles.h"
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Lathe {
    enum class Side { as_drawn, inner, middle, outer };
    int segments = 32;
    double angle = 360;
    double from = 0;
    double rise = 0;
    double turns = 1;
    Axis axis = Axis::z;
    Side side = Side::as_drawn;
    double weld = 0.0001;
    bool caps = true;
    double smooth = 40;
    DVec3 centre{0, 0, 0};
    std::string start_set;
    std::string end_set;
};

/// The number, as written in the drawing step, that holds a knot's distance from the axis; empty when there is none.
std::string radius_path(const Curve& curve, std::int32_t knot, int axis) {
    if (curve.source_step.empty() || knot < 0) return {};
    for (int written = 0; written < 2; ++written)
        if (std::abs(curve.plane.axes[static_cast<std::size_t>(written)][axis]) < 1e-6f &&
            std::abs(curve.plane.axes[static_cast<std::size_t>(1 - written)][axis]) > 1 - 1e-6f)
            return fmt::format("/curves/{}/knots/{}/at/{}", curve.source_curve, knot, written);
    return {};
}

struct Faults {
    ProfileFaults of;
    const Curve* curve;
};

void report_near_axis(const Lathe& s, StepRun& run, const std::vector<Faults>& all, const LatheOptions& options) {
    std::size_t count = 0;
    double largest = 0;
    Remedy on_axis{"Set them on the axis", {}, {}};
    std::vector<Vec3> places;
    bool all_drawn = true;
    const int axis = index_of(s.axis);
    for (const Faults& faults : all)
        for (const auto& place : faults.of.near_axis) {
            ++count;
            largest = std::max(largest, place.amount);
            places.push_back(place.at);
            const std::string path = faults.curve ? radius_path(*faults.curve, place.knot, axis) : "";
            all_drawn &= !path.empty() && options.side == AxisSide::as_drawn;
            if (path.empty()) continue;
            on_axis.changes.push_back({faults.curve->source_step, path,
                                       faults.curve->plane.numbers(options.frame.centre)[path.back() - '0']});
        }
    if (count == 0) return;
    const double weld = largest * 1.01;
    Finding& finding = run.tell(Severity::caution, "near-axis",
                                fmt::format("{} {} off the axis and would leave a pinhole.",
                                            count == 1 ? "1 knot lies" : fmt::format("{} knots lie up to", count),
                                            format_value(largest, Quantity::length, "m")));
    finding.places = std::move(places);
    if (all_drawn)
        finding.remedy = on_axis;
    else
        finding.remedy =
            Remedy{"Weld within " + format_value(weld, Quantity::length, "m"), {{"", run.key_of(s.weld), weld}}, {}};
}

void report(const Lathe& s, StepRun& run, const std::vector<Faults>& all, const LatheOptions& options,
            int rows_per_ring) {
    report_near_axis(s, run, all, options);
    std::vector<Vec3> across, crossings, needless;
    double farthest = 0;
    Remedy without{"Take those knots away", {}, {}};
    bool removable = true;
    for (const Faults& faults : all) {
        for (const auto& place : faults.of.across)
            across.push_back(place.at), farthest = std::max(farthest, place.amount);
        for (const auto& place : faults.of.crossings) crossings.push_back(place.at);
        for (const auto& place : faults.of.needless) {
            needless.push_back(place.at);
            const Curve* curve = faults.curve;
            const bool drawn = curve && !curve->source_step.empty() &&
                               curve->knots[place.knot].kind == KnotKind::corner &&
                               curve->knots[place.knot].source == place.knot;
            removable &= drawn;
            if (drawn)
                without.changes.push_back({curve->source_step,
                                           fmt::format("/curves/{}/knots/{}", curve->source_curve, place.knot),
                                           {},
                                           true});
        }
    }
    if (!across.empty()) {
        Finding& finding =
            run.tell(Severity::caution, "crosses-axis",
                     fmt::format("The profile crosses the axis by {}: the turned shape goes through itself.",
                                 format_value(farthest, Quantity::length, "m")));
        finding.places = std::move(across);
        finding.remedy = Remedy{"Set its inner side on the axis", {{"", run.key_of(s.side), "inner"}}, {}};
    }
    if (!crossings.empty()) {
        Finding& finding =
            run.tell(Severity::caution, "crosses-itself",
                     fmt::format("The profile crosses itself {}. Move the knots apart.",
                                 crossings.size() == 1 ? "once" : fmt::format("{} times", crossings.size())));
        finding.places = std::move(crossings);
    }
    if (!needless.empty()) {
        Finding& finding =
            run.tell(Severity::note, "needless-faces",
                     fmt::format("{} on straight runs: {} faces that change nothing.",
                                 needless.size() == 1 ? "1 knot lies" : fmt::format("{} knots lie", needless.size()),
                                 needless.size() * static_cast<std::size_t>(rows_per_ring)));
        finding.places = std::move(needless);
        if (removable) finding.remedy = without;
    }
}

void run_lathe(const Lathe& s, StepRun& run) {
    LatheOptions options;
    const int axis = index_of(s.axis);
    options.frame = axis_frame(axis, s.centre);
    options.segments = s.segments;
    options.angle = s.angle;
    options.turns = s.turns;
    options.rise = s.rise;
    const Lathe::Side side = s.side;
    options.side = side == Lathe::Side::inner    ? AxisSide::inner
                   : side == Lathe::Side::middle ? AxisSide::middle
                   : side == Lathe::Side::outer  ? AxisSide::outer
                                                 : AxisSide::as_drawn;
    options.weld = static_cast<float>(s.weld);
    options.caps = s.caps;
    options.smooth_angle = static_cast<float>(s.smooth);
    if (options.angle == 0 && options.rise == 0) {
        run.tell(Severity::error, "no-travel",
                 "Angle and rise are both 0, so the profile goes nowhere. Give one of them a value.");
        return;
    }
    if (options.rise == 0 && std::abs(options.angle * options.turns) > 360 + 1e-6)
        run.tell(Severity::note, "over-turned",
                 "More than a full turn without a rise lies on itself; one turn is made.");

    std::vector<Polyline> lines;
    std::vector<const Curve*> curves;
    for (const Curve& curve : run.shape().curves) {
        lines.push_back(flatten(curve));
        curves.push_back(&curve);
    }
    for (Polyline& line : loose_edge_lines(run.shape().mesh)) {
        lines.push_back(std::move(line));
        curves.push_back(nullptr);
    }
    double points = 0;
    for (const Polyline& line : lines) points += static_cast<double>(line.points.size());
    if (run.too_many(points * options.segments * std::max(1.0, options.turns), most_faces, "faces",
                     "Use fewer segments, turns or pieces per bend."))
        return;

    LathedProfiles made = lathed_profiles(lines, options);
    Shape shape;
    shape.mesh = std::move(made.mesh);
    if (shape.mesh.empty()) {
        run.tell(Severity::error, "empty-profile",
                 "The profile is empty: it needs at least two knots at different places.");
        return;
    }
    if (made.empty > 0)
        run.tell(Severity::note, "empty-profile",
                 fmt::format("{} of {} profiles have no length and were left out.", made.empty, lines.size()));
    std::vector<Faults> faults;
    for (std::size_t i = 0; i < made.faults.size(); ++i) faults.push_back({std::move(made.faults[i]), curves[i]});
    report(s, run, faults, options, options.segments);
    if (s.from != 0) {
        DVec3 turn(0);
        turn[axis] = s.from;
        shape = transformed(shape, placement(DVec3(0), turn, DVec3(1), s.centre));
    }
    if (count_of(made.start) == 0 && !(s.start_set.empty() && s.end_set.empty()))
        run.tell(
            Severity::caution, "no-caps",
            "Nothing closes this turn, so the sets of its ends are empty. A part turn of a closed profile has ends.");
    run.name_set(shape.mesh, Domain::face, s.start_set, std::move(made.start));
    run.name_set(shape.mesh, Domain::face, s.end_set, std::move(made.end));
    run.give(std::move(shape));
}

const StepOf<Lathe> lathe_step(
    StepInfo{
        .key = "lathe",
        .name = "Lathe",
        .family = Family::surface,
        .purpose = "Turns a profile about an axis into a closed shape.",
        .words = "revolve spin turn screw revolution helix thread spring rotate",
        .help =
            "Turns curves or loose edges about an axis. A rise per turn makes a helix: springs, threads, twisted "
            "pulls; an angle of 0 with a "
            "rise pulls straight. Points near the axis are welded to one pole. Faces point outwards whichever way the "
            "profile was drawn.",
        .glyph =
            "M12 2v3 M12 19v3 M8.5 5h7 M8.5 5 C9.5 8 5 11 5 15 C5 18 8 19 9 19 H15 C16 19 19 18 19 15 C19 11 14.5 8 "
            "15.5 5 M5.2 13.5 a6.8 1.8 0 0 0 13.6 0",
        .inputs = {{"shape", "Profile", content_curves | content_edges, true}},
        .telling = "{segments} segments"},
    {count_of(&Lathe::segments, "segments", "Segments", 1, 4096, 128, "Faces in one turn."),
     pulled(angle_of(&Lathe::angle, "angle", "Angle", -360, 360,
                     "Of one turn. Less than 360 leaves a wedge; 0 with a rise pulls straight."),
            HandleKind::about, "axis", "centre"),
     angle_of(&Lathe::from, "from", "From", -360, 360, "Where the turn begins, about the axis from the profile."),
     offset_of(&Lathe::rise, "rise", "Rise", "Along the axis in each turn."),
     number_of(&Lathe::turns, "turns", "Turns", 0.001, 1000, "How often angle and rise are repeated."),
     axis_of(&Lathe::axis, "axis", "Axis", "The direction of the axis."),
     choice_of(&Lathe::side, "side", "Sits on axis",
               {{Lathe::Side::as_drawn, "as_drawn", "as drawn"},
                {Lathe::Side::inner, "inner", "inner side"},
                {Lathe::Side::middle, "middle", "middle"},
                {Lathe::Side::outer, "outer", "outer side"}},
               "Which side of the profile is moved onto the axis."),
     length_of(&Lathe::weld, "weld", "Weld at axis", 0, 0.02, "Points nearer to the axis than this become one pole."),
     toggle_of(&Lathe::caps, "caps", "Caps", "Closes part turns and pulls, and leads open ends to the axis."),
     angle_of(&Lathe::smooth, "smooth", "Sharp over", 0, 180,
              "Corners of the profile that turn by more than this look sharp."),
     pulled(vector_of(&Lathe::centre, "centre", "Centre", Quantity::length, "A point on the axis."), HandleKind::point),
     new_set_of(&Lathe::start_set, "start_set", "Start as set",
                "A name for the faces that close the start of a part turn."),
     new_set_of(&Lathe::end_set, "end_set", "End as set", "A name for those that close its end.")},
    run_lathe);

}  // namespace

}  // namespace bricol
