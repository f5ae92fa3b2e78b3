// SPDX-License-Identifier: GPL-3.0-or-later
// Flesh: a body of quads round sticks.
#include "core/kernels/flesh.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/kernels/boolean.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct FleshSettings {
    enum class Near { merge, leave };
    int rounds = 2;
    int rings = 0;
    double girth = 0.05;
    double blend = 0.5;
    Near near = Near::merge;
    bool joints = true;
};

std::string told_length(double metres) { return format_value(metres, Quantity::length, "m"); }

/// A length in two digits, never less than it is.
std::string rounded_up(double metres) {
    const double step = std::pow(10, std::floor(std::log10(std::max(metres, 1e-6))) - 1);
    return told_length(std::ceil(metres / step) * step);
}

/// What was mended or left out in the sticks themselves.
void tell_of_sticks(StepRun& run, const Sticks& sticks) {
    if (!sticks.thin.empty()) {
        Finding& finding = run.tell(
            Severity::caution, "no-girth",
            fmt::format(
                "{} a girth of 0, which is laid as {}. Give them a girth.",
                sticks.thin.size() == 1 ? "1 knot has" : fmt::format("{} knots have", sticks.thin.size()),
                told_length(std::min(sticks.knots[sticks.thin[0]].girth.x, sticks.knots[sticks.thin[0]].girth.y))));
        for (const Index k : sticks.thin) finding.places.emplace_back(sticks.knots[k].at);
    }
    if (sticks.not_finite > 0)
        run.tell(Severity::error, "no-place",
                 fmt::format("{} no place that is a number and {} left out.",
                             sticks.not_finite == 1 ? "1 knot has" : fmt::format("{} knots have", sticks.not_finite),
                             sticks.not_finite == 1 ? "is" : "are"));
    if (sticks.without_length > 0)
        run.tell(Severity::caution, "no-length",
                 fmt::format(
                     "{} no length, so the knots at both ends count as one. Pull them apart or take one away.",
                     sticks.without_length == 1 ? "1 bone has" : fmt::format("{} bones have", sticks.without_length)));
    if (sticks.doubled > 0)
        run.tell(Severity::caution, "doubled-bones",
                 fmt::format("{} twice between the same two knots and {} counted once.",
                             sticks.doubled == 1 ? "1 bone stands" : fmt::format("{} bones stand", sticks.doubled),
                             sticks.doubled == 1 ? "is" : "are"));
    std::size_t closing = 0, alone = 0;
    for (const StickBone& bone : sticks.bones) closing += bone.closes;
    for (const auto& bones : sticks.bones_at) alone += bones.empty();
    if (closing > 0) {
        Finding& finding = run.tell(
            Severity::note, "loop",
            fmt::format("The sticks close {}, and the body goes round as a ring. When it is posed, a ring is turned "
                        "from where it begins.",
                        closing == 1 ? "a loop" : fmt::format("{} loops", closing)));
        for (const StickBone& bone : sticks.bones)
            if (bone.closes) finding.places.emplace_back(sticks.knots[bone.to].at);
    }
    if (alone > 0) {
        Finding& finding =
            run.tell(sticks.bones.empty() ? Severity::note : Severity::caution, "no-bone",
                     fmt::format("{} without a bone and {}. Pull another knot out of {}, or take {} away.",
                                 alone == 1 ? "1 knot is" : fmt::format("{} knots are", alone),
                                 alone == 1 ? "becomes a ball" : "become balls", alone == 1 ? "it" : "them",
                                 alone == 1 ? "it" : "them"));
        for (Index k = 0; k < sticks.knots.size(); ++k)
            if (sticks.bones_at[k].empty()) finding.places.emplace_back(sticks.knots[k].at);
    }
}

std::string knot_name(const Sticks& sticks, Index k) {
    const std::int32_t id = sticks.knots[k].id;
    return id < -1 ? fmt::format("Knot {} of the other side", -1 - id)
                   : fmt::format("Knot {}", id >= 0 ? id : static_cast<std::int32_t>(k));
}

