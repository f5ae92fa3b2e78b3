// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/flesh_cage.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"
#include "core/kernels/branching.h"

namespace bricol {

namespace {

using Ring = std::array<Index, 4>;

double mean_girth(const StickKnot& knot) { return std::sqrt(knot.girth.x * knot.girth.y); }

/// One end of a tube.
struct TubeEnd {
    Index bone = 0;
    DVec3 way{0};  ///< from the joint along the tube, unit length
    Ring ring{};   ///< counterclockwise about `way`
};

/// Knots that are one for the cage: a knot and those that lie in its ball.
struct CageJoint {
    Index centre = 0;  ///< the knot with the largest girth
    std::vector<Index> knots;
    std::vector<Index> inner;  ///< all bones at its knots, those within it too
    std::vector<TubeEnd> ends;
    bool fixed = false;  ///< its ring does not follow the chain it stands in
};

/// How a tube lies: between which joints, and the way from which its corners are counted.
struct Tube {
    Index from = 0, to = 0;
    DVec3 along{0}, across{0}, over{0};
    double phase = 0;  ///< of the ring at `to`, radians from `across` towards `over`
    Index chain = no_index;
    int place = 0;  ///< how many tubes of the chain come before it
    bool closes = false;
};

/// Tubes one after another without a fork.
struct TubeChain {
    double start = 0.25 * std::numbers::pi;  ///< phase it begins with
    bool free_start = true, free_end = true;
    double residual = 0;  ///< turn that is left when it meets a fork
    int tubes = 0;
};

double within_quarter(double angle) {
    const double quarter = 0.5 * std::numbers::pi;
    return angle - quarter * std::round(angle / quarter);
}

class CageBuilder {
public:
    CageBuilder(const Sticks& sticks, int rings) : sticks_(sticks), rings_(rings) {}

    FleshCage build() {
        for (const StickBone& bone : sticks_.bones)
            out_.fields.emplace_back(bone, sticks_.knots[bone.from], sticks_.knots[bone.to]);
        join_swallowed();
        if (out_.too_many_at != no_index) return std::move(out_);
        find_near();
        for (CageJoint& joint : joints_)
            if (joint.ends.size() >= 3) share_out(joint);
        leads_in_.assign(joints_.size(), no_index);
        for (const Tube& tube : tubes_)
            if (tube.from != no_index && !tube.closes) leads_in_[tube.to] = static_cast<Index>(&tube - tubes_.data());
        for (CageJoint& joint : joints_)  // a root within a limb: both ways begin with its corners
            if (joint.ends.size() == 2 && leads_in_[static_cast<Index>(&joint - joints_.data())] == no_index) {
                lay_between(joint, -0.25 * std::numbers::pi);
                joint.fixed = true;
            }
        find_phases();
        for (CageJoint& joint : joints_) {
            stop_point();
            if (joint.ends.empty())
                lay_ball(joint);
            else if (joint.ends.size() == 1)
                lay_end(joint);
            else if (joint.ends.size() == 2 && !joint.fixed)
                lay_between(joint, tubes_[leads_in_[static_cast<Index>(&joint - joints_.data())]].phase);
        }
        for (Index b = 0; b < tubes_.size(); ++b)
            if (tubes_[b].from != no_index) lay_tube(b);
        find_narrow();
        return std::move(out_);
    }

private:
    const StickKnot& knot_of(const CageJoint& joint) const { return sticks_.knots[joint.centre]; }

    /// Joins knots that lie deep in each other's balls, outward from the roots, and lists the tubes that are left.
    void join_swallowed() {
        const std::size_t n = sticks_.knots.size();
        DisjointSets sets(n);
        std::vector<Index> centre(n);
        for (Index k = 0; k < n; ++k) centre[k] = k;
        for (const StickBone& bone : sticks_.bones) {
            const Index a = sets.root(bone.from), b = sets.root(bone.to);
            if (a == b) continue;
            const StickKnot &first = sticks_.knots[centre[a]], &second = sticks_.knots[centre[b]];
            const double far = glm::distance(first.at, second.at);
            const bool first_larger = mean_girth(first) >= mean_girth(second);
            const StickKnot &large = first_larger ? first : second, &small = first_larger ? second : first;
            const double room = std::min(large.girth.x, large.girth.y);
            const bool whole = far + std::max(small.girth.x, small.girth.y) <= room;
            if (!whole && far > 0.6 * room) continue;
            if (whole) out_.swallowed.push_back(first_larger ? bone.to : bone.from);
            const Index kept = first_larger ? centre[a] : centre[b];
            sets.join(a, b);
            centre[sets.root(a)] = kept;
        }
        joint_of_.assign(n, no_index);
        for (Index k = 0; k < n; ++k) {
            const Index root = sets.root(k);
            if (joint_of_[root] == no_index) {
                joint_of_[root] = static_cast<Index>(joints_.size());
                joints_.push_back({centre[root], {}, {}, {}, false});
            }
            joint_of_[k] = joint_of_[root];
            joints_[joint_of_[k]].knots.push_back(k);
        }
        list_tubes();
    }

