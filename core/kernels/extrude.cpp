// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/extrude.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/rebuild.h"
#include "core/ground/numbers.h"

namespace bricol {

namespace {

/// For joined faces: how each vertex on the border of the region moves per metre of inset, in the faces' planes.
Array<Vec3> region_insets(const Mesh& mesh, const Selection& region, double inset, ExtrudeResult& told) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    // Each border edge asks its ends to move by 1 along its own inward direction; m solves m . d = 1 for both.
    std::vector<std::vector<DVec3>> asked(t.vertex_count);
    const auto border = [&](Index e) {
        std::size_t inside = 0;
        for (const Index f : near.faces_of_edge(e)) inside += region[f];
        return inside == 1;
    };
    for (std::size_t f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        if (!region[f]) continue;
        const auto face = t.face(f);
        for (std::size_t i = 0; i < face.size(); ++i) {
            if (!border(t.corner_edge[t.face_offsets[f] + i])) continue;
            const Index a = face[i], b = face[(i + 1) % face.size()];
            const DVec3 inward = unit(glm::cross(DVec3(flat[f]), DVec3(p[b]) - DVec3(p[a])));
            asked[a].push_back(inward);
            asked[b].push_back(inward);
        }
    }
    Array<Vec3> moves(t.vertex_count, Vec3(0));
    for (Index v = 0; v < t.vertex_count; ++v) {
        stop_point(v);
        if (asked[v].empty()) continue;
        DVec3 sum(0);
        for (const DVec3& d : asked[v]) sum += d;
        const double length = glm::length(sum);
        if (length < 1e-9) continue;
        const DVec3 mean = sum / length;
        double reach = 0;
        for (const DVec3& d : asked[v]) reach += glm::dot(d, mean) / static_cast<double>(asked[v].size());
        moves[v] = Vec3(mean / std::max(reach, 0.2));
    }
    double share = 1;
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = t.edges[e];
        std::size_t inside = 0;
        for (const Index f : near.faces_of_edge(e)) inside += region[f];
        if (inside == 0) continue;
        const DVec3 along = DVec3(p[b]) - DVec3(p[a]);
        const double length = glm::length(along);
        if (length == 0) continue;
        const double closing = inset * glm::dot(DVec3(moves[a]) - DVec3(moves[b]), along / length);
        if (closing <= 0.98 * length) continue;
        share = std::min(share, 0.98 * length / closing);
        ++told.held;
        told.held_places.push_back((p[a] + p[b]) * 0.5f);
    }
    told.made_share = std::min(told.made_share, share);
    for (Vec3& m : moves) m *= static_cast<float>(inset * share);
    return moves;
}

struct WallBuilder {
    explicit WallBuilder(const Mesh& mesh)
        : old(mesh), t(*mesh.topology), points(*mesh.positions), source(points.size()) {
        std::iota(source.begin(), source.end(), 0);
    }
    Index add(const Vec3& p, Index v) {
        points.push_back(p);
        source.push_back(v);
        return static_cast<Index>(points.size() - 1);
    }
    void mark(bool f, bool s, bool b) {
        result.front.push_back(f);
        result.side.push_back(s);
        result.back.push_back(b);
    }
    ExtrudeResult finish() {
        const Adjacency& near = t.adjacency();
        if (t.has_loose_edges())
            for (Index e = 0; e < t.edge_count(); ++e)
                if (near.faces_of_edge(e).empty()) faces.loose.push_back(t.edges[e]);
        stop_point();
        // Vertices that only dropped faces used go.
        Mask used(points.size(), 0);
        for (std::size_t c = 0; c < faces.corners.size(); ++c) {
            stop_point(c);
            used[faces.corners[c]] = 1;
        }
        for (const auto& edge : faces.loose) used[edge[0]] = used[edge[1]] = 1;
        for (Index v = 0; v < t.vertex_count; ++v) {
            stop_point(v);
            if (near.edges_of_vertex(v).empty()) used[v] = 1;
        }
        Array<Index> renumbered = array_of(points.size(), no_index), kept_source;
        Array<Vec3> kept;
        kept.reserve(points.size()), kept_source.reserve(points.size());
        for (Index v = 0; v < points.size(); ++v) {
            stop_point(v);
            if (used[v]) {
                renumbered[v] = static_cast<Index>(kept.size());
                kept.push_back(points[v]);
                kept_source.push_back(source[v]);
            }
        }
        for (std::size_t c = 0; c < faces.corners.size(); ++c) {
            stop_point(c);
            faces.corners[c] = renumbered[faces.corners[c]];
        }
        for (auto& edge : faces.loose) edge = {renumbered[edge[0]], renumbered[edge[1]]};
        Mesh plain = old;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            plain.attributes.remove(domain, attribute_name::normal);
        result.mesh = rebuilt(plain, std::move(kept), kept_source, std::move(faces));
        return std::move(result);
    }
    const Mesh& old;
    const Topology& t;
    Array<Vec3> points;
    Array<Index> source;
    FaceList faces;
    ExtrudeResult result;
};

}  // namespace

