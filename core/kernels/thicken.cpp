// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/thicken.h"

#include <cmath>
#include <numeric>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/rebuild.h"

namespace bricol {

namespace {

class Thickening {
public:
    Thickening(const Mesh& mesh, const ThickenOptions& options, const Selection& chosen)
        : mesh_(mesh),
          t_(*mesh.topology),
          near_(t_.adjacency()),
          chosen_(chosen),
          offsets_(even_offsets(mesh, chosen)),
          out_(static_cast<float>(options.thickness * options.outward)),
          in_(static_cast<float>(options.thickness * (options.outward - 1))) {}

    ThickenResult build(bool rims) {
        place_points();
        faces_.reserve(2 * t_.face_count(), 2 * t_.corner_count());
        outer_faces();
        inner_faces();
        if (rims) rim_faces();
        if (t_.has_loose_edges())
            for (Index e = 0; e < t_.edge_count(); ++e)
                if (near_.faces_of_edge(e).empty()) faces_.loose.push_back(t_.edges[e]);
        look_for_tight_places();
        Mesh old = mesh_;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            old.attributes.remove(domain, attribute_name::normal);
        result_.mesh = rebuilt(old, std::move(points_), source_, std::move(faces_));
        return std::move(result_);
    }

private:
    /// A vertex that other faces use as well stays for them; the wall gets one of its own when it moves away.
    void place_points() {
        in_wall_.assign(t_.vertex_count, 0);
        Mask outside(t_.vertex_count, 0);
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            for (const Index v : t_.face(f)) (chosen_[f] ? in_wall_ : outside)[v] = 1;
        }
        points_ = *mesh_.positions;
        source_.resize(points_.size());
        std::iota(source_.begin(), source_.end(), 0);
        outer_.resize(t_.vertex_count);
        inner_.resize(t_.vertex_count);
        const auto moved = [&](Index v, float by) {
            points_.push_back((*mesh_.positions)[v] + offsets_[v] * by);
            source_.push_back(v);
            return static_cast<Index>(points_.size() - 1);
        };
        points_.reserve(points_.size() * 2 + 8);
        for (Index v = 0; v < t_.vertex_count; ++v) {
            stop_point(v);
            outer_[v] = inner_[v] = v;
            if (!in_wall_[v]) continue;
            if (outside[v] && out_ != 0)
                outer_[v] = moved(v, out_);
            else
                points_[v] += offsets_[v] * out_;
            inner_[v] = moved(v, in_);
        }
    }
    void close(std::size_t f, bool outer, bool inner, bool rim) {
        faces_.close(static_cast<Index>(f));
        result_.outer.push_back(outer);
        result_.inner.push_back(inner);
        result_.rim.push_back(rim);
    }
    void outer_faces() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            const bool wall = chosen_[f];
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c)
                faces_.corner(wall ? outer_[t_.corner_vertex[c]] : t_.corner_vertex[c], c);
            close(f, wall, false, false);
        }
    }
    void inner_faces() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!chosen_[f]) continue;
            const Index begin = t_.face_offsets[f], n = t_.face_offsets[f + 1] - begin;
            for (Index i = 0; i < n; ++i) {
                const Index c = begin + (n - i) % n;
                faces_.corner(inner_[t_.corner_vertex[c]], c);
            }
            close(f, false, true, false);
        }
    }
    void rim_faces() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!chosen_[f]) continue;
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) {
                std::size_t walls = 0;
                for (const Index other : near_.faces_of_edge(t_.corner_edge[c])) walls += chosen_[other];
                if (walls != 1) continue;
                const Index next = t_.next_in(f, c);
                const Index a = t_.corner_vertex[c], b = t_.corner_vertex[next];
                faces_.corner(outer_[b], next);
                faces_.corner(outer_[a], c);
                faces_.corner(inner_[a], c);
                faces_.corner(inner_[b], next);
                close(f, false, false, true);
            }
        }
    }
    /// Too tight: an edge of the moved side runs the other way than the edge it came from.
    void look_for_tight_places() {
        const Array<Vec3>& p = *mesh_.positions;
        for (Index e = 0; e < t_.edge_count(); ++e) {
            stop_point(e);
            const auto [a, b] = t_.edges[e];
            if (!in_wall_[a] || !in_wall_[b] || near_.faces_of_edge(e).empty()) continue;
            const Vec3 before = p[b] - p[a];
            for (const float by : {out_, in_})
                if (by != 0 && glm::dot(before, before + (offsets_[b] - offsets_[a]) * by) < 0) {
                    result_.too_tight.push_back((p[a] + p[b]) * 0.5f);
                    break;
                }
        }
    }

    const Mesh& mesh_;
    const Topology& t_;
    const Adjacency& near_;
    const Selection& chosen_;
    const Array<Vec3> offsets_;
    const float out_, in_;  ///< metres along the offsets to either side
    Mask in_wall_;
    Array<Vec3> points_;
    Array<Index> source_, outer_, inner_;  ///< where a point came from; the points of a vertex on either side
    FaceList faces_;
    ThickenResult result_;
};

}  // namespace

ThickenResult thickened(const Mesh& mesh, const ThickenOptions& options, const Selection& chosen) {
    return Thickening(mesh, options, chosen).build(options.rims);
}

}  // namespace bricol
