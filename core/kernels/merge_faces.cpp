// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/merge_faces.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <tuple>

#include "core/ground/stop.h"
#include "core/kernels/face_lists.h"
#include "core/kernels/normals.h"

namespace bricol {

namespace {

/// Faces of a group that hang together, and the outline that each piece of several becomes.
class Pieces {
public:
    Pieces(const Topology& topology, std::span<const Index> group)
        : t_(topology), near_(topology.adjacency()), group_(group), piece_(topology.face_count(), no_index) {
        gather();
        leaves_.assign(topology.vertex_count, {no_index, no_index});
        for (std::size_t k = 0; k + 1 < faces_from_.size(); ++k) {
            if (faces_of(k).size() > 1) add_outline(k);
            outline_from_.push_back(outlines_.size());
        }
    }

    /// The corners of the polygon that a face is part of; none when it stays a face of its own.
    std::span<const Index> outline(std::size_t f) const {
        if (piece_[f] == no_index) return {};
        const std::size_t from = outline_from_[piece_[f]], to = outline_from_[piece_[f] + std::size_t(1)];
        return std::span(outlines_).subspan(from, to - from);
    }
    /// Whether it is the face under whose number its polygon is written.
    bool leads(std::size_t f) const { return faces_of(piece_[f]).front() == f; }

private:
    std::span<const Index> faces_of(std::size_t k) const {
        return std::span(faces_).subspan(faces_from_[k], faces_from_[k + 1] - faces_from_[k]);
    }
    void gather() {
        std::vector<Index> stack;
        std::size_t compared = 0;
        for (Index seed = 0; seed < t_.face_count(); ++seed) {
            stop_point(seed);
            if (piece_[seed] != no_index || group_[seed] == no_index) continue;
            const auto number = static_cast<Index>(faces_from_.size() - 1);
            stack.assign(1, seed);
            piece_[seed] = number;
            for (std::size_t round = 1; !stack.empty(); ++round) {
                stop_point(round);
                const Index f = stack.back();
                stack.pop_back();
                faces_.push_back(f);
                for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                    const auto beside = near_.faces_of_edge(t_.corner_edge[c]);
                    if (beside.size() != 2) continue;
                    for (const Index g : beside)
                        if (piece_[g] == no_index && group_[g] == group_[f]) {
                            piece_[g] = number;
                            stack.push_back(g);
                        }
                }
            }
            std::sort(faces_.begin() + static_cast<std::ptrdiff_t>(faces_from_.back()), faces_.end(),
                      [&](Index a, Index b) {
                          stop_point(++compared);
                          return a < b;
                      });
            faces_from_.push_back(faces_.size());
        }
    }

    /// None when the piece has a hole or touches itself.
    void add_outline(std::size_t k) {
        bool simple = true;
        Index first = no_index, first_face = no_index;
        std::size_t round = 0, sides = 0;
        for (const Index f : faces_of(k)) {
            stop_point(++round);
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                const auto beside = near_.faces_of_edge(t_.corner_edge[c]);
                if (beside.size() == 2 && piece_[beside[0]] == piece_[beside[1]] && beside[0] != beside[1]) continue;
                auto& leaves = leaves_[t_.corner_vertex[c]];
                simple &= leaves[0] == no_index;
                leaves = {c, f};
                ++sides;
                if (first == no_index) first = c, first_face = f;
            }
        }
        const std::size_t from = outlines_.size();
        Index c = first, f = first_face;
        while (simple && c != no_index && outlines_.size() - from <= sides) {
            stop_point(outlines_.size());
            outlines_.push_back(c);
            const auto& next = leaves_[t_.corner_vertex[t_.next_in(f, c)]];
            c = next[0], f = next[1];
            if (c == first) break;
        }
        const std::size_t length = outlines_.size() - from;
        if (!simple || c != first || length != sides || length < 3) outlines_.resize(from);
        for (const Index face : faces_of(k))
            for (const Index v : t_.face(face)) leaves_[v] = {no_index, no_index};
    }

    const Topology& t_;
    const Adjacency& near_;
    std::span<const Index> group_;
    Array<Index> piece_;
    // Of each piece, one after another: its faces, sorted, and the corners of its outline.
    std::vector<Index> faces_, outlines_;
    std::vector<std::size_t> faces_from_{0}, outline_from_{0};
    std::vector<std::array<Index, 2>> leaves_;  ///< per vertex: corner and face that leave it along the outline at work
};

bool runs_straight(const DVec3& a, const DVec3& v, const DVec3& b) {
    const DVec3 in = v - a, out = b - v;
    const double lengths = glm::length(in) * glm::length(out);
    return lengths > 0 && glm::dot(in, out) > 0 && glm::length(glm::cross(in, out)) < 1e-5 * lengths;
}

