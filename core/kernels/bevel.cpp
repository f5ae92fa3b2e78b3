// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bevel.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/bevel_fans.h"
#include "core/kernels/corner_patch.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/uv_plane.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

class Beveller : BevelFans {
public:
    Beveller(const Mesh& mesh, const BevelOptions& options, std::span<const float> edge_width,
             std::span<const float> vertex_width)
        : BevelFans(mesh, options, edge_width, vertex_width),
          uvs_(mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv)) {}

    BevelResult run() {
        lay_out_all();
        const auto bevelled =
            static_cast<std::size_t>(std::ranges::count_if(edge_width_, [](float w) { return w > 0; }) +
                                     std::ranges::count_if(vertex_width_, [](float w) { return w > 0; }));
        arcs_.reserve(2 * bevelled * (static_cast<std::size_t>(options_.segments) + 1));
        points_.reserve(t_.vertex_count + arcs_.capacity());
        source_.reserve(points_.capacity());
        arc_.assign(2 * t_.edge_count(), no_index);
        for (std::size_t f = 0; f < fans_.size(); ++f) stop_point(f), place(fans_[f]);
        return build();
    }

private:
    Index new_point(const DVec3& place, Index source) {
        points_.push_back(Vec3(place));
        source_.push_back(source);
        return static_cast<Index>(points_.size() - 1);
    }
    Index point_of(Index m, const Fan& fan) {
        Mover& mover = movers_[m];
        if (mover.point == no_index) {
            if (mover.velocity == DVec3(0))
                mover.point = kept(fan.vertex);
            else
                mover.point = new_point(at(fan.vertex) + mover.velocity * share_[root(fan.vertex)], fan.vertex);
        }
        return mover.point;
    }
    Index kept(Index v) {
        if (kept_.empty()) kept_.assign(t_.vertex_count, no_index);
        if (kept_[v] == no_index) kept_[v] = new_point(at(v), v);
        return kept_[v];
    }

    /// Points of an arc between two placed points about a pole, ends included, appended to the arc pool.
    Index lay_arc(Index a, Index b, const DVec3& pole, Index source) {
        const auto start = static_cast<Index>(arcs_.size());
        const Conic conic(DVec3(points_[a]), DVec3(points_[b]), pole, options_.profile);
        arcs_.push_back(a);
        for (int s = 1; s < options_.segments; ++s)
            arcs_.push_back(a == b ? a : new_point(conic.at(static_cast<double>(s) / options_.segments), source));
        arcs_.push_back(b);
        return start;
    }
    Index reversed_arc(Index arc) {
        const auto start = static_cast<Index>(arcs_.size());
        for (int s = options_.segments; s >= 0; --s) arcs_.push_back(arcs_[arc + static_cast<Index>(s)]);
        return start;
    }
    Index& arc_slot(Index edge, Index v) { return arc_[2 * edge + (t_.edges[edge][0] == v ? 0 : 1)]; }

    /// Gives a fan's points their places, lays its arcs and fills what is left in the middle.
    void place(const Fan& fan) {
        const Index n = fan.edges();
        for (Index i = 0; i < fan.count; ++i) {
            const CornerList& list = corner_[corner_of(fan, i)];
            for (Index k = 0; k < list.count; ++k) point_of(pool_[list.first + k], fan);
        }
        if (!vertex_width_.empty()) {
            place_vertex(fan);
            return;
        }
        marked_.clear();
        for (Index i = 0; i < n; ++i)
            if (bevels(fan, i)) marked_.push_back(i);
        const auto start_of = [&](Index i) {  // last point of the corner before edge i
            const CornerList& list = corner_[corner_of(fan, i + fan.count - 1)];
            return movers_[pool_[list.first + list.count - 1]].point;
        };
        const auto end_of = [&](Index i) { return movers_[pool_[corner_[corner_of(fan, i)].first]].point; };
        const bool through = fan.closed && marked_.size() == 2 && start_of(marked_[0]) == end_of(marked_[1]) &&
                             end_of(marked_[0]) == start_of(marked_[1]);
        ring_.clear();
        ring_arcs_.clear();
        const Index n_marked = static_cast<Index>(marked_.size());
        bool single = fan.closed && n_marked >= 3;
        for (Index k = 0; k < n_marked; ++k) {
            const Index i = marked_[k], a = start_of(i), b = end_of(i);
            DVec3 pole = at(fan.vertex);
            if (!through && n_marked > 1) {
                const DVec3 along = direction(fan, i);
                pole += along *
                        (0.5 * (glm::dot(DVec3(points_[a]) - pole, along) + glm::dot(DVec3(points_[b]) - pole, along)));
            }
            const Index arc = through && k == 1 ? reversed_arc(arc_slot(edge_of(fan, marked_[0]), fan.vertex))
                                                : lay_arc(a, b, pole, fan.vertex);
            arc_slot(edge_of(fan, i), fan.vertex) = arc;
            ring_arcs_.push_back(arc);
            ring_.insert(ring_.end(), arcs_.begin() + arc, arcs_.begin() + arc + options_.segments + 1);
            // Points of the plain edges up to the next bevel.
            const Index stop = k + 1 < n_marked ? marked_[k + 1] : fan.closed ? n : n - 1;
            for (Index c = i; c < stop; ++c) {
                const CornerList& list = corner_[corner_of(fan, c)];
                if (list.count > 1) single = false;
                for (Index q = 0; q < list.count; ++q) ring_.push_back(movers_[pool_[list.first + q]].point);
            }
        }
        if (through) return;
        if (!fan.closed)  // plain corners before the first bevel
            for (Index c = 0; c < marked_[0]; ++c) {
                const CornerList& list = corner_[corner_of(fan, c)];
                for (Index q = 0; q < list.count; ++q) ring_.push_back(movers_[pool_[list.first + q]].point);
            }
        if (fan.closed && n_marked == 1 && n == 3) {
            // Two plain edges: the face between them takes the arc, and nothing is left to fill.
            const Index c = corner_of(fan, 1), arc = ring_arcs_[0];
            CornerList& list = corner_[c];
            list = {static_cast<Index>(pool_.size()), static_cast<Index>(options_.segments + 1)};
            for (int s = options_.segments; s >= 0; --s) {
                movers_.push_back({DVec3(points_[arcs_[arc + static_cast<Index>(s)]]) - at(fan.vertex),
                                   arcs_[arc + static_cast<Index>(s)]});
                pool_.push_back(static_cast<Index>(movers_.size() - 1));
            }
            return;
        }
        if (!fan.closed && !fan.keeps_vertex && n_marked == 1) return;
        fill(fan, single);
    }

    void place_vertex(const Fan& fan) {
        ring_.clear();
        ring_arcs_.clear();
        for (Index i = 0; i < fan.count; ++i) {
            CornerList& list = corner_[corner_of(fan, i)];
            const Index a = movers_[pool_[list.first]].point, b = movers_[pool_[list.first + 1]].point;
            const Index arc = lay_arc(a, b, at(fan.vertex), fan.vertex);
            list = {static_cast<Index>(pool_.size()), static_cast<Index>(options_.segments + 1)};
            for (Index s = 0; s <= static_cast<Index>(options_.segments); ++s) {
                movers_.push_back({DVec3(points_[arcs_[arc + s]]) - at(fan.vertex), arcs_[arc + s]});
                pool_.push_back(static_cast<Index>(movers_.size() - 1));
            }
            ring_arcs_.push_back(arc);
            ring_.insert(ring_.end(), arcs_.begin() + arc, arcs_.begin() + arc + options_.segments);
        }
        if (fan.closed) fill(fan, fan.count >= 3);
    }

    /// Closes the hole round the old vertex: a patch where only arcs meet, else one polygon.
    void fill(const Fan& fan, bool only_arcs) {
        const Index face = face_[corner_of(fan, 0)];
        if (only_arcs && options_.segments > 1) {
            patch_arcs_.clear();
            for (const Index arc : ring_arcs_)
                patch_arcs_.push_back({arcs_.data() + arc, static_cast<std::size_t>(options_.segments) + 1});
            fill_corner(
                patch_arcs_, options_.segments, points_,
                [&](const DVec3& place) { return new_point(place, fan.vertex); },
                [&](std::span<const Index> quad) { add_extra(quad, face, fan); });
            return;
        }
        add_extra(ring_, face, fan);
    }

    void add_extra(std::span<const Index> ring, Index face, const Fan& fan) {
        const std::size_t begin = extra_.size();
        for (const Index v : ring)
            if (extra_.size() == begin || extra_.back() != v) extra_.push_back(v);
        while (extra_.size() > begin + 1 && extra_.back() == extra_[begin]) extra_.pop_back();
        if (extra_.size() < begin + 3) {
            extra_.resize(begin);
            return;
        }
        extra_ends_.push_back(static_cast<Index>(extra_.size()));
        extra_face_.push_back(face);
        extra_corner_.push_back(corner_of(fan, 0));
    }

    /// Continued over the plane of a corner and its neighbours; the corner's own where these lie on a line.
    Vec2 uv_at(Index corner, const DVec3& place) const {
        const Index n = next_[corner], q = previous_[corner];
        const DVec3 v = at(t_.corner_vertex[corner]);
        const UvPlane plane{
            v, at(t_.corner_vertex[n]) - v, at(t_.corner_vertex[q]) - v, (*uvs_)[corner], (*uvs_)[n], (*uvs_)[q]};
        if (plane.determinant() <= 1e-12 * glm::dot(plane.a, plane.a) * glm::dot(plane.b, plane.b))
            return plane.at_origin;
        return plane.at(place);
    }

    void put(Index point, Index source, Index uv_corner) {
        faces_.corner(point, source);
        if (uvs_) uv_corners_.push_back(uv_corner);
    }
    void close(Index face, bool made) {
        if (faces_.close(face))
            result_.made.push_back(made);
        else if (uvs_)
            uv_corners_.resize(faces_.corners.size());
    }
    /// Untouched vertices keep their place.
    Index plain(Index v) {
        if (whole_[v] == no_index) whole_[v] = kept_.empty() || kept_[v] == no_index ? new_point(at(v), v) : kept_[v];
        return whole_[v];
    }
    void count_share(double share, const Vec3& place) {
        ++result_.edges;
        result_.smallest_share = std::min(result_.smallest_share, share);
        if (share >= 1) return;
        ++result_.held;
        if (result_.places.size() < 64) result_.places.push_back(place);
    }

    void old_faces() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                const CornerList& list = corner_[c];
                if (list.count == 0) put(plain(t_.corner_vertex[c]), c, c);
                for (Index k = list.count; k-- > 0;) {
                    const Index point = movers_[pool_[list.first + k]].point;
                    if (faces_.corners.size() > faces_.offsets.back() && faces_.corners.back() == point) continue;
                    put(point, c, c);
                }
            }
            close(static_cast<Index>(f), false);
        }
    }
    void strips() {
        const auto segments = static_cast<Index>(options_.segments);
        for (Index e = 0; e < edge_width_.size(); ++e) {
            stop_point(e);
            const Index first = arc_[2 * e], second = arc_[2 * e + 1];
            if (first == no_index || second == no_index) continue;
            count_share(share_[root(t_.edges[e][0])], Vec3((at(t_.edges[e][0]) + at(t_.edges[e][1])) * 0.5));
            const Index face = t_.adjacency().faces_of_edge(e)[0];
            Index corner = t_.face_offsets[face];
            while (t_.corner_edge[corner] != e) ++corner;
            for (Index j = 0; j < segments; ++j) {
                const std::array<Index, 4> quad = {arcs_[first + j + 1], arcs_[first + j], arcs_[second + segments - j],
                                                   arcs_[second + segments - j - 1]};
                Index before = no_index;
                for (std::size_t k = 0; k < 4; ++k) {
                    if (quad[k] == before || (k == 3 && quad[3] == quad[0])) continue;
                    put(quad[k], no_index, corner);
                    before = quad[k];
                }
                close(face, true);
            }
        }
    }
    void patches() {
        for (std::size_t x = 0, begin = 0; x < extra_ends_.size(); begin = extra_ends_[x++]) {
            for (std::size_t i = begin; i < extra_ends_[x]; ++i) put(extra_[i], no_index, extra_corner_[x]);
            close(extra_face_[x], true);
        }
        for (Index v = 0; v < vertex_width_.size(); ++v)
            if (vertex_width_[v] > 0 && at_offsets_[v] < at_offsets_[v + 1]) count_share(share_[root(v)], p_[v]);
    }
    void what_has_no_face() {
        const Adjacency& near = t_.adjacency();
        for (Index e = 0; e < t_.edge_count(); ++e)
            if (near.faces_of_edge(e).empty()) faces_.loose.push_back({plain(t_.edges[e][0]), plain(t_.edges[e][1])});
        for (Index v = 0; v < t_.vertex_count; ++v)
            if (near.edges_of_vertex(v).empty()) plain(v);
    }

    BevelResult build() {
        const std::size_t most = t_.corner_count() + 4 * extra_.size() + arcs_.size() * 4;
        faces_.reserve(t_.face_count() + extra_ends_.size() + arcs_.size(), most);
        if (uvs_) uv_corners_.reserve(most);
        whole_.assign(t_.vertex_count, no_index);
        old_faces();
        strips();
        patches();
        what_has_no_face();
        Array<Vec2> uvs(uv_corners_.size());
        parallel::each(parallel::Numbers<std::size_t>(0, uvs.size(), 4096), [&](const auto& range) {
            stop_point();
            for (std::size_t i = range.begin(); i != range.end(); ++i)
                uvs[i] = uv_at(uv_corners_[i], DVec3(points_[faces_.corners[i]]));
        });
        Mesh old = mesh_;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            old.attributes.remove(domain, attribute_name::normal);
        old.attributes.remove(Domain::corner, attribute_name::uv);
        old.attributes.remove(Domain::edge, attribute_name::bevel);  // used up
        result_.mesh = rebuilt(old, std::move(points_), source_, std::move(faces_));
        if (uvs_) result_.mesh.attributes.set(Domain::corner, attribute_name::uv, std::move(uvs));
        return std::move(result_);
    }

    const Array<Vec2>* uvs_;
    Array<Index> arcs_, arc_;  ///< points of arcs one after another; where the arc at either end of an edge begins
    Array<Index> kept_, whole_;
    Array<Vec3> points_;
    Array<Index> source_;
    Array<Index> extra_, extra_ends_, extra_face_, extra_corner_;
    FaceList faces_;
    Array<Index> uv_corners_;  ///< where each corner's UV is continued from
    BevelResult result_;
    // Reused by one fan after another.
    std::vector<Index> ring_, ring_arcs_;
    std::vector<std::span<const Index>> patch_arcs_;
};

}  // namespace