    void list_tubes() {
        tubes_.assign(sticks_.bones.size(), Tube{no_index, no_index, {}, {}, {}, 0, no_index, 0, false});
        for (CageJoint& joint : joints_) {
            for (const Index k : joint.knots)
                for (const Index b : sticks_.bones_at[k]) joint.inner.push_back(b);
            std::sort(joint.inner.begin(), joint.inner.end());
            joint.inner.erase(std::unique(joint.inner.begin(), joint.inner.end()), joint.inner.end());
        }
        std::set<std::array<Index, 2>> between;
        for (Index b = 0; b < sticks_.bones.size(); ++b) {
            const StickBone& bone = sticks_.bones[b];
            const Index from = joint_of_[bone.from], to = joint_of_[bone.to];
            // A second tube between two balls would lie in the first: its bone only adds to the flesh there.
            if (from == to || !between.insert({std::min(from, to), std::max(from, to)}).second) continue;
            Tube& tube = tubes_[b];
            tube.from = from, tube.to = to, tube.closes = bone.closes;
            tube.along = glm::normalize(knot_of(joints_[to]).at - knot_of(joints_[from]).at);
            DVec3 across = bone.across - tube.along * glm::dot(bone.across, tube.along);
            if (glm::length(across) < 1e-6) across = glm::cross(tube.along, bone.along);
            if (glm::length(across) < 1e-6) across = glm::cross(tube.along, DVec3(0.36, 0.48, 0.8));
            tube.across = glm::normalize(across);
            tube.over = glm::cross(tube.along, tube.across);
            joints_[from].ends.push_back({b, tube.along, {}});
            joints_[to].ends.push_back({b, -tube.along, {}});
        }
        for (const CageJoint& joint : joints_)
            if (joint.ends.size() > most_bones_at_knot && out_.too_many_at == no_index) out_.too_many_at = joint.centre;
    }

    /// Bones whose flesh may run into a bone's own: those at its joints, and past bones that are shorter than thick.
    void find_near() {
        out_.near.resize(sticks_.bones.size());
        const auto short_one = [&](Index b) {
            const StickBone& bone = sticks_.bones[b];
            return bone.length < 0.5 * (mean_girth(sticks_.knots[bone.from]) + mean_girth(sticks_.knots[bone.to]));
        };
        for (Index b = 0; b < sticks_.bones.size(); ++b) {
            std::vector<Index>& near = out_.near[b];
            for (const Index k : {sticks_.bones[b].from, sticks_.bones[b].to})
                for (const Index other : joints_[joint_of_[k]].inner) {
                    near.push_back(other);
                    if (!short_one(other)) continue;
                    for (const Index end : {sticks_.bones[other].from, sticks_.bones[other].to})
                        for (const Index further : joints_[joint_of_[end]].inner) near.push_back(further);
                }
            std::sort(near.begin(), near.end());
            near.erase(std::unique(near.begin(), near.end()), near.end());
        }
    }

    Index add(const DVec3& point, const DVec3& axis, bool between = false) {
        out_.points.push_back(point);
        out_.axis.push_back(axis);
        out_.between.push_back(between);
        return static_cast<Index>(out_.points.size() - 1);
    }

    /// A point of the flesh out along a direction from a joint, held back where it would pass the far ends of the
    /// tubes it lies between.
    Index add_out(const CageJoint& joint, const DVec3& way, bool* held = nullptr) {
        const StickKnot& knot = knot_of(joint);
        double t = flesh_reach(out_.fields, joint.inner, knot.at, way);
        for (const TubeEnd& end : joint.ends) {
            const double slope = glm::dot(way, end.way);
            if (slope <= 0.05) continue;
            const Tube& tube = tubes_[end.bone];
            const Index other = &joint == &joints_[tube.from] ? tube.to : tube.from;
            const double length = glm::distance(knot_of(joints_[other]).at, knot.at);
            const double most = std::max(0.8 * length / slope, mean_girth(knot));
            if (t <= most) continue;
            if (held && t > 1.3 * most) *held = true;  // less is hidden by the smoothing
            t = most;
        }
        return add(knot.at + way * t, knot.at);
    }

