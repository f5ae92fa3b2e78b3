// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/alignment.h"

#include "core/kernels/real_geometry.h"
#include "core/steps/shared/deformer.h"
#include "core/steps/shared/path_checks.h"
#include "core/catalogue/settings.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

struct AlignmentSettings {
    enum class Origin { origin, low };
    enum class By { longest, pieces };
    Axis axis = Axis::x;
    Origin origin = Origin::origin;
    By plan_by = By::longest;
    double plan_longest = 0;
    int plan_pieces = 8;
    By height_by = By::longest;
    double height_longest = 0;
    int height_pieces = 8;
    bool cut = false;
    double steepest = 0;
    std::string only;
};

StraightLengths lengths_of(AlignmentSettings::By by, double longest, int pieces) {
    return by == AlignmentSettings::By::pieces ? StraightLengths{0, pieces} : StraightLengths{longest, 0};
}
StraightLengths plan_lengths(const AlignmentSettings& s) {
    return lengths_of(s.plan_by, s.plan_longest, s.plan_pieces);
}
StraightLengths height_lengths(const AlignmentSettings& s) {
    return lengths_of(s.height_by, s.height_longest, s.height_pieces);
}

/// The plan as a path in the ground plane; empty, and told, when it has no length there.
Path plan_path(const AlignmentSettings& s, StepRun& run, const Polyline& drawn) {
    double off = 0;
    const Polyline flat = ground_plan(drawn, &off);
    if (off > 1e-5)
        run.tell(Severity::note, "plan-not-flat",
                 fmt::format("The plan curve leaves the ground plane by {}; only its ground plan is used. Heights "
                             "belong to the height curve.",
                             format_value(off, Quantity::length, "m")));
    std::vector<Vec3> corners = sharp_corners(flat);
    const StraightLengths lengths = plan_lengths(s);
    if (!corners.empty() && lengths.any())
        run.tell(Severity::note, "corners-spread",
                 fmt::format(
                     "The plan turns sharply at {}; {} are laid across, so the corner is spread over the pieces "
                     "beside it.",
                     counted(corners.size(), "corner"),
                     lengths.pieces > 0 ? fmt::format("{} equal pieces", lengths.pieces)
                                        : "pieces of up to " + format_value(lengths.longest, Quantity::length, "m")))
            .places = std::move(corners);
    Path plan = make_path(in_lengths(flat, lengths), {true, {0, 0, 1}, true});
    if (plan.empty())
        run.tell(Severity::error, "empty-path",
                 "The plan curve has no length in the ground plane. Draw it in the top view.");
    return plan;
}

/// Nothing, and told, when the curve has two heights at one distance.
std::optional<HeightLine> heights_of(const AlignmentSettings& s, StepRun& run, const Polyline& drawn) {
    Vec3 low(1e30f), high(-1e30f);
    for (const Vec3& p : drawn.points) low = glm::min(low, p), high = glm::max(high, p);
    if (high.z - low.z < 1e-6f && high.y - low.y > 1e-6f)
        run.tell(Severity::caution, "flat-heights",
                 fmt::format("The height curve lies flat on the ground, so every height is {}; it was drawn in another "
                             "view. Draw it in the front view: along x the distance, upwards the height.",
                             format_value(static_cast<double>(low.z), Quantity::length, "m")));
    bool turns_back = false;
    const HeightLine heights = height_line(drawn, &turns_back);
    if (!turns_back) return in_pieces(heights, height_lengths(s));
    run.tell(Severity::error, "turns-back",
             "The height curve turns back on itself, so some distance would have two heights. Draw it running "
             "one way.");
    return std::nullopt;
}

/// What reaches beyond the curves: from `first` to `last` metres along the plan.
void tell_of_lengths(StepRun& run, const Path* plan, const HeightLine& heights, double first, double last) {
    if (plan && !plan->closed && (last > plan->whole * (1 + 1e-4) || first < -1e-4 * plan->whole))
        run.tell(Severity::caution, "longer-than-path",
                 fmt::format("The structure runs {} beyond its plan curve, straight on from there. Make the curve "
                             "longer, or the structure shorter.",
                             format_value(std::max(last - plan->whole, -first), Quantity::length, "m")))
            .places = {Vec3(plan->points.back().at)};
    if (!heights.empty() &&
        (last > heights.distance.back() * (1 + 1e-4) + 1e-6 || first < heights.distance.front() - 1e-4))
        run.tell(
            Severity::note, "longer-than-heights",
            fmt::format(
                "The height curve runs from {} to {} and the structure from {} to {}: its end heights are kept beyond.",
                format_value(heights.distance.front(), Quantity::length, "m"),
                format_value(heights.distance.back(), Quantity::length, "m"),
                format_value(first, Quantity::length, "m"), format_value(last, Quantity::length, "m")));
}