/// Where surfaces touch along an edge, points on it may be all that keeps them apart: one stays when without it there
/// would be a second edge between its neighbours.
void keep_apart(const Topology& t, const std::vector<std::array<Index, 2>>& between, Mask& needed) {
    struct Gap {
        std::array<Index, 2> ends;
        Index vertex;
        bool operator<(const Gap& o) const { return std::tie(ends, vertex) < std::tie(o.ends, o.vertex); }
    };
    std::vector<Gap> gaps;
    Mask beside(t.vertex_count, 0);
    for (Index v = 0; v < t.vertex_count; ++v)
        if (!needed[v] && between[v][0] != no_index) {
            gaps.push_back({between[v], v});
            for (const Index end : between[v]) beside[end] = 1;
        }
    std::sort(gaps.begin(), gaps.end());
    for (std::size_t i = 1; i < gaps.size(); ++i)
        if (gaps[i].ends == gaps[i - 1].ends) needed[gaps[i].vertex] = 1;
    if (gaps.empty()) return;
    for (std::size_t e = 0; e < t.edges.size(); ++e) {
        stop_point(e);
        const auto& [a, b] = t.edges[e];
        if (!beside[a] || !beside[b]) continue;
        const std::array<Index, 2> ends = {std::min(a, b), std::max(a, b)};
        for (auto gap = std::ranges::lower_bound(gaps, ends, {}, &Gap::ends); gap != gaps.end() && gap->ends == ends;
             ++gap)
            needed[gap->vertex] = 1;
    }
}

/// Vertices that stay. One that may go does when every face that is left and uses it runs straight through it, between
/// the same two neighbours: where two surfaces meet in one point, each would lose another edge.
Mask needed_vertices(const Mesh& mesh, std::span<const Index> group, const Pieces& pieces, const Selection& may_drop) {
    const Topology& t = *mesh.topology;
    Mask needed(t.vertex_count, 1);
    for (Index v = 0; v < t.vertex_count; ++v) needed[v] = !may_drop[v];
    const auto place = [&](Index v) { return DVec3((*mesh.positions)[v]); };
    std::vector<std::array<Index, 2>> between(t.vertex_count, {no_index, no_index});
    const auto look = [&](std::span<const Index> loop, bool grouped) {
        for (std::size_t i = 0; i < loop.size(); ++i) {
            const Index before = loop[(i + loop.size() - 1) % loop.size()], after = loop[(i + 1) % loop.size()];
            if (needed[loop[i]]) continue;
            const std::array<Index, 2> here = {std::min(before, after), std::max(before, after)};
            auto& known = between[loop[i]];
            if (known[0] == no_index) known = here;
            if (!grouped || known != here || !runs_straight(place(before), place(loop[i]), place(after)))
                needed[loop[i]] = 1;
        }
    };
    std::vector<Index> loop;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const auto outline = pieces.outline(f);
        if (outline.empty()) {
            look(t.face(f), group[f] != no_index);
        } else if (pieces.leads(f)) {
            loop.clear();
            for (const Index c : outline) loop.push_back(t.corner_vertex[c]);
            look(loop, true);
        }
    }
    if (t.has_loose_edges())
        for (Index e = 0; e < t.edge_count(); ++e)
            if (t.adjacency().faces_of_edge(e).empty())
                for (const Index v : t.edges[e]) needed[v] = 1;
    keep_apart(t, between, needed);
    return needed;
}

}  // namespace

Mesh merged_faces(const Mesh& mesh, std::span<const Index> group, const Selection& may_drop,
                  Array<Index>* face_source) {
    const Topology& t = *mesh.topology;
    // Outlines first, so that straight vertices are dropped only where every face agrees.
    const Pieces pieces(t, group);
    const Mask needed = needed_vertices(mesh, group, pieces, may_drop);
    FaceList faces;
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        const auto outline = pieces.outline(f);
        if (!outline.empty() && !pieces.leads(f)) continue;
        const auto put = [&](Index c) {
            if (needed[t.corner_vertex[c]]) faces.corner(t.corner_vertex[c], c);
        };
        for (const Index c : outline) put(c);
        for (Index c = t.face_offsets[f]; outline.empty() && c < t.face_offsets[f + 1]; ++c) put(c);
        faces.close(static_cast<Index>(f));
    }
    add_loose(faces, t, [](Index) { return true; });
    if (face_source) *face_source = faces.face_source;
    return compacted(mesh, std::move(faces), {}, {}, lone_vertices(mesh));
}

Mesh dissolved_flat(const Mesh& mesh, double degrees, const Selection& chosen) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    const auto* material = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    const double cosine = std::cos(glm::radians(degrees));
    // Grown from a seed, every face is compared with the seed too: a gentle curve does not become one polygon.
    Array<Index> group(t.face_count(), no_index);
    std::vector<Index> stack;
    for (Index seed = 0; seed < t.face_count(); ++seed) {
        stop_point(seed);
        if (group[seed] != no_index || !chosen[seed] || flat[seed] == Vec3(0)) continue;
        group[seed] = seed;
        stack.assign(1, seed);
        for (std::size_t round = 1; !stack.empty(); ++round) {
            stop_point(round);
            const Index f = stack.back();
            stack.pop_back();
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const auto beside = near.faces_of_edge(t.corner_edge[c]);
                if (beside.size() != 2) continue;
                for (const Index g : beside) {
                    if (group[g] != no_index || !chosen[g] || (material && (*material)[g] != (*material)[seed]))
                        continue;
                    if (glm::dot(flat[g], flat[f]) < cosine || glm::dot(flat[g], flat[seed]) < cosine) continue;
                    group[g] = seed;
                    stack.push_back(g);
                }
            }
        }
    }
    return merged_faces(mesh, group, {});
}

}  // namespace bricol