namespace {

class FaceExtrusion {
public:
    FaceExtrusion(const Mesh& mesh, const Selection& region, const ExtrudeOptions& options)
        : b_(mesh),
          t_(b_.t),
          p_(*mesh.positions),
          near_(t_.adjacency()),
          region_(region),
          options_(options),
          flat_(face_normals(mesh)),
          rows_(std::max(1, options.divisions)) {}

    ExtrudeResult build() {
        make_room();
        keep_the_others();
        if (options_.together) raise_vertices();
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!region_[f]) continue;
            if (!options_.together) raise_corners(f);
            if (options_.front) front(f);
            if (options_.back) back(f);
            sides(f);
        }
        return b_.finish();
    }

private:
    void make_room() {
        std::size_t corners = 0;
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            corners += region_[f] ? t_.face(f).size() : 0;
        }
        const std::size_t columns = options_.together ? std::min<std::size_t>(corners, t_.vertex_count) : corners,
                          walls = options_.side && !options_.together ? corners * static_cast<std::size_t>(rows_) : 0;
        b_.points.reserve(b_.points.size() + columns * static_cast<std::size_t>(rows_ + 1));
        b_.source.reserve(b_.points.capacity());
        b_.faces.reserve(2 * t_.face_count() + walls, 2 * t_.corner_count() + 4 * walls);
    }
    void keep_the_others() {
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (region_[f]) continue;
            for (Index c = t_.face_offsets[f]; c < t_.face_offsets[f + 1]; ++c) b_.faces.corner(t_.corner_vertex[c], c);
            b_.faces.close(static_cast<Index>(f));
            b_.mark(false, false, false);
        }
    }
    /// A column of new points; the number of the first. Walls that go back behind the surface start at points of their
    /// own: faces beside the pulled ones stay where they are.
    Index column(const Vec3& at, const Vec3& to, const Vec3& way, Index v) {
        const auto first = static_cast<Index>(b_.points.size());
        const Vec3 from = both_ways_ ? at - way * static_cast<float>(options_.other_way) : at;
        for (int r = both_ways_ ? 0 : 1; r <= rows_; ++r)
            b_.add(from + (to - from) * (static_cast<float>(r) / static_cast<float>(rows_)), v);
        return first;
    }
    /// Faces that stay together share the column above a vertex.
    void raise_vertices() {
        const Array<Vec3> offsets = options_.direction ? Array<Vec3>{} : even_offsets(b_.old, region_);
        const Array<Vec3> insets =
            options_.inset > 0 ? region_insets(b_.old, region_, options_.inset, b_.result) : Array<Vec3>{};
        above_.assign(t_.vertex_count, no_index);
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!region_[f]) continue;
            for (const Index v : t_.face(f)) {
                if (above_[v] != no_index) continue;
                const Vec3 way = options_.direction ? Vec3(*options_.direction) : offsets[v];
                Vec3 to = p_[v] + way * static_cast<float>(options_.distance);
                if (!insets.empty()) to += insets[v];
                above_[v] = column(p_[v], to, way, v);
            }
        }
    }
    void raise_corners(std::size_t f) {
        const auto face = t_.face(f);
        polygon_.clear();
        for (const Index v : face) polygon_.emplace_back(p_[v]);
        inset_ = polygon_;
        double share = 1;
        if (options_.inset > 0) inset_polygon(polygon_, DVec3(flat_[f]), options_.inset, inset_, &share);
        if (share < 1) {
            ++b_.result.held;
            b_.result.made_share = std::min(b_.result.made_share, share);
            b_.result.held_places.push_back(p_[face[0]]);
        }
        const DVec3 way = options_.direction ? *options_.direction : DVec3(flat_[f]);
        above_.clear();
        for (std::size_t i = 0; i < face.size(); ++i)
            above_.push_back(column(p_[face[i]], Vec3(inset_[i] + way * options_.distance), Vec3(way), face[i]));
    }
    /// The point of a face's corner in a row; row 0 is the old surface.
    Index at(std::size_t f, std::size_t i, int row) const {
        const Index v = t_.face(f)[i];
        if (row == 0 && !both_ways_) return v;
        return above_[options_.together ? v : i] + static_cast<Index>(both_ways_ ? row : row - 1);
    }
    void front(std::size_t f) {
        const Index first = t_.face_offsets[f];
        for (std::size_t i = 0; i < t_.face(f).size(); ++i)
            b_.faces.corner(at(f, i, rows_), first + static_cast<Index>(i));
        b_.faces.close(static_cast<Index>(f));
        b_.mark(true, false, false);
    }
    void back(std::size_t f) {
        const std::size_t n = t_.face(f).size();
        for (std::size_t k = 0; k < n; ++k) {
            const std::size_t i = (n - k) % n;
            b_.faces.corner(at(f, i, 0), t_.face_offsets[f] + static_cast<Index>(i));
        }
        b_.faces.close(static_cast<Index>(f));
        b_.mark(false, false, true);
    }
    void sides(std::size_t f) {
        const Index first = t_.face_offsets[f];
        const std::size_t n = t_.face(f).size();
        for (std::size_t i = 0; i < n; ++i) {
            const std::size_t j = (i + 1) % n;
            const auto beside = near_.faces_of_edge(t_.corner_edge[first + i]);
            const auto inside = std::ranges::count_if(beside, [&](Index other) { return region_[other]; });
            if (options_.together && inside != 1) continue;
            if (!options_.back && beside.size() == 1) b_.result.open_slab = true;
            if (!options_.side) continue;
            for (int r = 0; r < rows_; ++r) {
                for (const auto& [corner, row] : {std::pair{i, r}, {j, r}, {j, r + 1}, {i, r + 1}})
                    b_.faces.corner(at(f, corner, row), first + static_cast<Index>(corner));
                if (b_.faces.close(static_cast<Index>(f))) b_.mark(false, true, false);
            }
        }
    }

    WallBuilder b_;
    const Topology& t_;
    const Array<Vec3>& p_;
    const Adjacency& near_;
    const Selection& region_;
    const ExtrudeOptions& options_;
    const Array<Vec3> flat_;
    const int rows_;
    const bool both_ways_ = options_.other_way != 0;
    std::vector<Index> above_;  ///< first point of the column above a vertex, or above a corner of the face at hand
    std::vector<DVec3> polygon_, inset_;
};

}  // namespace