    void share_out(CageJoint& joint) {
        std::vector<DVec3> ways;
        for (const TubeEnd& end : joint.ends) ways.push_back(end.way);
        const Branching branching = branching_of(ways);
        const auto first = static_cast<Index>(out_.points.size());
        std::vector<std::uint8_t> held(branching.points.size(), 0);
        for (std::size_t p = 0; p < branching.points.size(); ++p) {
            bool back = false;
            add_out(joint, branching.points[p], &back);
            held[p] = back;
        }
        for (std::size_t e = 0; e < joint.ends.size(); ++e)
            for (int c = 0; c < 4; ++c) joint.ends[e].ring[c] = first + branching.rings[e][c];
        joint.fixed = true;
        if (std::find(held.begin(), held.end(), 1) != held.end()) held_.push_back(joint.centre);
    }

    /// Forks whose limbs cannot part in time: points had to be held back, or the far end of one lies in the other.
    void find_narrow() {
        for (const CageJoint& joint : joints_) {
            Index far_knot = no_index;
            double move = 0;
            for (const TubeEnd& one : joint.ends)
                for (const TubeEnd& other : joint.ends) {
                    if (one.bone == other.bone || glm::dot(one.way, other.way) <= 0.35) continue;
                    const Tube& tube = tubes_[one.bone];
                    const CageJoint& end = joints_[&joint == &joints_[tube.from] ? tube.to : tube.from];
                    const double lacks =
                        0.5 * mean_girth(knot_of(end)) - out_.fields[other.bone].at(knot_of(end).at).distance;
                    if (lacks > move) move = lacks, far_knot = end.centre;
                }
            if (std::find(held_.begin(), held_.end(), joint.centre) != held_.end())
                tell_narrow(joint, no_index, 0);
            else if (far_knot != no_index)
                tell_narrow(joint, far_knot, move);
        }
    }

    /// The two bones of a fork that are nearest each other, and what would make room.
    void tell_narrow(const CageJoint& joint, Index far, double move) {
        NarrowFork fork;
        fork.far = far, fork.move = move;
        double nearest = -2;
        for (std::size_t i = 0; i < joint.ends.size(); ++i)
            for (std::size_t j = i + 1; j < joint.ends.size(); ++j)
                if (const double c = glm::dot(joint.ends[i].way, joint.ends[j].way); c > nearest) {
                    nearest = c;
                    fork.first = joint.ends[i].bone, fork.second = joint.ends[j].bone;
                }
        fork.knot = joint.centre;
        const double angle = std::acos(std::clamp(nearest, -1.0, 1.0));
        const double length = std::min(sticks_.bones[fork.first].length, sticks_.bones[fork.second].length);
        // Two tubes of radius r part r / sin(angle / 2) from the knot along their middle: that times cos(angle / 2)
        // along either, of which 0.8 of the shorter bone is the most.
        fork.angle = glm::degrees(angle);
        fork.girth_that_fits = 0.8 * length * std::tan(0.5 * angle);
        const double fits = 2 * std::atan(mean_girth(knot_of(joint)) / (0.8 * length));
        fork.angle_that_fits = fits < 0.9 * std::numbers::pi ? glm::degrees(fits) : 0;
        out_.narrow.push_back(fork);
    }

    /// The phase of a ring about a tube: how far its corners are turned from `across`, within a quarter turn.
    double phase_of(const Tube& tube, const Ring& ring, const DVec3& centre) const {
        double c = 0, s = 0;
        for (const Index p : ring) {
            const DVec3 off = out_.points[p] - centre;
            const double angle = 4 * std::atan2(glm::dot(off, tube.over), glm::dot(off, tube.across));
            c += std::cos(angle), s += std::sin(angle);
        }
        return 0.25 * std::atan2(s, c);
    }

    const Ring& ring_at(const CageJoint& joint, Index bone) const {
        return std::find_if(joint.ends.begin(), joint.ends.end(), [&](const TubeEnd& e) { return e.bone == bone; })
            ->ring;
    }

