// SPDX-License-Identifier: GPL-3.0-or-later
// Joining the vertices round every lattice point.
#include <algorithm>
#include <cmath>

#include "core/ground/stop.h"
#include "core/kernels/quad_cells.h"

namespace bricol {

namespace {

class LatticeJoin {
public:
    LatticeJoin(EvenTriangles& triangles, QuadLattice& lattice, const QuadLines& lines)
        : t_(triangles), lattice_(lattice), lines_(lines) {}

    /// Where every vertex's lattice point lies, as it sees it.
    void place_points(const QuadMaps& maps, const std::vector<double>& turn, const std::vector<double>& cell) {
        wish_.resize(t_.point.size());
        along_.assign(t_.point.size(), 0);
        heads_.assign(t_.point.size(), 1);
        for (Index v = 0; v < t_.point.size(); ++v) {
            const DVec2 off = -cell[v] * lattice_.place[v];
            const double c = std::cos(turn[v]), s = std::sin(turn[v]);
            wish_[v] = t_.point[v] + maps.x[v] * (c * off.x - s * off.y) + maps.y[v] * (s * off.x + c * off.y);
            if (t_.hold[v] == VertexHold::line && lines_.place[v].line != no_index) {
                const QuadLine& line = lines_.lines[lines_.place[v].line];
                const DVec3 ahead = line.at(lines_.place[v].along + 1e-3 * cell[v]) - line.at(lines_.place[v].along);
                along_[v] = lines_.place[v].along + (glm::dot(ahead, maps.x[v]) < 0 ? -off.x : off.x);
            }
        }
    }

    void join_all() {
        for (bool again = true; again;) {
            again = false;
            std::vector<std::pair<double, Index>> near;
            for (Index h = 0; h < t_.from.size(); ++h) {
                stop_point(h);
                if (!t_.gone(h) && (t_.twin[h] == no_index || h < t_.twin[h]) && nothing_between(h))
                    near.emplace_back(t_.length2(h), h);
            }
            std::ranges::sort(near);
            for (std::size_t i = 0; i < near.size(); ++i) {
                stop_point(i);
                const Index h = near[i].second;
                if (t_.gone(h) || !nothing_between(h)) continue;
                if (t_.can_join_at_all(h))
                    join(h);
                else if (t_.twin[h] != no_index && t_.can_join_at_all(t_.twin[h]))
                    join(t_.twin[h]);
                else
                    continue;
                again = true;
            }
        }
    }

    void move_points() {
        for (Index v = 0; v < t_.point.size(); ++v) {
            if (t_.leaving[v] == no_index || t_.hold[v] == VertexHold::corner) continue;
            if (t_.hold[v] == VertexHold::free)
                t_.point[v] = wish_[v] / static_cast<double>(heads_[v]);
            else if (lines_.place[v].line != no_index)
                t_.point[v] = lines_.lines[lines_.place[v].line].at(along_[v] / heads_[v]);
        }
    }
    double along(Index v) const { return along_[v] / heads_[v]; }

private:
    bool nothing_between(Index h) const { return lattice_.step[h].cells == glm::ivec2(0); }

    /// The vertex h leaves goes to the other end, and all steps to and from it with it.
    void join(Index h) {
        const Index a = t_.from[h], b = t_.to(h);
        const int quarters = lattice_.step[h].quarters;
        for (const Index e : t_.around(a)) {
            QuadStep& out = lattice_.step[e];
            out.cells = quarter_turned(out.cells, quarters);
            out.quarters = (out.quarters - quarters) & 3;
            QuadStep& in = lattice_.step[EvenTriangles::prior(e)];
            in.quarters = (in.quarters + quarters) & 3;
        }
        if (t_.hold[a] == t_.hold[b]) {
            wish_[b] += wish_[a];
            heads_[b] += heads_[a];
            join_along(a, b);
        }
        t_.join(h, touched_);
        // Two edges that became one may have counted differently near a singular place; the first of them is right.
        for (const Index e : touched_)
            if (const Index other = t_.twin[e]; other != no_index)
                lattice_.step[std::max(e, other)] = lattice_.step[std::min(e, other)].inverse();
    }