ExtrudeResult extruded_faces(const Mesh& mesh, const Selection& region, const ExtrudeOptions& options) {
    return FaceExtrusion(mesh, region, options).build();
}

namespace {

/// Takes faces out of every set they were given with the face they came from.
void out_of_sets(Mesh& mesh, const Mask& faces) {
    std::vector<std::string> sets;
    for (const Attribute& a : mesh.attributes.all())
        if (a.domain == Domain::face && std::holds_alternative<Array<std::uint8_t>>(*a.values)) sets.push_back(a.name);
    for (const std::string& name : sets) {
        Array<std::uint8_t> members = *mesh.attributes.values<std::uint8_t>(Domain::face, name);
        for (std::size_t f = 0; f < members.size(); ++f) members[f] = members[f] && !faces[f];
        mesh.attributes.set(Domain::face, name, std::move(members));
    }
}

Mask edges_between(const Mesh& mesh, const std::vector<std::array<Index, 2>>& pairs) {
    std::set<std::array<Index, 2>> wanted;
    for (const auto& [a, b] : pairs) wanted.insert({std::min(a, b), std::max(a, b)});
    Mask out(mesh.edge_count(), 0);
    for (std::size_t e = 0; e < out.size(); ++e) {
        const auto [a, b] = mesh.topology->edges[e];
        out[e] = wanted.contains({std::min(a, b), std::max(a, b)});
    }
    return out;
}

}  // namespace