void tell_of_flesh(StepRun& run, const Sticks& sticks, const Flesh& flesh, bool merged) {
    if (!flesh.swallowed.empty()) {
        Finding& finding = run.tell(
            Severity::caution, "swallowed",
            fmt::format("{} inside the ball of a neighbour and {} nothing. Make {} larger than the distance, or the "
                        "neighbour smaller.",
                        flesh.swallowed.size() == 1
                            ? fmt::format("{} lies", knot_name(sticks, flesh.swallowed[0]))
                            : fmt::format("{} and {} more lie", knot_name(sticks, flesh.swallowed[0]),
                                          counted(flesh.swallowed.size() - 1, "knot")),
                        flesh.swallowed.size() == 1 ? "adds" : "add",
                        flesh.swallowed.size() == 1 ? "its girth" : "their girths"));
        for (const Index k : flesh.swallowed) finding.places.emplace_back(sticks.knots[k].at);
    }
    for (std::size_t i = 0; i < flesh.narrow.size() && i < 4; ++i) {
        const NarrowFork& fork = flesh.narrow[i];
        std::string text;
        if (fork.far != no_index)
            text = fmt::format(
                "{} lies in the limb beside its own, which leaves the same knot at {:.0f}°. Move it {} "
                "further away, or make either thinner.",
                knot_name(sticks, fork.far), fork.angle, rounded_up(fork.move));
        else
            text = fmt::format(
                "{}: two limbs leave at {:.0f}° and lie in one another for most of their length. They "
                "part in time {}with a girth of {} there.",
                knot_name(sticks, fork.knot), fork.angle,
                fork.angle_that_fits > fork.angle ? fmt::format("from {:.0f}° on, or ", std::ceil(fork.angle_that_fits))
                                                  : std::string(),
                told_length(fork.girth_that_fits));
        Finding& finding = run.tell(Severity::caution, "narrow-fork", text);
        finding.places.emplace_back(sticks.knots[fork.knot].at);
        if (i < 3 || flesh.narrow.size() == 4) continue;
        finding.text += fmt::format(" {} more are as narrow.", flesh.narrow.size() - 4);
        for (std::size_t more = 4; more < flesh.narrow.size() && more < 64; ++more)
            finding.places.emplace_back(sticks.knots[flesh.narrow[more].knot].at);
    }
    if (!flesh.crossing.empty()) {
        const StickBone &a = sticks.bones[flesh.crossing[0][0]], &b = sticks.bones[flesh.crossing[0][1]];
        Finding& finding = run.tell(
            merged ? Severity::note : Severity::caution, "limbs-meet",
            fmt::format(
                "{} of bones run into one another, first those that end at {} and {}. {}",
                counted(flesh.crossing.size(), "pair"), knot_name(sticks, a.to), knot_name(sticks, b.to),
                merged ? "They are merged where they meet." : "Move them apart, or merge limbs that come near."));
        for (const auto& [x, y] : flesh.crossing) {
            if (finding.places.size() >= 64) break;
            for (const Index bone : {x, y})
                finding.places.emplace_back(
                    0.5 * (sticks.knots[sticks.bones[bone].from].at + sticks.knots[sticks.bones[bone].to].at));
        }
    }
}

/// Weights are kept for every joint on every point: this many are 2 GB.
constexpr double most_weights = 5e8;

