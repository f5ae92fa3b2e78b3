// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/curve_edit.h"
#include "core/steps/shared/fillet_checks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct JoinSettings {
    double within = 0.0001;
    double reach = 0;
    double radius = 0;
    int pieces = 6;
    bool close = true;
};

void run_join(const JoinSettings& s, StepRun& run) {
    Shape shape = run.shape();
    JoinOptions options;
    options.within = s.within;
    options.reach = s.reach;
    options.fillet = static_cast<float>(s.radius);
    options.close = s.close;
    JoinResult result = joined_curves(shape.curves, options);
    if (options.fillet > 0) {
        bool bent = false;
        for (Curve& curve : result.curves) {
            // Pieces are a curve's own: one that bends elsewhere keeps at least those it has there.
            const bool straight = std::ranges::all_of(curve.knots, [](const Knot& knot) {
                return knot.kind == KnotKind::corner && knot.in == Vec3(0) && knot.out == Vec3(0);
            });
            bent |= !straight && curve.sampling.per_span > s.pieces;
            curve.sampling.per_span = straight ? s.pieces : std::max(curve.sampling.per_span, s.pieces);
        }
        if (bent)
            run.tell(Severity::note, "own-pieces",
                     "A curve that bends elsewhere keeps its own, more pieces in its roundings too.");
        tell_held_fillets(run, result.curves);
    }
    if (result.joined == 0) run.tell(Severity::note, "unchanged", "No ends meet; the curves are as they were.");
    if (result.nearest_miss < 100 * std::max(options.within, 1e-6) && result.nearest_miss > options.within) {
        Finding& finding = run.tell(
            Severity::caution, "near-miss",
            fmt::format("Two ends miss each other by {}.", format_value(result.nearest_miss, Quantity::length, "m")));
        finding.places = {result.miss_at};
        finding.remedy = Remedy{"Join them too", {{"", run.key_of(s.within), result.nearest_miss * 1.01}}, {}};
    }
    shape.curves = std::move(result.curves);
    run.give(std::move(shape));
}

const StepOf<JoinSettings> join_step(
    StepInfo{
        .key = "join",
        .name = "Join curves",
        .family = Family::curves,
        .purpose = "Makes one curve of several whose ends meet.",
        .words = "weld connect attach chain fillet corner",
        .help =
            "Ends within a distance become one knot, whichever way the curves run. Straight ends can be led on or cut "
            "back to where they meet, and the corners there rounded: the radius stays a number.",
        .glyph = "M3 19 L9 9 M15 9 L21 19 M9 9 C10 6.5 14 6.5 15 9 M7.8 7.8h2.4v2.4h-2.4z M13.8 7.8h2.4v2.4h-2.4z",
        .gives = 0,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "within {within}"},
    {length_of(&JoinSettings::within, "within", "Within", 0, 0.02, "Ends nearer than this meet."),
     length_of(&JoinSettings::reach, "reach", "Lead on by up to", 0, 1,
               "Straight ends are led on or cut back by up to this to meet in a corner."),
     length_of(&JoinSettings::radius, "radius", "Fillet", 0, 0.5, "Rounds the corners where curves meet."),
     when(count_of(&JoinSettings::pieces, "pieces", "Pieces per corner", 1, 512, 32,
                   "Straight pieces of each rounding."),
          "radius>0"),
     toggle_of(&JoinSettings::close, "close", "Close", "Joins the last end to the first where they meet.")},
    run_join);

}  // namespace

}  // namespace bricol