/// What does not fit sideways: the structure reaches from `low` to `high` across the plan.
void tell_of_sides(const AlignmentSettings& s, StepRun& run, const Path& plan, double low, double high) {
    const double width = high - low;
    if (low > 0.25 * width + 1e-6 || high < -0.25 * width - 1e-6)
        run.tell(Severity::note, "different-origins",
                 fmt::format("The structure stands {} beside the origin, so it runs beside the plan curve by as much.",
                             format_value(low > 0 ? low : -high, Quantity::length, "m")));
    const double reach = std::max(std::abs(low), std::abs(high));
    const Bend bend = plan_lengths(s).any() ? Bend{} : tightest_bend(plan);
    if (bend.radius < reach)
        run.tell(Severity::caution, "tight-bend",
                 fmt::format("The plan bends with a radius of {} and the structure reaches {} to the side: it folds "
                             "into itself there.",
                             format_value(bend.radius, Quantity::length, "m"),
                             format_value(reach, Quantity::length, "m")))
            .places = {bend.at};
}

void tell_of_slope(StepRun& run, const HeightLine& heights, double limit) {
    const double worst = limit > 0 ? steepest_of(heights) : 0;
    if (worst > limit / 100)
        run.tell(Severity::caution, "too-steep",
                 fmt::format("The height curve rises by up to {:.3g} %, more than the {:.3g} % allowed.", worst * 100,
                             limit));
}

/// The structure with edges at every joint of its straight lengths and at the drawn corners of the plan; nothing, and
/// told, where that is too much work.
ShapePtr cut_at_joints(const AlignmentSettings& s, StepRun& run, const ShapePtr& real, const Path* plan,
                       const HeightLine& heights, double begin) {
    const std::vector<double> places = joints_of(plan, plan_lengths(s), heights, height_lengths(s), begin);
    if (places.empty())
        run.tell(Severity::note, "no-joints",
                 "There is no joint to cut at: the curves are followed as they are and the plan has no corner. Give "
                 "the plan or the heights straight lengths.");
    const double work = static_cast<double>(places.size()) * static_cast<double>(real->mesh.face_count());
    if (run.too_many(work, 1e9, "faces looked at", "Use fewer or longer pieces, or a lighter structure."))
        return nullptr;
    Shape cut = *real;
    cut.mesh = cut_across(std::move(cut.mesh), index_of(s.axis), places);
    return std::make_shared<const Shape>(std::move(cut));
}

void run_alignment(const AlignmentSettings& s, StepRun& run) {
    ShapePtr real = real_geometry(run.input_pointer("shape"));
    const auto box = box_of(*real);
    if (!box) return;
    const auto plan_line = first_line(run, "plan", "plan"), height_curve = first_line(run, "height", "height");
    if (!plan_line && !height_curve) {
        run.tell(Severity::error, "no-path",
                 "There is neither a plan curve nor a height curve. Link at least one of them.");
        return;
    }
    const int axis = index_of(s.axis);
    if (axis == 2) {
        run.tell(Severity::error, "upright-axis", "A structure that lies over ground lies along x or y, not along z.");
        return;
    }
    const double along = box->size()[axis], across = box->size()[1 - axis];
    if (across > 2 * along)
        run.tell(Severity::caution, "across-axis",
                 fmt::format("The structure is {} long along {} and {} along {}, and is laid by the shorter of them.",
                             format_value(across, Quantity::length, "m"), axis == 0 ? "y" : "x",
                             format_value(along, Quantity::length, "m"), axis == 0 ? "x" : "y"))
            .remedy = Remedy{axis == 0 ? "Lay it along y" : "Lay it along x",
                             {{"", run.key_of(s.axis), std::string(axis == 0 ? "y" : "x")}},
                             {}};
    Path plan;
    if (plan_line) {
        plan = plan_path(s, run, *plan_line);
        if (plan.empty()) return;
    } else {  // no plan: straight on, as long as the structure and its heights are
        plan = straight_path(axis == 0 ? Vec3(1, 0, 0) : Vec3(0, 1, 0));
    }
    HeightLine heights;
    if (height_curve) {
        auto drawn = heights_of(s, run, *height_curve);
        if (!drawn) return;
        heights = std::move(*drawn);
    }
    const double begin = s.origin == AlignmentSettings::Origin::low ? box->low[axis] : 0;
    const int side = axis == 0 ? 1 : 0;
    const double hand = axis == 0 ? 1 : -1;  // left is +y along x and -x along y
    tell_of_lengths(run, plan_line ? &plan : nullptr, heights, box->low[axis] - begin, box->high[axis] - begin);
    tell_of_sides(s, run, plan, box->low[side], box->high[side]);
    tell_of_slope(run, heights, s.steepest);
    if (s.cut) real = cut_at_joints(s, run, real, plan_line ? &plan : nullptr, heights, begin);
    if (!real) return;
    const Alignment lay(plan, std::move(heights));
    run.give(deformed_points(run, *real, s.only,
                             [&](const DVec3& p) { return lay.at(p[axis] - begin, p[side] * hand, p.z); }));
}

