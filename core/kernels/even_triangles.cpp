// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/even_triangles.h"

#include <algorithm>
#include <numeric>

#include "core/ground/stop.h"

namespace bricol {

double EvenTriangles::length2(Index h) const {
    const DVec3 d = point[to(h)] - point[from[h]];
    return glm::dot(d, d);
}

DVec3 EvenTriangles::normal(Index triangle) const {
    const DVec3& a = point[from[3 * triangle]];
    return glm::cross(point[from[3 * triangle + 1]] - a, point[from[3 * triangle + 2]] - a);
}

bool EvenTriangles::build(std::vector<DVec3> points, const std::vector<std::array<Index, 3>>& triangles) {
    point = std::move(points);
    const std::size_t sides = 3 * triangles.size();
    from.resize(sides);
    twin.assign(sides, no_index);
    held.assign(sides, 0);
    leaving.assign(point.size(), no_index);
    hold.assign(point.size(), VertexHold::free);
    alias.resize(point.size());
    std::iota(alias.begin(), alias.end(), Index(0));
    std::vector<Index> begins(point.size() + 1, 0);  // sides whose lower end is a vertex, in the list below
    for (std::size_t f = 0; f < triangles.size(); ++f) {
        stop_point(f);
        for (std::size_t k = 0; k < 3; ++k) {
            const auto h = static_cast<Index>(3 * f + k);
            const Index a = triangles[f][k], b = triangles[f][(k + 1) % 3];
            from[h] = a;
            leaving[a] = h;
            if (a == b) return false;
            ++begins[std::min(a, b) + 1];
        }
    }
    std::partial_sum(begins.begin(), begins.end(), begins.begin());
    struct Side {
        Index upper, side;
        auto operator<=>(const Side&) const = default;
    };
    std::vector<Side> running(sides);
    std::vector<Index> filled(begins.begin(), begins.end() - 1);
    for (Index h = 0; h < sides; ++h) {
        stop_point(h);
        running[filled[std::min(from[h], to(h))]++] = {std::max(from[h], to(h)), h};
    }
    // At each vertex the two sides of an edge come to stand side by side.
    for (std::size_t v = 0; v < point.size(); ++v) {
        stop_point(v);
        std::sort(running.begin() + begins[v], running.begin() + begins[v + 1]);
        for (Index i = begins[v]; i + 1 < begins[v + 1]; ++i) {
            if (running[i].upper != running[i + 1].upper) continue;
            const Index one = running[i].side, other = running[i + 1].side;
            if (from[one] == from[other] || twin[one] != no_index) return false;  // the same way, or a third side
            pair(one, other);
        }
    }
    part_fans();
    return true;
}

void EvenTriangles::pair(Index a, Index b) {
    if (a != no_index) twin[a] = b;
    if (b != no_index) twin[b] = a;
}

/// Every further fan at a vertex gets a vertex of its own in the same place, which never moves.
void EvenTriangles::part_fans() {
    std::vector<std::uint8_t> seen(from.size(), 0);
    const std::size_t points = point.size();
    for (Index v = 0; v < points; ++v) {
        stop_point(v);
        if (leaving[v] != no_index)
            for (const Index h : around(v)) seen[h] = 1;
    }
    for (Index h = 0; h < from.size(); ++h) {
        if (seen[h]) continue;
        const Index v = from[h];
        const auto fresh = static_cast<Index>(point.size());
        point.push_back(DVec3(point[v]));
        alias.push_back(alias[v]);
        hold[v] = VertexHold::corner;
        hold.push_back(VertexHold::corner);
        leaving.push_back(h);
        for (const Index other : around(fresh)) seen[other] = 1, from[other] = fresh;
    }
}

void EvenTriangles::drop_gone() {
    const std::size_t triangles = from.size() / 3;
    if (4 * gone_ < triangles) return;
    std::vector<Index> number(triangles);
    Index kept = 0;
    for (std::size_t f = 0; f < triangles; ++f) number[f] = gone(static_cast<Index>(3 * f)) ? no_index : kept++;
    const auto moved = [&](Index h) { return h == no_index ? h : 3 * number[h / 3] + h % 3; };
    for (Index h = 0; h < from.size(); ++h) {
        stop_point(h);
        if (gone(h)) continue;
        const Index to = moved(h);
        from[to] = from[h], twin[to] = moved(twin[h]), held[to] = held[h];
    }
    from.resize(3 * kept), twin.resize(3 * kept), held.resize(3 * kept);
    for (Index& h : leaving) h = moved(h);
    gone_ = 0;
}

const std::vector<Index>& EvenTriangles::around(Index v) {
    ring_.clear();
    const Index first = leaving[v];
    Index h = first;
    do {
        ring_.push_back(h);
        h = twin[prior(h)];
    } while (h != no_index && h != first);
    if (h == first) return ring_;
    // Came to a border: the rest lies the other way round.
    std::ranges::reverse(ring_);
    for (h = twin[first]; h != no_index; h = twin[h]) {
        h = next(h);
        ring_.push_back(h);
    }
    std::ranges::reverse(ring_);
    return ring_;
}

Index EvenTriangles::split(Index h) {
    const Index other = twin[h];
    const auto middle = static_cast<Index>(point.size());
    point.push_back((point[from[h]] + point[to(h)]) * 0.5);
    hold.push_back(held[h] ? VertexHold::line : VertexHold::free);
    alias.push_back(middle);
    leaving.push_back(no_index);
    // The triangle of `side` keeps the half at its start; a new one gets the other half. Gives that half.
    const auto halve = [&](Index side) {
        const Index after = next(side), apex = prior(side);
        const auto half = static_cast<Index>(from.size());
        const Index end = from[after];
        from.insert(from.end(), {middle, end, from[apex]});
        held.insert(held.end(), {held[side], held[after], 0});
        twin.insert(twin.end(), {no_index, no_index, no_index});
        pair(half + 1, twin[after]);
        if (leaving[end] == after) leaving[end] = half + 1;
        from[after] = middle;
        held[after] = 0;
        pair(after, half + 2);
        return half;
    };
    const Index ahead = halve(h);
    leaving[middle] = ahead;
    twin[h] = no_index;
    if (other != no_index) {
        const Index behind = halve(other);
        pair(h, behind);
        pair(other, ahead);
    }
    return middle;
}

bool EvenTriangles::of_three(Index h) const {
    const Index first = h;
    for (int k = 0; k < 3; ++k) {
        h = twin[prior(h)];
        if (h == no_index) return false;
        if (h == first) return true;
    }
    return false;
}

void EvenTriangles::look_round(Index v, std::vector<Index>& neighbours) {
    neighbours.clear();
    for (const Index e : around(v)) {
        neighbours.push_back(to(e));
        if (twin[prior(e)] == no_index) neighbours.push_back(from[prior(e)]);
    }
}

bool EvenTriangles::may_leave(Index h) const {
    const Index a = from[h], other = twin[h];
    if (hold[a] == VertexHold::corner || (hold[a] == VertexHold::line && !held[h])) return false;
    if (twin[next(h)] == no_index && twin[prior(h)] == no_index) return false;
    if (other != no_index && twin[next(other)] == no_index && twin[prior(other)] == no_index) return false;
    // A vertex of three triangles opposite the edge would be left with two that lie on each other.
    return !of_three(prior(h)) && !(other != no_index && of_three(prior(other)));
}

bool EvenTriangles::linked_as_one(Index h) {
    std::ranges::sort(near_to_);
    std::ranges::sort(near_from_);
    both_.clear();
    std::ranges::set_intersection(near_from_, near_to_, std::back_inserter(both_));
    return both_.size() == (twin[h] == no_index ? 1U : 2U);
}

bool EvenTriangles::can_join_at_all(Index h) {
    if (!may_leave(h)) return false;
    look_round(to(h), near_to_);
    look_round(from[h], near_from_);
    return linked_as_one(h);
}

bool EvenTriangles::can_join(Index h, double longest, std::size_t most_near) {
    if (!may_leave(h)) return false;
    const Index a = from[h], b = to(h);
    look_round(b, near_to_);
    look_round(a, near_from_);
    if (near_from_.size() + near_to_.size() > most_near) return false;
    for (const Index v : near_from_) {
        const DVec3 way = point[v] - point[b];
        if (v != b && glm::dot(way, way) > longest) return false;
    }
    for (const Index e : ring_) {  // the last that was looked round: those of a
        const Index p = to(e), q = from[prior(e)];
        if (p == b || q == b) continue;
        const DVec3 before = glm::cross(point[p] - point[a], point[q] - point[a]),
                    after = glm::cross(point[p] - point[b], point[q] - point[b]);
        // Without area before, it may turn as it likes; else by 60 degrees at most.
        if (glm::dot(before, before) > 0 && !(glm::dot(before, after) > 0.5 * glm::length(before) * glm::length(after)))
            return false;
        if (!(glm::dot(after, after) > 0)) return false;
    }
    return linked_as_one(h);  // last: most that cannot be joined would get too long an edge or turn over
}

void EvenTriangles::join(Index h, std::vector<Index>& touched) {
    const Index a = from[h], b = to(h), other = twin[h];
    ring_from_ = around(a);
    ring_to_ = around(b);
    // Closes the triangle of `side`: its two other edges become one.
    const auto close = [&](Index side) {
        const Index second = next(side), third = prior(side), outer = twin[second], inner = twin[third];
        const std::uint8_t line = held[second] | held[third] | (outer == no_index || inner == no_index);
        if (outer != no_index) twin[outer] = inner, held[outer] = line;
        if (inner != no_index) twin[inner] = outer, held[inner] = line;
        // The outer one runs out of the corner opposite, the inner one into it.
        leaving[from[third]] = outer != no_index ? outer : next(inner);
    };
    close(h);
    if (other != no_index) close(other);
    for (const Index e : ring_from_) from[e] = b;
    for (const Index side : {h, other})
        if (side != no_index) {
            const Index first = side - side % 3;
            from[first] = from[first + 1] = from[first + 2] = no_index;
            ++gone_;
        }
    leaving[a] = leaving[b] = no_index;
    for (const std::vector<Index>* ring : {&ring_from_, &ring_to_})
        for (const Index e : *ring)
            if (leaving[b] == no_index && !gone(e)) leaving[b] = e;
    touched = around(b);
}

bool EvenTriangles::can_turn(Index h) {
    const Index other = twin[h];
    if (other == no_index || held[h]) return false;
    const Index a = from[h], b = to(h), c = from[prior(h)], d = from[prior(other)];
    if (c == d) return false;
    for (const Index e : around(c))
        if (to(e) == d || from[prior(e)] == d) return false;
    // A vertex inside keeps three triangles, one on a border keeps one.
    for (const Index v : {a, b}) {
        const std::vector<Index>& ring = around(v);
        if (ring.size() <= 3 && twin[ring.front()] != no_index) return false;
    }
    // Across a ridge it would cut the ridge off.
    const DVec3 here = normal(h / 3), there = normal(other / 3), sum = here + there;
    if (glm::dot(here, there) < 0.5 * glm::length(here) * glm::length(there)) return false;
    const DVec3 one = glm::cross(point[d] - point[c], point[b] - point[c]),
                two = glm::cross(point[c] - point[d], point[a] - point[d]);
    return glm::dot(one, sum) > 0 && glm::dot(two, sum) > 0;
}

void EvenTriangles::turn(Index h) {
    // h runs a to b below c, its twin b to a below d; after it h runs d to c, the twin c to d.
    const Index other = twin[h], bc = next(h), ca = prior(h), ad = next(other), db = prior(other);
    const Index a = from[h], b = from[bc], c = from[ca], d = from[db];
    // Triangle of h: d, c, a with sides h (d to c), ca, ad; triangle of its twin: c, d, b with sides other, db, bc.
    const Index outer_bc = twin[bc], outer_ad = twin[ad];
    const std::uint8_t held_bc = held[bc], held_ad = held[ad];
    const Index outer_ca = twin[ca], outer_db = twin[db];
    const std::uint8_t held_ca = held[ca], held_db = held[db];
    const auto place = [&](Index slot, Index v, Index outer, std::uint8_t line) {
        from[slot] = v;
        twin[slot] = no_index;
        if (outer != no_index) pair(slot, outer);
        held[slot] = line;
    };
    place(bc, c, outer_ca, held_ca);
    place(ca, a, outer_ad, held_ad);
    place(ad, d, outer_db, held_db);
    place(db, b, outer_bc, held_bc);
    from[h] = d;
    from[other] = c;
    pair(h, other);
    held[h] = held[other] = 0;
    leaving[a] = ca;
    leaving[b] = db;
    leaving[c] = bc;
    leaving[d] = ad;
}

}  // namespace bricol
