// SPDX-License-Identifier: GPL-3.0-or-later
// Sticks: a stick figure of knots and bones, drawn in the viewport or typed.
#include "core/kernels/sticks.h"

#include <fmt/format.h>
#include <map>
#include <set>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SticksSettings {
    enum class Mirror { none, x, y, z };
    DrawnSticks knots;
    double girth = 0.05;
    Mirror mirror = Mirror::none;
    double middle = 0.02;
};

/// The other side's knots have numbers below zero, so that they keep them while knots are added.
std::int32_t mirrored_id(std::int32_t id) { return -1 - id; }

/// Knots and bones with those of the other side.
struct Figure {
    std::vector<StickKnot> knots;
    std::vector<std::array<Index, 2>> bones;
    std::vector<Index> roots;
    Skeleton names;
    std::size_t on_plane = 0, this_side = 0, that_side = 0;

    void name(std::int32_t id, const std::string& text) {
        Joint joint;
        joint.id = id, joint.name = text;
        names.joints.push_back(std::move(joint));
    }
};

Figure figure_of(const SticksSettings& s) {
    Figure out;
    std::map<std::int32_t, std::array<Index, 2>> number;  // of a knot, and of its other side
    const int axis = static_cast<int>(s.mirror) - 1;
    for (const DrawnStick& drawn : s.knots) {
        StickKnot knot;
        knot.at = drawn.at;
        knot.girth = drawn.girth.x < 0 ? DVec2(s.girth) : drawn.girth;
        knot.roll = drawn.roll;
        knot.id = drawn.id;
        knot.cut = drawn.cut, knot.joint = drawn.joint;
        const bool on_plane = axis >= 0 && std::abs(knot.at[axis]) <= s.middle;
        if (on_plane) knot.at[axis] = 0, ++out.on_plane;
        if (axis >= 0 && !on_plane) ++(knot.at[axis] > 0 ? out.this_side : out.that_side);
        const auto first = static_cast<Index>(out.knots.size());
        number[drawn.id] = {first, first};
        out.knots.push_back(knot);
        const std::string name = drawn.name.empty() ? fmt::format("joint {}", drawn.id) : drawn.name;
        out.name(drawn.id, name);
        if (drawn.root) out.roots.push_back(first);
        if (axis < 0 || on_plane) continue;
        knot.at[axis] = -knot.at[axis];
        knot.roll = -knot.roll;
        knot.id = mirrored_id(drawn.id);
        number[drawn.id][1] = first + 1;
        out.knots.push_back(knot);
        out.name(knot.id, "other " + name);
    }
    for (const DrawnStick& drawn : s.knots) {
        if (drawn.from < 0) continue;
        const auto from = number.find(drawn.from);
        if (from == number.end()) continue;
        const std::array<Index, 2> a = from->second, b = number[drawn.id];
        out.bones.push_back({a[0], b[0]});
        if (a[0] != a[1] || b[0] != b[1]) out.bones.push_back({a[1], b[1]});
    }
    return out;
}

void run_sticks(const SticksSettings& s, StepRun& run) {
    if (s.knots.empty()) {
        run.tell(Severity::note, "no-knots",
                 "Nothing is drawn yet. Choose this step and click in a view to set the first knot; pull the next out "
                 "of it.");
        run.give(Shape{});
        return;
    }
    Figure figure = figure_of(s);
    if (figure.this_side > 0 && figure.that_side > 0)
        run.tell(Severity::caution, "both-sides",
                 fmt::format("{} stand on one side of the mirror and {} on the other, so both sides are there twice "
                             "over. Draw on one side only.",
                             counted(figure.this_side, "knot"), figure.that_side));
    else if (s.mirror != SticksSettings::Mirror::none && figure.on_plane == 0)
        run.tell(Severity::caution, "two-figures",
                 fmt::format("No knot is within {} of the mirror, so two figures stand apart. Put the first knot on "
                             "the mirror, or raise the distance.",
                             format_value(s.middle, Quantity::length, "m")));
    else if (s.mirror != SticksSettings::Mirror::none && figure.this_side + figure.that_side == 0)
        run.tell(Severity::caution, "all-in-the-middle",
                 fmt::format("Every knot is within {} of the mirror and is led onto it, so nothing is mirrored. Lower "
                             "the distance.",
                             format_value(s.middle, Quantity::length, "m")));
    std::set<std::array<Index, 2>> seen;
    std::size_t doubled = 0;
    for (const auto& [a, b] : figure.bones) doubled += !seen.insert({std::min(a, b), std::max(a, b)}).second;
    if (doubled > 0)
        run.tell(Severity::caution, "doubled-bones",
                 fmt::format("{} twice between the same two knots and {} counted once. Clear “from” of one of them.",
                             doubled == 1 ? "1 bone stands" : fmt::format("{} bones stand", doubled),
                             doubled == 1 ? "is" : "are"));
    Mesh mesh = mesh_of_sticks(figure.knots, figure.bones, figure.roots);
    mesh.skeleton = std::make_shared<const Skeleton>(std::move(figure.names));
    run.give(std::move(mesh));
}

const StepOf<SticksSettings> sticks_step(
    StepInfo{
        .key = "sticks",
        .name = "Sticks",
        .family = Family::make,
        .purpose = "A stick figure: knots with a girth each, joined by bones that branch freely.",
        .words = "skeleton armature rig bones joints figure tree skin limbs",
        .help =
            "Click to set the first knot and pull others out of it; knots pulled out of one in the middle branch by "
            "themselves. Every knot has a girth, or two across one another and a roll, which Flesh makes a body "
            "of. With a mirror only one side is drawn: knots near its plane are led onto it.",
        .glyph = "M12 21 L12 13 L6 7 M12 13 L18 5 M12 22.2a1.2 1.2 0 1 0 0-2.4a1.2 1.2 0 1 0 0 2.4 M12 14.2a1.2 1.2 0 "
                 "1 0 0-2.4a1.2 1.2 0 1 0 0 2.4 M6 8.2a1.2 1.2 0 1 0 0-2.4a1.2 1.2 0 1 0 0 2.4 M18 6.2a1.2 1.2 0 1 0 "
                 "0-2.4a1.2 1.2 0 1 0 0 2.4",
        .gives = content_edges | content_points,
        .inputs = {},
        .telling = "{knots}"},
    {kind_of(&SticksSettings::knots, ParameterKind::sticks, "knots", "Knots",
             "Of every knot its place, its girth, and the knot its bone comes from; each number may hold a formula."),
     length_of(&SticksSettings::girth, "girth", "Usual girth", 1e-6, 0.5,
               "Radius of knots that have none of their own."),
     choice_of(&SticksSettings::mirror, "mirror", "Mirror",
               {{SticksSettings::Mirror::none, "none", "none"},
                {SticksSettings::Mirror::x, "x", "across x"},
                {SticksSettings::Mirror::y, "y", "across y"},
                {SticksSettings::Mirror::z, "z", "across z"}},
               "The other side follows what is drawn on this one."),
     when(length_of(&SticksSettings::middle, "middle", "Middle within", 0, 0.5,
                    "Knots this near the mirror stand on it and are there once."),
          "mirror=x|y|z")},
    run_sticks);

}  // namespace

}  // namespace bricol
