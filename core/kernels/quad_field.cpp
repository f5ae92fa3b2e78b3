// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/quad_field.h"

#include <cmath>
#include <complex>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/quad_levels.h"

namespace bricol {

namespace {

using Complex = std::complex<double>;
constexpr double quarter = std::numbers::pi / 2;
constexpr int rounds_a_level = 8;
constexpr double follow_form = 0.5;  // what clear curvature weighs against one neighbour

/// How a cross turns from one map to another, its angle times four as a unit number.
struct CrossMap {
    Complex turn{1, 0};
    static CrossMap identity() { return {}; }
    CrossMap then(const CrossMap& next) const { return {turn * next.turn}; }
    CrossMap inverse() const { return {std::conj(turn)}; }
    static CrossMap of_many(std::span<const CrossMap> many) {
        Complex sum = 0;
        for (const CrossMap& one : many) sum += one.turn;
        const double size = std::abs(sum);
        return {size > 1e-9 ? sum / size : many[0].turn};
    }
};

/// How a place in lattice cells is read in another vertex's frame: moved, then turned by quarters.
struct CellMap {
    int quarters = 0;
    DVec2 move{0};
    static CellMap identity() { return {}; }
    CellMap then(const CellMap& next) const {
        return {(quarters + next.quarters) & 3, move + quarter_turned(next.move, -quarters)};
    }
    CellMap inverse() const { return {-quarters & 3, -quarter_turned(move, quarters)}; }
    DVec2 back(const DVec2& place) const { return quarter_turned(place, -quarters) - move; }
    /// The turn most agree on, and the middle of their moves; whole cells mean nothing between coarse vertices.
    static CellMap of_many(std::span<const CellMap> many) {
        std::array<int, 4> votes{};
        for (const CellMap& one : many) ++votes[static_cast<std::size_t>(one.quarters)];
        const auto turn = static_cast<int>(std::ranges::max_element(votes) - votes.begin());
        CellMap out{turn, DVec2(0)};
        DVec2 first(0), sum(0);
        int seen = 0;
        for (const CellMap& one : many) {
            if (one.quarters != turn) continue;
            if (seen++ == 0) first = one.move;
            const DVec2 off = one.move - first;
            sum += off - glm::round(off);
        }
        out.move = first + sum / static_cast<double>(seen);
        return out;
    }
};

/// The vertices that take part, and the edges between them.
struct Nodes {
    std::vector<Index> node, vertex;  ///< number of a vertex among them, and back
    std::vector<QuadEdge> edges;

