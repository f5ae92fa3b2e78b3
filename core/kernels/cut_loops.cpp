// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/cut_loops.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"
#include "core/shape/origin.h"

namespace bricol {

std::vector<Index> edge_ring(const Mesh& mesh, Index edge) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::vector<Index> ring{edge};
    Mask seen(t.edge_count(), 0);
    seen[edge] = 1;
    for (const Index start : near.faces_of_edge(edge)) {
        Index f = start, e = edge;
        while (t.face(f).size() == 4) {
            Index k = 0;
            while (t.corner_edge[t.face_offsets[f] + k] != e) ++k;
            e = t.corner_edge[t.face_offsets[f] + (k + 2) % 4];
            if (seen[e]) break;
            seen[e] = 1;
            ring.push_back(e);
            const auto beside = near.faces_of_edge(e);
            if (beside.size() != 2) break;
            f = beside[0] == f ? beside[1] : beside[0];
        }
    }
    return ring;
}

std::vector<Index> edge_loop(const Mesh& mesh, Index edge) {
    const Topology& t = *mesh.topology;
    const Adjacency& near = t.adjacency();
    std::vector<Index> loop{edge};
    Mask seen(t.edge_count(), 0);
    seen[edge] = 1;
    const bool border = near.faces_of_edge(edge).size() == 1;
    for (const Index start : t.edges[edge]) {
        Index v = start, e = edge;
        while (true) {
            Index next = no_index;
            const auto around = near.edges_of_vertex(v);
            if (border) {
                for (const Index other : around)
                    if (other != e && near.faces_of_edge(other).size() == 1) next = next == no_index ? other : e;
                if (next == e) next = no_index;  // several borders meet here
            } else if (around.size() == 4) {
                // Straight on: the edge that shares no face with this one.
                for (const Index other : around) {
                    if (other == e) continue;
                    bool shares = false;
                    for (const Index f : near.faces_of_edge(other))
                        for (const Index g : near.faces_of_edge(e)) shares |= f == g;
                    if (!shares) next = other;
                }
            }
            if (next == no_index || seen[next]) break;
            seen[next] = 1;
            loop.push_back(next);
            v = t.edges[next][0] == v ? t.edges[next][1] : t.edges[next][0];
            e = next;
        }
    }
    return loop;
}

namespace {

/// One cutting: edges get their direction, then their points; faces are laid anew between them.
class LoopCutter {
public:
    LoopCutter(const Mesh& mesh, int cuts, double slide, bool both_ends)
        : mesh_(mesh),
          t_(*mesh.topology),
          p_(*mesh.positions),
          cuts_(both_ends ? 2 : cuts),
          slide_(slide),
          both_ends_(both_ends),
          uvs_(mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv)),
          way_(t_.edge_count(), 0),
          first_cut_(t_.edge_count(), no_index) {}

    CutLoopResult cut(std::span<const Index> seeds) {
        CutLoopResult result;
        for (const Index seed : seeds)
            if (way_[seed] == 0) {
                ++result.rings;
                follow_ring(seed);
                if (slide_ != 0 && !both_ends_) turn_ring();
            }
        cut_edges();
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            lay_face(static_cast<Index>(f));
        }
        finish(result);
        return result;
    }

