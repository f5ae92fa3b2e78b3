// SPDX-License-Identifier: GPL-3.0-or-later
// Triangles paired to quads.
#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <queue>

#include "core/ground/stop.h"
#include "core/kernels/quad_cells.h"

namespace bricol {

namespace {

constexpr double worst_pair = 0.1;    // a quad of a smaller scaled Jacobian is not made on purpose
constexpr double lattice_gain = 0.3;  // what the diagonal of a lattice cell has before other edges
constexpr double dearest_walk = 12;   // cost of a walk; a quad of right angles costs nothing, a step 0.05
constexpr std::size_t longest_search = 600;

class Pairing {
public:
    Pairing(EvenTriangles& triangles, const std::vector<QuadStep>& step)
        : t_(triangles), step_(step), mate_(triangles.from.size() / 3, no_index) {}

    void take_best() {
        std::vector<std::pair<double, Index>> best;
        for (Index h = 0; h < t_.from.size(); ++h) {
            stop_point(h);
            if (t_.gone(h) || t_.held[h] || t_.twin[h] == no_index || t_.twin[h] < h) continue;
            const double jacobian = shape_of(h);
            if (jacobian < worst_pair) continue;
            const glm::ivec2 cells = glm::abs(step_[h].cells);
            best.emplace_back(-(jacobian + (cells == glm::ivec2(1, 1) ? lattice_gain : 0)), h);
        }
        std::ranges::sort(best);
        for (const auto& [cost, h] : best) pair_up(h / 3, t_.twin[h] / 3);
    }

    /// Leads left over triangles to one another.
    void walk() {
        for (Index f = 0; f < mate_.size(); ++f) {
            stop_point(f);
            if (t_.gone(3 * f) || mate_[f] != no_index) continue;
            if (const auto path = search(f)) follow(f, *path);
        }
    }

    std::vector<Index> mates() { return std::move(mate_); }

private:
    /// A left over triangle on a walk: how it came to be, and its corners.
    struct Stand {
        double cost = 0;
        Index before = no_index;   ///< the stand it came from
        Index entered = no_index;  ///< the triangle of the pair that was entered; no_index at the start and the end
        std::array<Index, 2> across{};  ///< the edge it came over
        bool turned = false;            ///< the pair's middle edge was turned first
        std::array<Index, 3> corners{};
        std::array<Index, 2> exits{no_index, no_index};  ///< half-edges to go on over
        std::array<Index, 2> pair{no_index, no_index};
    };

    double shape_of(Index h) const {
        const Index other = t_.twin[h];
        return scaled_jacobian(t_.point[t_.from[h]], t_.point[t_.from[EvenTriangles::prior(other)]], t_.point[t_.to(h)],
                               t_.point[t_.from[EvenTriangles::prior(h)]]);
    }
    void pair_up(Index f, Index g) {
        if (mate_[f] != no_index || mate_[g] != no_index) return;
        mate_[f] = g;
        mate_[g] = f;
    }
    Index corner_opposite(Index h) const { return t_.from[EvenTriangles::prior(h)]; }

    /// Cost of the quad of the triangle with `corners` and the one behind half-edge h, whose far corner is given.
    double cost_of(const std::array<Index, 3>& corners, Index p, Index q, Index far) const {
        Index own = corners[0];
        for (const Index c : corners)
            if (c != p && c != q) own = c;
        const double jacobian = scaled_jacobian(t_.point[p], t_.point[far], t_.point[q], t_.point[own]);
        return jacobian < worst_pair ? 1e30 : 1 - jacobian + 0.05;
    }

    bool on_path(const std::vector<Stand>& stands, Index from, Index triangle) const {
        for (Index at = from; at != no_index; at = stands[at].before)
            if (stands[at].pair[0] == triangle || stands[at].pair[1] == triangle) return true;
        return false;
    }

    /// The cheapest walk from a left over triangle to another; none within reach.
    std::optional<std::vector<Stand>> search(Index first) const {
        std::vector<Stand> stands;
        std::priority_queue<std::pair<double, Index>, std::vector<std::pair<double, Index>>, std::greater<>> queue;
        const auto add = [&](const Stand& stand) {
            if (stand.cost > dearest_walk) return;
            queue.emplace(stand.cost, static_cast<Index>(stands.size()));
            stands.push_back(stand);
        };
        Stand start;
        start.corners = {t_.from[3 * first], t_.from[3 * first + 1], t_.from[3 * first + 2]};
        start.pair = {first, first};
        std::map<std::pair<Index, bool>, bool> done;
        add(start);
        for (std::size_t looks = 0; !queue.empty() && looks < longest_search; ++looks) {
            const Index number = queue.top().second;
            queue.pop();
            const Stand here = stands[number];
            if (here.entered == no_index && number != 0) return path_to(stands, number);
            const Index self = here.pair[0] == here.entered ? here.pair[1] : here.pair[0];
            if (!done.try_emplace({self, here.turned}, true).second) continue;
            std::vector<Index> exits;
            if (number == 0)
                exits = {3 * first, 3 * first + 1, 3 * first + 2};
            else
                for (const Index exit : here.exits)
                    if (exit != no_index) exits.push_back(exit);
            for (const Index exit : exits) step_over(stands, number, here, exit, add);
        }
        return std::nullopt;
    }