const StepOf<AlignmentSettings> alignment_step(
    StepInfo{
        .key = "alignment",
        .name = "Alignment",
        .family = Family::bend,
        .purpose = "Lays a long structure over ground: a plan curve steers, a height curve lifts.",
        .words = "road bridge pier track walkway civil plan profile bend level",
        .help =
            "Both curves are measured from one origin: the plan by its length, drawn in the top view; the height by "
            "the distance, drawn in the front or side view. The cross-section stays level. Longer pieces make straight "
            "lengths that meet in mitres. "
            "A curve that is left out is a straight one.",
        .glyph = "M3 8 C8 3 14 12 21 5 M3 12 C8 7 14 16 21 9 M3 20 C9 20 12 16 21 16 M12 14.5v2.5",
        .gives = 0,
        .inputs = {{"shape", "Structure", deformable | content_instances, true},
                   {"plan", "Plan curve", content_curves | content_edges, false},
                   {"height", "Height curve", content_curves | content_edges, false}},
        .telling = "along {axis}"},
    {axis_of(&AlignmentSettings::axis, "axis", "Lies along", "The structure's own axis, x or y."),
     choice_of(&AlignmentSettings::origin, "origin", "Measured from",
               {{AlignmentSettings::Origin::origin, "origin", "the origin"},
                {AlignmentSettings::Origin::low, "low", "its low end"}},
               "Where distance 0 is on the structure."),
     choice_of(&AlignmentSettings::plan_by, "plan_by", "Plan in",
               {{AlignmentSettings::By::longest, "longest", "lengths up to"},
                {AlignmentSettings::By::pieces, "pieces", "so many pieces"}},
               "What says how many straight lengths the plan is laid in."),
     when(length_of(&AlignmentSettings::plan_longest, "plan_longest", "Plan lengths", 0, 10,
                    "Straight lengths no longer than this; 0 follows the curve itself."),
          "plan_by=longest"),
     when(count_of(&AlignmentSettings::plan_pieces, "plan_pieces", "Plan pieces", 1, 10000, 64,
                   "Equal straight lengths from end to end of the plan; three at least round a closed one."),
          "plan_by=pieces"),
     choice_of(&AlignmentSettings::height_by, "height_by", "Heights in",
               {{AlignmentSettings::By::longest, "longest", "lengths up to"},
                {AlignmentSettings::By::pieces, "pieces", "so many pieces"}},
               "What says how many straight lengths the heights are laid in."),
     when(length_of(&AlignmentSettings::height_longest, "height_longest", "Height lengths", 0, 10,
                    "Straight lengths no longer than this; 0 follows the curve itself."),
          "height_by=longest"),
     when(count_of(&AlignmentSettings::height_pieces, "height_pieces", "Height pieces", 1, 10000, 64,
                   "Equal straight lengths from end to end of the height curve."),
          "height_by=pieces"),
     toggle_of(&AlignmentSettings::cut, "cut", "Cut at the mitres",
               "Puts an edge across the faces at every joint and corner, so that long faces bend there and nowhere "
               "else."),
     number_of(&AlignmentSettings::steepest, "steepest", "Steepest, %", 0, 1000,
               "A rise steeper than this is reported; 0 for any."),
     only_of(&AlignmentSettings::only, "Moves only the points of this set.")},
    run_alignment);

}  // namespace

}  // namespace bricol