private:
    /// A cut edge has a direction, so that every cut is at the same share of all edges of its ring.
    void follow_ring(Index seed) {
        const Adjacency& near = t_.adjacency();
        way_[seed] = 1;
        ring_.assign(1, seed);
        for (const Index start : near.faces_of_edge(seed)) {
            Index f = start, e = seed;
            while (t_.face(f).size() == 4) {
                const Index first = t_.face_offsets[f];
                Index k = 0;
                while (t_.corner_edge[first + k] != e) ++k;
                const Index other = t_.corner_edge[first + (k + 2) % 4];
                if (way_[other] != 0) break;
                // Along edge e the face runs from corner k to k+1; along the opposite one from k+2 to k+3, the other
                // way.
                const bool forward = (t_.edges[e][0] == t_.corner_vertex[first + k]) == (way_[e] == 1);
                const bool other_forward = t_.edges[other][0] == t_.corner_vertex[first + (k + 2) % 4];
                way_[other] = forward == other_forward ? -1 : 1;
                ring_.push_back(other);
                e = other;
                const auto beside = near.faces_of_edge(e);
                if (beside.size() != 2) break;
                f = beside[0] == f ? beside[1] : beside[0];
            }
        }
    }

    /// Has the edges of the ring that was followed last point to the side that a positive slide goes to.
    void turn_ring() {
        DVec3 middle(0), along(0), round(0);
        double outward = 0, whole = 0;
        const auto ends = [&](Index e) {
            const DVec3 a(p_[t_.edges[e][way_[e] == 1 ? 0 : 1]]), b(p_[t_.edges[e][way_[e] == 1 ? 1 : 0]]);
            return std::pair{a, b};
        };
        for (const Index e : ring_) {
            const auto [a, b] = ends(e);
            middle += (a + b) * (0.5 / static_cast<double>(ring_.size()));
        }
        for (const Index e : ring_) {
            const auto [a, b] = ends(e);
            const DVec3 from = (a + b) * 0.5 - middle;
            along += b - a;
            round += glm::cross(from, b - a);
            outward += glm::dot(from, b - a);
            whole += glm::length(b - a);
        }
        const auto main_sign = [](const DVec3& v) {
            const DVec3 size = glm::abs(v);
            return size.x >= size.y && size.x >= size.z ? v.x : size.y >= size.z ? v.y : v.z;
        };
        double sign = outward;
        if (glm::length(along) > 0.1 * whole)
            sign = main_sign(along);
        else if (std::abs(outward) < 1e-3 * glm::length(round))
            sign = main_sign(round);
        if (sign < 0)
            for (const Index e : ring_) way_[e] = static_cast<std::int8_t>(-way_[e]);
    }

    float share_of(int k) const {
        if (both_ends_) {
            const double near = (1 - std::abs(slide_)) / 2;
            return static_cast<float>(k == 0 ? near : 1 - near);
        }
        const double even = (k + 1.0) / (cuts_ + 1);
        return static_cast<float>(slide_ >= 0 ? even + (1 - even) * slide_ : even * (1 + slide_));
    }

    Index add_point(const Vec3& at, const Origin& origin, Index on_edge) {
        extra_.push_back(at);
        origins_.push_back(origin);
        extra_source_.push_back(origin.nearest());
        owner_.push_back(on_edge);
        return static_cast<Index>(t_.vertex_count + extra_.size() - 1);
    }

    void cut_edges() {
        for (Index e = 0; e < t_.edge_count(); ++e) {
            stop_point(e);
            if (way_[e] == 0) continue;
            first_cut_[e] = static_cast<Index>(t_.vertex_count + extra_.size());
            const Index a = t_.edges[e][way_[e] == 1 ? 0 : 1], b = t_.edges[e][way_[e] == 1 ? 1 : 0];
            for (int k = 0; k < cuts_; ++k)
                add_point(p_[a] + (p_[b] - p_[a]) * share_of(k), Origin::between(a, b, share_of(k)), e);
        }
    }

    // Point j (0..cuts+1) along a side of a face, counted in the side's own direction; the side begins at corner c and
    // ends at d.
    struct Side {
        Index c, d;
    };
    Side side(Index f, Index k) const {
        const Index first = t_.face_offsets[f], n = t_.face_offsets[f + 1] - first;
        return {first + k, first + (k + 1) % n};
    }
    bool is_cut(const Side& s) const { return way_[t_.corner_edge[s.c]] != 0; }
    /// Which of its edge's cuts the point is.
    int number_on(const Side& s, int j) const {
        const Index e = t_.corner_edge[s.c];
        const bool along = (t_.edges[e][0] == t_.corner_vertex[s.c]) == (way_[e] == 1);
        return along ? j - 1 : cuts_ - j;
    }
    float share_on(const Side& s, int j) const {
        if (j == 0 || j == cuts_ + 1) return j == 0 ? 0.0f : 1.0f;
        const int number = number_on(s, j);
        return number == j - 1 ? share_of(number) : 1 - share_of(number);
    }
    Index vertex_on(const Side& s, int j) const {
        if (j == 0) return t_.corner_vertex[s.c];
        if (j == cuts_ + 1) return t_.corner_vertex[s.d];
        return first_cut_[t_.corner_edge[s.c]] + static_cast<Index>(number_on(s, j));
    }
    void put(const Side& s, int j) {
        const Index corner = j == cuts_ + 1 ? s.d : s.c;
        const bool old = j == 0 || j == cuts_ + 1;
        faces_.corner(vertex_on(s, j), old ? corner : no_index);
        if (uvs_)
            new_uvs_.push_back(old ? (*uvs_)[corner] : (*uvs_)[s.c] + ((*uvs_)[s.d] - (*uvs_)[s.c]) * share_on(s, j));
    }

    void lay_face(Index f) {
        const Index n = t_.face_offsets[f + 1] - t_.face_offsets[f];
        Index cut_side = no_index;
        int cut_sides = 0;
        for (Index k = 0; k < n; ++k)
            if (is_cut(side(f, k))) ++cut_sides, cut_side = cut_side == no_index ? k : cut_side;
        if (n == 4 && cut_sides == 2 && is_cut(side(f, (cut_side + 2) % 4))) {
            lay_strip(f, side(f, cut_side), side(f, (cut_side + 2) % 4));
        } else if (n == 4 && cut_sides == 4) {
            lay_crossing(f);
        } else {
            for (Index k = 0; k < n; ++k) {  // where a ring ends the face only takes the new points
                const Side s = side(f, k);
                put(s, 0);
                for (int j = 1; j <= cuts_ && is_cut(s); ++j) put(s, j);
            }
            faces_.close(f);
        }
    }

    void lay_strip(Index f, const Side& one, const Side& opposite) {
        for (int j = 0; j <= cuts_; ++j) {
            put(one, j);
            put(one, j + 1);
            put(opposite, cuts_ - j);
            put(opposite, cuts_ - j + 1);
            faces_.close(f);
        }
    }

    /// Two rings cross: a grid, places blended from the four sides.
    void lay_crossing(Index f) {
        const int last = cuts_ + 1;
        const auto width = static_cast<std::size_t>(last) + 1;
        const Side low = side(f, 0), right = side(f, 1), high = side(f, 2), left = side(f, 3);
        std::vector<Index> grid(width * width);
        const auto at = [&](int j, int i) -> Index& {
            return grid[static_cast<std::size_t>(j) * width + static_cast<std::size_t>(i)];
        };
        const auto place = [&](int j, int i) {
            const Index v = at(j, i);
            return v < t_.vertex_count ? p_[v] : extra_[v - t_.vertex_count];
        };
        for (int j = 0; j <= last; ++j) at(j, 0) = vertex_on(low, j), at(j, last) = vertex_on(high, last - j);
        for (int i = 1; i < last; ++i) at(last, i) = vertex_on(right, i), at(0, i) = vertex_on(left, last - i);
        for (int j = 1; j < last; ++j)
            for (int i = 1; i < last; ++i) {
                const float x = static_cast<float>(j) / static_cast<float>(last),
                            y = static_cast<float>(i) / static_cast<float>(last);
                const Vec3 flat = (place(0, 0) * (1 - x) + place(last, 0) * x) * (1 - y) +
                                  (place(0, last) * (1 - x) + place(last, last) * x) * y;
                const Vec3 middle =
                    place(j, 0) * (1 - y) + place(j, last) * y + place(0, i) * (1 - x) + place(last, i) * x - flat;
                at(j, i) = add_point(middle,
                                     Origin::within(at(0, 0), at(last, 0), at(last, last), at(0, last),
                                                    share_on(low, j), share_on(right, i)),
                                     no_index);
            }
        for (int j = 0; j < last; ++j)
            for (int i = 0; i < last; ++i) {
                for (const auto& [dj, di] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                    faces_.corner(at(j + dj, i + di), no_index);
                    if (!uvs_) continue;
                    const float x = share_on(low, j + dj), y = share_on(right, i + di);
                    new_uvs_.push_back(((*uvs_)[low.c] * (1 - x) + (*uvs_)[right.c] * x) * (1 - y) +
                                       ((*uvs_)[left.c] * (1 - x) + (*uvs_)[high.c] * x) * y);
                }
                faces_.close(f);
            }
    }

    void finish(CutLoopResult& result) {
        add_loose(faces_, t_, [](Index) { return true; });
        Mesh old = mesh_;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            old.attributes.remove(domain, attribute_name::normal);
        old.attributes.remove(Domain::corner, attribute_name::uv);
        const auto was = t_.vertex_count;
        result.mesh = compacted(old, std::move(faces_), extra_, extra_source_, lone_vertices(mesh_));
        // Every old vertex is still used, so new ones are those behind them.
        carry(result.mesh.attributes, old.attributes, Domain::vertex, was, origins_);
        if (uvs_) result.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(new_uvs_));
        Array<Index> old_vertex(result.mesh.vertex_count(), no_index), on_edge(result.mesh.vertex_count(), no_index);
        std::iota(old_vertex.begin(), old_vertex.begin() + was, Index(0));
        std::ranges::copy(owner_, on_edge.begin() + was);
        carry_edge_pieces(result.mesh, mesh_, old_vertex, on_edge);
        result.edges.resize(result.mesh.edge_count());
        for (Index e = 0; e < result.mesh.edge_count(); ++e) {
            stop_point(e);
            const auto& [a, b] = result.mesh.topology->edges[e];
            // Two points on the same old edge are not along a loop; points inside crossings lie on no old edge.
            result.edges[e] =
                a >= was && b >= was && (owner_[a - was] == no_index || owner_[a - was] != owner_[b - was]);
        }
    }

    const Mesh& mesh_;
    const Topology& t_;
    const Array<Vec3>& p_;
    const int cuts_;
    const double slide_;
    const bool both_ends_;
    const Array<Vec2>* uvs_;
    std::vector<Index> ring_;  ///< edges of the ring followed last
    Array<std::int8_t> way_;   ///< of every edge: 0 not cut, 1 from edges[e][0], -1 from edges[e][1]
    Array<Index> first_cut_;   ///< of every edge: its first new point
    Array<Vec3> extra_;
    Array<Index> extra_source_, owner_;  ///< of the new points; the edge each lies on
    std::vector<Origin> origins_;
    FaceList faces_;
    Array<Vec2> new_uvs_;
};

}  // namespace

CutLoopResult with_cut_loops(const Mesh& mesh, std::span<const Index> seeds, int cuts, double slide, bool both_ends) {
    return LoopCutter(mesh, cuts, slide, both_ends).cut(seeds);
}

}  // namespace bricol
