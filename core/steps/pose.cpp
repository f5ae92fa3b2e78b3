// SPDX-License-Identifier: GPL-3.0-or-later
// Pose: joints turned, each about itself.
#include "core/kernels/pose.h"

#include <fmt/format.h>

#include "core/ground/words.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct PoseSettings {
    enum class About { own, room };
    enum class Other { none, x, y, z };
    std::string joints;
    DVec3 turn{0, 0, 0};
    About about = About::own;
    Other other = Other::none;
};

/// The names between the commas.
std::vector<std::string> names_in(const std::string& text) {
    std::vector<std::string> out;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        std::string name = text.substr(at, end - at);
        const std::size_t first = name.find_first_not_of(" \t"), last = name.find_last_not_of(" \t");
        if (first != std::string::npos) out.push_back(name.substr(first, last - first + 1));
        at = end + 1;
    }
    return out;
}

std::vector<Index> joints_named(StepRun& run, const PoseSettings& s, const Skeleton& skeleton) {
    std::vector<Index> out;
    std::vector<std::string_view> known;
    std::string some;
    for (const Joint& joint : skeleton.joints) {
        if (known.size() < 12) some += (some.empty() ? "" : ", ") + joint.name;
        if (known.size() == 12) some += " …";
        known.emplace_back(joint.name);
    }
    for (const std::string& name : names_in(s.joints)) {
        if (const auto joint = joint_called(skeleton, name)) {
            if (std::find(out.begin(), out.end(), *joint) == out.end()) out.push_back(*joint);
            continue;
        }
        const std::string near = std::string(nearest_word(known, name));
        run.tell(Severity::error, "no-joint",
                 near.empty() ? fmt::format("There is no joint “{}” here. The joints are {}.", name, some)
                              : fmt::format("There is no joint “{}” here. The nearest name is “{}”.", name, near));
    }
    return out;
}

void run_pose(const PoseSettings& s, StepRun& run) {
    Shape shape = run.shape();
    if (!shape.mesh.skeleton || shape.mesh.skeleton->joints.empty()) {
        run.tell(Severity::error, "no-joints",
                 "Nothing here has joints. They come from Flesh, when its Joints are on; a step between may have "
                 "dropped them.");
        return;
    }
    const Skeleton& skeleton = *shape.mesh.skeleton;
    if (s.joints.empty()) {
        run.tell(Severity::note, "no-joint-chosen",
                 "Click the joints to turn in the view, or name them with commas between: by name, or by number of the "
                 "knot.");
        run.give(std::move(shape));
        return;
    }
    const std::vector<Index> joints = joints_named(run, s, skeleton);
    if (run.failed()) return;
    std::vector<JointTurn> turns;
    std::size_t no_other = 0;
    for (const Index j : joints) {
        const glm::dmat3 turn =
            s.about == PoseSettings::About::own ? own_turn(skeleton.joints[j], s.turn) : room_turn(s.turn);
        turns.push_back({j, turn});
        if (s.other == PoseSettings::Other::none) continue;
        const auto other = joint_of_other_side(skeleton, j);
        if (!other)
            ++no_other;
        else if (std::find(joints.begin(), joints.end(), *other) == joints.end())
            turns.push_back({*other, mirrored_turn(turn, static_cast<int>(s.other) - 1)});
    }
    if (no_other > 0)
        run.tell(Severity::note, "no-other-side",
                 fmt::format("{} on no side of a mirror and {} turned alone.",
                             no_other == 1 ? "1 joint is" : fmt::format("{} joints are", no_other),
                             no_other == 1 ? "is" : "are"));
    Posed result = posed(shape.mesh, joint_moves(skeleton, turns));
    if (result.without_joint > 0)
        run.tell(
            Severity::caution, "follows-nothing",
            fmt::format(
                "{} no joint and {} where {}. Steps behind Flesh may have made points without values for "
                "the joints.",
                result.without_joint == 1 ? "1 point follows" : fmt::format("{} points follow", result.without_joint),
                result.without_joint == 1 ? "stays" : "stay", result.without_joint == 1 ? "it is" : "they are"));
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<PoseSettings> pose_step(
    StepInfo{
        .key = "pose",
        .name = "Pose",
        .family = Family::bend,
        .purpose = "Turns joints of a body, each about itself, and all that hangs on them.",
        .words = "joints rig animate bend limb arm finger rotate skin",
        .help =
            "The joints stand on the knots of the sticks that the body was made round and have their names. Several "
            "are turned by the same angles at once, each about where it stands. A body may go through several poses "
            "one after another; each turn can be a dial.",
        .glyph =
            "M5 21 L9 13 L17 11 M9 14.4a1.4 1.4 0 1 0 0-2.8a1.4 1.4 0 1 0 0 2.8 M13 4 A9 9 0 0 1 20 8 M20 4.5v3.7h-3.7",
        .gives = 0,
        .inputs = {{"shape", "Body", content_faces, true}},
        .telling = "{joints}"},
    {picked_from(text_of(&PoseSettings::joints, "joints", "Joints",
                         "Which are turned: click them in the view, or name them with commas between."),
                 "joints"),
     vector_of(&PoseSettings::turn, "turn", "Turn", Quantity::angle,
               "About its own axes: x bends across the limb, y over it, z turns about the limb itself."),
     choice_of(&PoseSettings::about, "about", "About",
               {{PoseSettings::About::own, "own", "its own axes"}, {PoseSettings::About::room, "room", "x, y and z"}},
               "The axes the turn is counted about: each joint's own, or the room's."),
     choice_of(&PoseSettings::other, "other", "Other side",
               {{PoseSettings::Other::none, "none", "stays"},
                {PoseSettings::Other::x, "x", "mirrored across x"},
                {PoseSettings::Other::y, "y", "mirrored across y"},
                {PoseSettings::Other::z, "z", "mirrored across z"}},
               "Turns the joints of the other side as a mirror shows it.")},
    run_pose);

}  // namespace

}  // namespace bricol