BevelResult bevelled_edges(const Mesh& mesh, std::span<const float> width, const BevelOptions& options) {
    Array<float> usable(mesh.edge_count(), 0);
    const Topology& t = *mesh.topology;
    const Array<EdgeUse> uses = edge_uses(t);
    bool any = false;
    for (std::size_t e = 0; e < usable.size(); ++e)
        if (uses[e].between_two() && width[e] > 0 && t.edges[e][0] != t.edges[e][1]) usable[e] = width[e], any = true;
    if (!any) return {mesh, Mask(mesh.face_count(), 0), 0, 0, 1, {}};
    return Beveller(mesh, options, usable, {}).run();
}

BevelResult bevelled_vertices(const Mesh& mesh, std::span<const float> width, const BevelOptions& options) {
    if (std::ranges::none_of(width, [](float w) { return w > 0; }))
        return {mesh, Mask(mesh.face_count(), 0), 0, 0, 1, {}};
    return Beveller(mesh, options, {}, width).run();
}

Array<float> edge_angles(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    Array<float> angles(t.edge_count(), 0);
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto faces = near.faces_of_edge(e);
        if (faces.size() != 2) continue;
        const DVec3 a(flat[faces[0]]), b(flat[faces[1]]);
        const double turn = glm::degrees(std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)));
        // Concave when the other face rises above this one.
        Index c = t.face_offsets[faces[0]];
        while (t.corner_edge[c] != e) ++c;
        const Index from = t.corner_vertex[c], to = t.corner_vertex[t.next_in(faces[0], c)];
        const DVec3 along = DVec3((*mesh.positions)[to]) - DVec3((*mesh.positions)[from]);
        angles[e] = static_cast<float>(glm::dot(glm::cross(a, b), along) < 0 ? -turn : turn);
    }
    return angles;
}

}  // namespace bricol