ExtrudeResult extruded_edges(const Mesh& mesh, const Selection& edges, const ExtrudeOptions& options) {
    WallBuilder b(mesh);
    const Topology& t = b.t;
    const Array<Vec3>& p = *mesh.positions;
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    b.faces = faces_of(mesh);
    b.faces.loose.clear();
    for (std::size_t f = 0; f < t.face_count(); ++f) b.mark(false, false, false);
    const auto open = [&](Index e) { return edges[e] && near.faces_of_edge(e).size() == 1; };
    const auto corner_of = [&](Index e) {
        Index c = t.face_offsets[near.faces_of_edge(e)[0]];
        while (t.corner_edge[c] != e) ++c;
        return c;
    };
    std::vector<std::vector<DVec3>> ways(t.vertex_count);
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        if (!open(e)) continue;
        const Index f = near.faces_of_edge(e)[0], c = corner_of(e);
        const Index from = t.corner_vertex[c], to = t.corner_vertex[t.next_in(f, c)];
        const DVec3 way =
            options.in_sheet ? unit(glm::cross(DVec3(p[to]) - DVec3(p[from]), DVec3(flat[f]))) : DVec3(flat[f]);
        ways[from].push_back(way);
        ways[to].push_back(way);
    }
    std::vector<std::vector<Index>> levels(t.vertex_count);
    const int rows = std::max(1, options.divisions);
    for (Index v = 0; v < t.vertex_count; ++v) {
        stop_point(v);
        if (ways[v].empty()) continue;
        DVec3 way(0);
        if (options.direction) {
            way = *options.direction;
        } else {
            for (const DVec3& d : ways[v]) way += d;
            way = unit(way);
            double reach = 0;
            for (const DVec3& d : ways[v]) reach += glm::dot(d, way) / static_cast<double>(ways[v].size());
            way /= std::max(reach, 0.25);
        }
        for (int r = 1; r <= rows; ++r)
            levels[v].push_back(b.add(Vec3(DVec3(p[v]) + way * (options.distance * r / rows)), v));
    }
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        if (!open(e)) continue;
        const Index f = near.faces_of_edge(e)[0], c = corner_of(e);
        const Index next = t.next_in(f, c), from = t.corner_vertex[c], to = t.corner_vertex[next];
        for (int r = 0; r < rows; ++r) {
            const auto at = [&](Index v, int row) {
                return row == 0 ? v : levels[v][static_cast<std::size_t>(row - 1)];
            };
            b.faces.corner(at(to, r), next);
            b.faces.corner(at(from, r), c);
            b.faces.corner(at(from, r + 1), c);
            b.faces.corner(at(to, r + 1), next);
            if (b.faces.close(f)) b.mark(false, true, false);
        }
    }
    std::vector<std::array<Index, 2>> far;
    for (Index e = 0; e < t.edge_count(); ++e)
        if (open(e)) far.push_back({levels[t.edges[e][0]].back(), levels[t.edges[e][1]].back()});
    // Every point of a wall is used and every old one still is, so numbers stay as they were given.
    ExtrudeResult result = b.finish();
    out_of_sets(result.mesh, result.side);
    result.pulled = edges_between(result.mesh, far);
    return result;
}

ExtrudeResult inset_faces(const Mesh& mesh, const Selection& faces, double width, bool together) {
    ExtrudeOptions options;
    options.distance = 0;
    options.inset = width;
    options.together = together;
    ExtrudeResult result = extruded_faces(mesh, faces, options);
    result.open_slab = false;
    return result;
}

}  // namespace bricol