    template <class Wanted>
    Nodes(const EvenTriangles& t, const QuadMaps& maps, const Wanted& wanted) : node(t.point.size(), no_index) {
        for (Index v = 0; v < t.point.size(); ++v)
            if (t.leaving[v] != no_index && wanted(v)) {
                node[v] = static_cast<Index>(vertex.size());
                vertex.push_back(v);
            }
        for (const QuadEdge& edge : maps.edges)
            if (node[edge.a] != no_index && node[edge.b] != no_index) edges.push_back(edge);
    }
};

/// Both ways of every edge, sorted by the vertex they leave.
template <class Map, class MapOf>
QuadLevel<Map> finest_level(const Nodes& nodes, const MapOf& map_of) {
    QuadLevel<Map> level;
    const std::size_t count = nodes.vertex.size();
    level.offsets.assign(count + 1, 0);
    for (const QuadEdge& edge : nodes.edges)
        ++level.offsets[nodes.node[edge.a] + 1], ++level.offsets[nodes.node[edge.b] + 1];
    for (std::size_t v = 0; v < count; ++v) level.offsets[v + 1] += level.offsets[v];
    level.ways.resize(level.offsets[count]);
    std::vector<Index> next(level.offsets.begin(), level.offsets.end() - 1);
    for (std::size_t e = 0; e < nodes.edges.size(); ++e) {
        stop_point(e);
        const QuadEdge& edge = nodes.edges[e];
        const Index a = nodes.node[edge.a], b = nodes.node[edge.b];
        const Map map = map_of(edge);
        level.ways[next[a]++] = {b, 1, map};
        level.ways[next[b]++] = {a, 1, map.inverse()};
    }
    return level;
}

DVec2 unit_at(double angle) { return {std::cos(angle), std::sin(angle)}; }

/// Which way an edge runs in the crosses of its two ends, and the quarter turns between these.
struct Travel {
    double a, b;
    int quarters;
};
Travel travel_along(const QuadEdge& edge, const std::vector<double>& turn) {
    const double a = edge.at_a - turn[edge.a], b = edge.at_b + 2 * quarter - turn[edge.b];
    return {a, b, static_cast<int>(std::lround((b - a) / quarter))};
}

/// Where the vertices lie in their cells: spread from the coarsest level to the finest.
std::vector<DVec2> settled_places(const std::vector<QuadLevel<CellMap>>& levels) {
    std::vector<DVec2> place(levels.back().size(), DVec2(0));
    for (std::size_t l = levels.size(); l-- > 0;) {
        const QuadLevel<CellMap>& level = levels[l];
        if (l + 1 < levels.size()) {
            std::vector<DVec2> finer(level.size());
            for (std::size_t v = 0; v < finer.size(); ++v)
                finer[v] = level.from_parent[v].inverse().back(place[level.parent[v]]);
            place = std::move(finer);
        }
        for (std::size_t v = 0; v < place.size(); ++v) {
            if (level.holds[v] > 0) place[v].y = 0;
            if (level.holds[v] > 1) place[v].x = 0;
        }
        for (int round = 0; round < rounds_a_level; ++round)
            for (Index v = 0; v < place.size(); ++v) {
                stop_point(v);
                if (level.holds[v] > 1) continue;
                DVec2 sum(0);
                double weight = 0;
                for (const auto& way : level.from(v)) {
                    const DVec2 off = way.map.back(place[way.to]) - place[v];
                    sum += way.weight * (off - glm::round(off));
                    weight += way.weight;
                }
                if (!(weight > 0)) continue;
                sum /= weight;
                if (level.holds[v] > 0) sum.y = 0;
                place[v] += sum;
                place[v] -= glm::round(place[v]);
            }
    }
    return place;
}

}  // namespace

QuadStep QuadStep::inverse() const { return {-quarter_turned(cells, quarters), -quarters & 3}; }

std::vector<double> quad_directions(const EvenTriangles& t, const QuadMaps& maps, const QuadCurving& curving,
                                    double cell) {
    const Nodes nodes(t, maps, [&](Index v) { return t.hold[v] != VertexHold::corner; });  // corners have no cross
    const std::vector<Index>& vertex = nodes.vertex;
    auto finest = finest_level<CrossMap>(
        nodes, [](const QuadEdge& edge) { return CrossMap{std::polar(1.0, 4 * (edge.at_b - edge.at_a))}; });
    for (const Index v : vertex) finest.holds.push_back(t.hold[v] == VertexHold::line);
    const std::vector<QuadLevel<CrossMap>> levels = quad_levels(std::move(finest));

    // What curvature wants, handed down to the coarse levels.
    std::vector<std::vector<Complex>> wish(levels.size());
    for (const Index v : vertex) {
        stop_point(v);
        const Complex w(curving.fourfold[v].x, curving.fourfold[v].y);
        const double clear = std::abs(w) * cell;
        wish[0].push_back(clear > 0 ? follow_form * w * cell / std::max(clear, 1.0) : 0.0);
    }
    for (std::size_t l = 0; l + 1 < levels.size(); ++l) {
        wish[l + 1].assign(levels[l + 1].size(), 0);
        for (std::size_t v = 0; v < levels[l].size(); ++v) {
            stop_point(v);
            wish[l + 1][levels[l].parent[v]] += wish[l][v] * std::conj(levels[l].from_parent[v].turn);
        }
    }
    std::vector<Complex> cross;
    for (std::size_t l = levels.size(); l-- > 0;) {
        const QuadLevel<CrossMap>& level = levels[l];
        std::vector<Complex> finer(level.size(), 1);
        for (std::size_t v = 0; v < finer.size(); ++v) {
            stop_point(v);
            if (level.holds[v])
                finer[v] = 1;
            else if (l + 1 < levels.size())
                finer[v] = cross[level.parent[v]] * level.from_parent[v].turn;
            else if (std::abs(wish[l][v]) > 0)
                finer[v] = wish[l][v] / std::abs(wish[l][v]);
        }
        cross = std::move(finer);
        for (int round = 0; round < rounds_a_level; ++round)
            for (Index v = 0; v < cross.size(); ++v) {
                stop_point(v);
                if (level.holds[v]) continue;
                Complex sum = wish[l][v];
                for (const auto& way : level.from(v)) sum += way.weight * cross[way.to] * std::conj(way.map.turn);
                if (const double size = std::abs(sum); size > 1e-12) cross[v] = sum / size;
            }
    }
    std::vector<double> turn(t.point.size(), 0);
    for (std::size_t i = 0; i < vertex.size(); ++i) {
        stop_point(i);
        turn[vertex[i]] = t.hold[vertex[i]] == VertexHold::line ? 0 : std::arg(cross[i]) / 4;
    }
    return turn;
}

int quad_index(const EvenTriangles& t, const QuadMaps& maps, const std::vector<double>& turn, Index triangle) {
    int quarters = 0;
    double carried = 0;
    for (Index h = 3 * triangle; h < 3 * triangle + 3; ++h) {
        if (t.hold[t.from[h]] == VertexHold::corner) return 0;
        const QuadEdge& edge = maps.edges[maps.edge_of[h]];
        const int sign = edge.a == t.from[h] ? 1 : -1;
        quarters += sign * travel_along(edge, turn).quarters;
        carried += sign * (edge.at_b + 2 * quarter - edge.at_a);
    }
    const double whole = 4 * std::round(carried / (4 * quarter));
    return quarters - static_cast<int>(whole);
}

QuadLattice quad_lattice(const EvenTriangles& t, const QuadMaps& maps, const std::vector<double>& turn,
                         const std::vector<double>& cell) {
    const auto map_of = [&](const QuadEdge& edge) -> CellMap {
        const double length = 2 * edge.length / (cell[edge.a] + cell[edge.b]);
        const Travel way = travel_along(edge, turn);
        // A corner has no axes of its own and takes those of the other end.
        const bool no_a = t.hold[edge.a] == VertexHold::corner, no_b = t.hold[edge.b] == VertexHold::corner;
        if (no_a && no_b) return {0, DVec2(length, 0)};
        if (no_a) return {0, length * unit_at(way.b)};
        if (no_b) return {0, length * unit_at(way.a)};
        return {way.quarters & 3, length / 2 * (unit_at(way.a) + unit_at(way.b - way.quarters * quarter))};
    };
    const Nodes nodes(t, maps, [](Index) { return true; });
    auto finest = finest_level<CellMap>(nodes, map_of);
    for (const Index v : nodes.vertex) finest.holds.push_back(static_cast<std::uint8_t>(t.hold[v]));
    const std::vector<DVec2> settled = settled_places(quad_levels(std::move(finest)));
    QuadLattice out;
    out.place.assign(t.point.size(), DVec2(0));
    for (std::size_t i = 0; i < settled.size(); ++i) out.place[nodes.vertex[i]] = settled[i];
    out.step.resize(t.from.size());
    for (Index h = 0; h < t.from.size(); ++h) {
        stop_point(h);
        if (t.gone(h) || (t.twin[h] != no_index && t.twin[h] < h)) continue;
        const QuadEdge& edge = maps.edges[maps.edge_of[h]];
        const CellMap map = map_of(edge);
        const DVec2 cells = glm::round(-map.back(out.place[edge.b]) + out.place[edge.a]);
        out.step[h] = {glm::ivec2(cells), map.quarters};
        if (t.twin[h] != no_index) out.step[t.twin[h]] = out.step[h].inverse();
    }
    return out;
}

}  // namespace bricol