    /// Rings between two forks turn little by little from the one's corners to the other's.
    void find_phases() {
        std::vector<TubeChain> chains;
        for (Index b = 0; b < tubes_.size(); ++b) {
            Tube& tube = tubes_[b];
            if (tube.from == no_index || tube.closes) continue;
            const CageJoint &from = joints_[tube.from], &to = joints_[tube.to];
            const Index before = leads_in_[tube.from];
            // A ring may lead back into the ball it came from: its chain begins anew there.
            const bool goes_on = before != no_index && tubes_[before].chain != no_index;
            if (goes_on && from.ends.size() == 2 && !from.fixed) {
                tube.chain = tubes_[before].chain;
                tube.place = tubes_[before].place + 1;
            } else {
                tube.chain = static_cast<Index>(chains.size());
                chains.emplace_back();
                if (from.fixed) {
                    chains.back().start = phase_of(tube, ring_at(from, b), knot_of(from).at);
                    chains.back().free_start = false;
                }
            }
            TubeChain& chain = chains[tube.chain];
            chain.tubes = tube.place + 1;
            if (to.fixed) {
                chain.free_end = false;
                chain.residual = within_quarter(phase_of(tube, ring_at(to, b), knot_of(to).at) - chain.start);
            }
        }
        for (Tube& tube : tubes_) {
            if (tube.chain == no_index) continue;
            const TubeChain& chain = chains[tube.chain];
            const double turned = chain.free_start ? chain.residual : chain.residual * (tube.place + 1) / chain.tubes;
            tube.phase = chain.start + turned;
        }
        start_phase_.assign(joints_.size(), 0.25 * std::numbers::pi);
        for (const Tube& tube : tubes_)
            if (tube.chain != no_index && tube.place == 0 && chains[tube.chain].free_start)
                start_phase_[tube.from] = chains[tube.chain].start + chains[tube.chain].residual;
    }

    /// The way to a corner of a ring: where a square's would be, were the ring round; drawn out with the girth.
    DVec3 corner_way(const StickKnot& knot, Index bone, const DVec3& across, const DVec3& over, double phase,
                     int corner, double sense) const {
        const double roll = sense * (sticks_.bones[bone].tilt + knot.roll);
        const double angle = phase + 0.5 * std::numbers::pi * corner - roll;
        const double x = std::cos(angle) * knot.girth.x, y = std::sin(angle) * knot.girth.y;
        return glm::normalize(across * (x * std::cos(roll) - y * std::sin(roll)) +
                              over * (x * std::sin(roll) + y * std::cos(roll)));
    }

    /// A joint that two tubes meet in: a ring in the plane between them, its corners turned by `phase` from the way
    /// across the tube that leads in (or the root's first).
    void lay_between(CageJoint& joint, double phase) {
        const Index joint_number = static_cast<Index>(&joint - joints_.data());
        const Index in = leads_in_[joint_number];
        TubeEnd *first = &joint.ends[0], *second = &joint.ends[1];
        if (second->bone == in) std::swap(first, second);
        DVec3 middle = second->way - first->way;  // `first` leads in, or is the root's first
        middle = glm::length(middle) > 1e-6 ? glm::normalize(middle) : second->way;
        const Tube& tube = tubes_[first->bone];
        DVec3 across = tube.across - middle * glm::dot(tube.across, middle);
        if (glm::length(across) < 1e-6) across = glm::cross(middle, tube.over);
        across = glm::normalize(across);
        const DVec3 over = glm::cross(middle, across);
        Ring ring;
        for (int c = 0; c < 4; ++c) {
            bool held = false;
            ring[c] = add_out(joint, corner_way(knot_of(joint), first->bone, across, over, phase, c, 1), &held);
            if (held) held_.push_back(joint.centre);
        }
        second->ring = ring;  // counterclockwise about `middle`
        first->ring = {ring[3], ring[2], ring[1], ring[0]};
    }

    /// The end of a limb: a ring and half a ball, or a flat face.
    void lay_end(CageJoint& joint) {
        const Index joint_number = static_cast<Index>(&joint - joints_.data());
        TubeEnd& end = joint.ends[0];
        const Tube& tube = tubes_[end.bone];
        const bool leads_in = leads_in_[joint_number] == end.bone;
        const double phase = leads_in ? tube.phase : start_phase_[joint_number];
        const DVec3 over = glm::cross(end.way, tube.across);
        const double sense = glm::dot(over, tube.over) > 0 ? 1 : -1;
        std::array<DVec3, 4> ways;
        for (int c = 0; c < 4; ++c) {
            ways[c] = corner_way(knot_of(joint), end.bone, tube.across, over, sense * phase, c, sense);
            end.ring[c] = add_out(joint, ways[c]);
        }
        const StickKnot& knot = knot_of(joint);
        const Ring& r = end.ring;
        if (knot.cut) {
            out_.flat.push_back(static_cast<Index>(out_.quads.size()));
            out_.flat_knot.push_back(joint.centre);
            add_quad({r[3], r[2], r[1], r[0]}, end.bone);
            return;
        }
        // The corners of a cube in the ball: 54.7 degrees from the end's direction.
        const double cosine = 1 / std::numbers::sqrt3, sine = std::sqrt(2.0 / 3.0);
        Ring cap;
        for (int c = 0; c < 4; ++c) cap[c] = add_out(joint, ways[c] * sine - end.way * cosine);
        for (int c = 0; c < 4; ++c) add_quad({r[(c + 1) % 4], r[c], cap[c], cap[(c + 1) % 4]}, end.bone);
        add_quad({cap[3], cap[2], cap[1], cap[0]}, end.bone);
    }