    template <class Add>
    void step_over(const std::vector<Stand>& stands, Index number, const Stand& here, Index exit,
                   const Add& add) const {
        const Index in = t_.twin[exit];
        if (in == no_index || t_.held[exit]) return;
        const Index y = in / 3, z = mate_[y];
        if (on_path(stands, number, y)) return;
        // Seen from here the edge runs p to q; the far side has it the other way.
        const Index p = t_.from[exit], q = t_.to(exit);
        Stand next;
        next.before = number;
        next.across = {p, q};
        if (z == no_index) {
            next.cost = here.cost + cost_of(here.corners, p, q, corner_opposite(in));
            next.pair = {y, y};
            add(next);
            return;
        }
        next.entered = y;
        next.pair = {y, z};
        Index middle = 3 * y;
        while (t_.twin[middle] == no_index || t_.twin[middle] / 3 != z) ++middle;
        const Index across = t_.twin[middle];
        next.cost = here.cost + cost_of(here.corners, p, q, corner_opposite(in));
        next.corners = {t_.from[3 * z], t_.from[3 * z + 1], t_.from[3 * z + 2]};
        next.exits = {EvenTriangles::next(across), EvenTriangles::prior(across)};
        add(next);
        // With the middle edge turned the other outer edge of y is reached.
        Index outer = EvenTriangles::next(middle) == in ? EvenTriangles::prior(middle) : EvenTriangles::next(middle);
        const Index far = corner_opposite(across), near = corner_opposite(middle);
        const Index shared = EvenTriangles::next(middle) == in ? t_.from[middle] : t_.to(middle);
        if (step_turned_ok(middle)) {
            next.turned = true;
            next.cost = here.cost + cost_of(here.corners, p, q, far) + 0.05;
            next.corners = {far, shared, near};
            next.exits = {outer,
                          shared == t_.from[middle] ? EvenTriangles::next(across) : EvenTriangles::prior(across)};
            add(next);
        }
    }
    bool step_turned_ok(Index h) const { return const_cast<EvenTriangles&>(t_).can_turn(h); }

    std::vector<Stand> path_to(const std::vector<Stand>& stands, Index last) const {
        std::vector<Stand> path;
        for (Index at = last; stands[at].before != no_index; at = stands[at].before) path.push_back(stands[at]);
        std::ranges::reverse(path);
        return path;
    }

    /// The half-edge of a triangle that runs p to q.
    Index side_of(Index triangle, Index p, Index q) const {
        for (Index h = 3 * triangle; h < 3 * triangle + 3; ++h)
            if (t_.from[h] == p && t_.to(h) == q) return h;
        return no_index;
    }

    void follow(Index over, const std::vector<Stand>& path) {
        for (const Stand& stand : path) {
            const Index side = side_of(over, stand.across[0], stand.across[1]);
            if (side == no_index) return;
            const Index entered = t_.twin[side] / 3, other = mate_[entered];
            if (other == no_index) {
                pair_up(over, entered);
                return;
            }
            Index left = other, taken = entered;
            if (stand.turned) {
                Index middle = 3 * entered;
                while (t_.twin[middle] == no_index || t_.twin[middle] / 3 != other) ++middle;
                if (!t_.can_turn(middle)) return;
                t_.turn(middle);
                taken = t_.twin[side_of(over, stand.across[0], stand.across[1])] / 3;
                left = taken == entered ? other : entered;
            }
            mate_[entered] = mate_[other] = no_index;
            pair_up(over, taken);
            over = left;
        }
    }

    EvenTriangles& t_;
    const std::vector<QuadStep>& step_;
    std::vector<Index> mate_;
};

}  // namespace

double scaled_jacobian(const DVec3& a, const DVec3& b, const DVec3& c, const DVec3& d) {
    const std::array<DVec3, 4> corner{a, b, c, d};
    const DVec3 normal = glm::cross(c - a, d - b);
    const double size = glm::length(normal);
    if (!(size > 0)) return -1;
    double least = 1;
    for (std::size_t k = 0; k < 4; ++k) {
        const DVec3 ahead = corner[(k + 1) % 4] - corner[k], back = corner[(k + 3) % 4] - corner[k];
        const double sides = glm::length(ahead) * glm::length(back) * size;
        if (!(sides > 0)) return -1;
        least = std::min(least, glm::dot(glm::cross(ahead, back), normal) / sides);
    }
    return least;
}

std::vector<Index> quad_pairs(EvenTriangles& triangles, const std::vector<QuadStep>& step) {
    Pairing pairing(triangles, step);
    pairing.take_best();
    pairing.walk();
    return pairing.mates();
}

}  // namespace bricol