    /// Round a ring the two may lie on either side of its start.
    void join_along(Index a, Index b) {
        double more = along_[a];
        if (const Index line = lines_.place[b].line; t_.hold[b] == VertexHold::line && line != no_index) {
            const QuadLine& on = lines_.lines[line];
            const double whole = on.past.back();
            const int heads_a = heads_[a], heads_b = heads_[b] - heads_a;
            if (on.ring) more -= heads_a * whole * std::round((more / heads_a - along_[b] / heads_b) / whole);
        }
        along_[b] += more;
    }

    EvenTriangles& t_;
    QuadLattice& lattice_;
    const QuadLines& lines_;
    std::vector<DVec3> wish_;    // sums over the vertices joined
    std::vector<double> along_;  // sums likewise
    std::vector<int> heads_;     // how many they are
    std::vector<Index> touched_;
};

}  // namespace

DVec3 QuadLine::at(double along) const {
    const double whole = past.back();
    if (ring) along -= whole * std::floor(along / whole);
    along = std::clamp(along, 0.0, whole);
    const auto after = std::ranges::upper_bound(past, along);
    if (after == past.end()) return point.back();
    const auto i = static_cast<std::size_t>(after - past.begin());
    const double share = (along - past[i - 1]) / std::max(past[i] - past[i - 1], 1e-300);
    return glm::mix(point[i - 1], point[i], share);
}

QuadLines quad_lines(EvenTriangles& t) {
    QuadLines out;
    out.place.resize(t.point.size());
    // The held edges at a vertex: neighbours along them.
    std::vector<std::vector<Index>> beside(t.point.size());
    for (Index h = 0; h < t.from.size(); ++h)
        if (!t.gone(h) && t.held[h] && (t.twin[h] == no_index || h < t.twin[h])) {
            beside[t.from[h]].push_back(t.to(h));
            beside[t.to(h)].push_back(t.from[h]);
        }
    std::vector<std::uint8_t> walked(t.point.size(), 0);
    const auto walk = [&](Index first, Index second, bool ring) {
        QuadLine line;
        line.ring = ring;
        Index before = first, here = second;
        line.point = {t.point[first], t.point[second]};
        line.past = {0, glm::distance(t.point[first], t.point[second])};
        const auto number = static_cast<Index>(out.lines.size());
        if (ring) walked[first] = 1, out.place[first] = {number, 0};
        while (t.hold[here] == VertexHold::line && here != first && beside[here].size() == 2) {
            walked[here] = 1;
            out.place[here] = {number, line.past.back()};
            const Index next = beside[here][0] == before ? beside[here][1] : beside[here][0];
            before = here;
            here = next;
            line.past.push_back(line.past.back() + glm::distance(line.point.back(), t.point[here]));
            line.point.push_back(t.point[here]);
        }
        out.lines.push_back(std::move(line));
    };
    for (Index v = 0; v < t.point.size(); ++v)
        if (t.hold[v] != VertexHold::line)
            for (const Index next : beside[v])
                if (t.hold[next] == VertexHold::line && !walked[next]) walk(v, next, false);
    for (Index v = 0; v < t.point.size(); ++v)
        if (t.hold[v] == VertexHold::line && !walked[v] && beside[v].size() == 2) walk(v, beside[v][0], true);
    return out;
}

void join_by_lattice(EvenTriangles& triangles, const QuadMaps& maps, const std::vector<double>& turn,
                     const std::vector<double>& cell, QuadLattice& lattice, QuadLines& lines) {
    LatticeJoin work(triangles, lattice, lines);
    work.place_points(maps, turn, cell);
    work.join_all();
    work.move_points();
    for (Index v = 0; v < triangles.point.size(); ++v) lines.place[v].along = work.along(v);
}

}  // namespace bricol