    void lay_ball(const CageJoint& joint) {
        const StickKnot& knot = knot_of(joint);
        const double side = 1 / std::numbers::sqrt3;
        const auto first = static_cast<Index>(out_.points.size());
        const DVec3 size(knot.girth.x, mean_girth(knot), knot.girth.y);
        for (int c = 0; c < 8; ++c)
            add(knot.at + size * DVec3(c & 1 ? side : -side, c & 2 ? side : -side, c & 4 ? side : -side), knot.at);
        for (const Ring& q : {Ring{0, 2, 3, 1}, Ring{4, 5, 7, 6}, Ring{0, 1, 5, 4}, Ring{2, 6, 7, 3}, Ring{0, 4, 6, 2},
                              Ring{1, 3, 7, 5}})
            add_quad({first + q[0], first + q[1], first + q[2], first + q[3]}, no_index, joint.centre);
    }

    void add_quad(const Ring& quad, Index bone, Index knot = no_index) {
        out_.quads.push_back(quad);
        out_.quad_bone.push_back(bone);
        out_.quad_knot.push_back(knot);
    }

    /// The sides of a tube, its far ring turned so that it is twisted least.
    void lay_tube(Index b) {
        const Tube& tube = tubes_[b];
        const Ring& start = ring_at(joints_[tube.from], b);
        const Ring far = ring_at(joints_[tube.to], b);
        const Ring end{far[3], far[2], far[1], far[0]};  // counterclockwise about `along`, as the start is
        const auto ways = [&](const Ring& ring) {
            std::array<DVec3, 4> out;
            for (int c = 0; c < 4; ++c) {  // directions alone, so that no girth turns the tube
                DVec3 off = out_.points[ring[c]] - out_.axis[ring[c]];
                off = glm::length(off) > 0 ? glm::normalize(off) : off;
                off -= tube.along * glm::dot(off, tube.along);
                out[c] = glm::length(off) > 0 ? glm::normalize(off) : DVec3(0);
            }
            return out;
        };
        const auto a = ways(start), z = ways(end);
        int best = 0;
        double most = -1e30;
        for (int turn = 0; turn < 4; ++turn) {
            double sum = 0;
            for (int c = 0; c < 4; ++c) sum += glm::dot(a[c], z[(c + turn) % 4]);
            if (sum > most + 1e-9) most = sum, best = turn;
        }
        Ring before = start;
        for (int k = 1; k <= rings_ + 1; ++k) {
            Ring next;
            for (int c = 0; c < 4; ++c) {
                const Index last = end[(c + best) % 4];
                const double t = static_cast<double>(k) / (rings_ + 1);
                const DVec3 between = out_.points[start[c]] + (out_.points[last] - out_.points[start[c]]) * t;
                const DVec3 axis = out_.axis[start[c]] + (out_.axis[last] - out_.axis[start[c]]) * t;
                next[c] = k > rings_ ? last : add(between, axis, true);
            }
            for (int c = 0; c < 4; ++c) {
                const int d = (c + 1) % 4;
                add_quad({before[c], before[d], next[d], next[c]}, b);
            }
            before = next;
        }
    }

    const Sticks& sticks_;
    int rings_ = 0;
    FleshCage out_;
    std::vector<Index> joint_of_;  // of every knot
    std::vector<CageJoint> joints_;
    std::vector<Tube> tubes_;      // of every bone; `from` is no_index for those within a joint
    std::vector<Index> leads_in_;  // of every joint: the tube that leads outward to it
    std::vector<double> start_phase_;
    std::vector<Index> held_;  // knots of joints where points were held back
};

}  // namespace

FleshCage flesh_cage(const Sticks& sticks, int rings) { return CageBuilder(sticks, rings).build(); }

}  // namespace bricol