void run_flesh(const FleshSettings& s, StepRun& run) {
    const Shape& in = run.shape();
    if (in.mesh.face_count() > 0)
        run.tell(Severity::caution, "faces-left-out",
                 "Flesh goes round loose edges and curves; the faces of what comes in are left out.");
    const Sticks sticks = sticks_of(in, s.girth);
    if (sticks.knots.empty()) {
        run.tell(Severity::error, "no-sticks", "There are no sticks here: flesh goes round loose edges or curves.");
        return;
    }
    tell_of_sticks(run, sticks);
    const double each = 4.0 * (s.rings + 2.5) * std::pow(4.0, s.rounds);
    if (run.too_many(static_cast<double>(sticks.knots.size()) * each, most_faces, "faces",
                     "Use fewer rounds of smoothing or fewer knots."))
        return;
    const auto joints = static_cast<double>(std::ranges::count_if(sticks.knots, &StickKnot::joint));
    if (s.joints && run.too_many(static_cast<double>(sticks.knots.size()) * each * joints, most_weights,
                                 "weights, one of every point for every joint",
                                 "Switch the joints off, take them from knots that no pose turns, or use fewer rounds "
                                 "of smoothing."))
        return;
    FleshOptions options;
    options.rounds = s.rounds;
    options.rings = s.rings;
    options.blend = s.blend;
    options.weights = s.joints;
    Flesh flesh = flesh_of(sticks, options, in.mesh.skeleton.get());
    if (flesh.too_many_at != no_index) {
        run.tell(Severity::error, "too-many-bones",
                 fmt::format("{} has {} bones. At most 24 can leave one knot; spread them over two.",
                             knot_name(sticks, flesh.too_many_at), sticks.bones_at[flesh.too_many_at].size()))
            .places.emplace_back(sticks.knots[flesh.too_many_at].at);
        return;
    }
    bool merged = false;
    if (!flesh.crossing.empty() && s.near == FleshSettings::Near::merge) {
        const std::array<Mesh, 1> itself{flesh.mesh};
        BooleanResult one = boolean_of(flesh.mesh, itself, BooleanKind::unite);
        if (one.fault == BooleanFault::none && one.crosses_itself.empty() && !one.mended.empty()) {
            one.mesh.skeleton = flesh.mesh.skeleton;
            flesh.mesh = std::move(one.mesh);
            merged = true;
        }
    }
    tell_of_flesh(run, sticks, flesh, merged);
    run.give(std::move(flesh.mesh));
}

const StepOf<FleshSettings> flesh_step(
    StepInfo{
        .key = "flesh",
        .name = "Flesh",
        .family = Family::surface,
        .purpose = "A body of quads round sticks: limbs as thick as their knots say, joined at every branching.",
        .words = "skin body limbs organic creature tree branches inflate round bones",
        .help = "Takes sticks, loose edges or curves. Every bone becomes a limb that tapers from the girth of one knot "
                "to that of the next; where several meet they run into one another. With no rounds it is a low cage of "
                "four sides, each round quarters its faces and rounds it. A loop of bones becomes a ring. Every vertex "
                "is given a value for each joint near it, which Pose turns.",
        .glyph = "M9 22 C9 17 10 15 4 9 C2 6 6 3 8 6 C10 9 11 11 12 11 C13 9 15 7 16 4 C18 1 22 4 20 7 C18 11 15 14 15 "
                 "22z",
        .gives = content_faces,
        .inputs = {{"shape", "Sticks", content_edges | content_curves | content_points, true}},
        .telling = "{rounds} rounds"},
    {count_of(&FleshSettings::rounds, "rounds", "Rounds", 0, 5, 3,
              "Rounds of smoothing; 0 leaves the low cage. Each makes four times the faces."),
     count_of(&FleshSettings::rings, "rings", "Rings along a bone", 0, 64, 6,
              "Rings of edges between the two knots of every bone."),
     length_of(
         &FleshSettings::girth, "girth", "Girth", 1e-6, 0.5,
         "Radius at knots that bring none: of loose edges, and of curves, where a knot's own radius is a factor."),
     number_of(&FleshSettings::blend, "blend", "Blend", 0, 1,
               "How softly limbs run into one another where they meet; 0 leaves them as they are."),
     choice_of(&FleshSettings::near, "near", "Limbs that meet",
               {{FleshSettings::Near::merge, "merge", "merge"}, {FleshSettings::Near::leave, "leave", "cross"}},
               "What becomes of limbs that share no knot and run into one another: cut along where they meet and made "
               "one, or left."),
     toggle_of(&FleshSettings::joints, "joints", "Joints",
               "Every vertex gets a value for each joint it follows, for Pose and for files that carry a skin.")},
    run_flesh);

}  // namespace

}  // namespace bricol
