// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/struts.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <numbers>

#include "core/ground/stop.h"
#include "core/kernels/array.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/normals.h"
#include "core/kernels/offsets.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/solids.h"
#include "core/kernels/weld.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

double mean_edge(const Mesh& mesh, std::size_t f) {
    const auto face = mesh.topology->face(f);
    double sum = 0;
    for (std::size_t i = 0; i < face.size(); ++i)
        sum += glm::distance((*mesh.positions)[face[i]], (*mesh.positions)[face[(i + 1) % face.size()]]);
    return sum / static_cast<double>(face.size());
}

/// The bar's thickness on a face.
double thickness_on(const Mesh& mesh, const StrutOptions& options, std::size_t f) {
    return options.relative ? options.thickness * mean_edge(mesh, f) : options.thickness;
}

void hold(StrutResult& result, const Vec3& place) {
    ++result.held;
    if (result.places.size() < 64) result.places.push_back(place);
}

/// The whole mesh framed, every index known in advance, so that faces are written side by side.
class WholeFrame {
public:
    WholeFrame(const Mesh& mesh, const StrutOptions& options)
        : mesh_(mesh),
          options_(options),
          t_(*mesh.topology),
          p_(*mesh.positions),
          near_(t_.adjacency()),
          vertices_(static_cast<Index>(t_.vertex_count)),
          edges_(static_cast<Index>(t_.edge_count())),
          corners_(static_cast<Index>(t_.corner_count())) {}

    /// Nothing when bars would run into one another along a square corner: then points fall together and the list has
    /// to be made with care.
    bool build(StrutResult& result) {
        if (10.0 * corners_ + edges_ > 2e9 || std::ranges::any_of(t_.edges, [](const auto& e) { return e[0] == e[1]; }))
            return false;
        flat_ = face_normals(mesh_);
        measure();
        number();
        place_vertices();
        share_.assign(t_.face_count(), 1);
        parallel::each(parallel::Numbers<std::size_t>(0, t_.face_count(), 1024), [&](const auto& range) {
            stop_point();
            std::vector<DVec3> polygon, inset;
            for (std::size_t f = range.begin(); f != range.end(); ++f) {
                place_corners(f, polygon, inset);
                frame(f);
            }
        });
        if (square_) return false;
        topology_->face_offsets[quads_] = static_cast<Index>(4 * quads_);
        for (std::size_t f = 0; f < share_.size(); ++f)
            if (share_[f] < 1) hold(result, p_[t_.face(f)[0]]);
        finish(result);
        return true;
    }

private:
    /// Half the depth at every vertex: of the thickest bar that meets there.
    void measure() {
        thick_.resize(t_.face_count());
        parallel::each(parallel::Numbers<std::size_t>(0, t_.face_count(), 4096), [&](const auto& range) {
            stop_point();
            for (std::size_t f = range.begin(); f != range.end(); ++f) thick_[f] = thickness_on(mesh_, options_, f);
        });
        const double depth = (options_.depth > 0 ? options_.depth : options_.relative ? 0 : options_.thickness) / 2;
        reach_.assign(vertices_, depth);
        for (std::size_t f = 0; f < t_.face_count() && depth == 0; ++f)
            for (const Index v : t_.face(f)) reach_[v] = std::max(reach_[v], thick_[f] / 2);
    }

    /// Points: above and below every vertex, then on top and underneath every corner.
    /// Edges: above and below every edge that has a face; then five per corner; then the ends of rims.
    /// Faces: three per corner, then the rims along borders.
    void number() {
        of_vertex_.assign(vertices_, no_index);
        Mask used(vertices_, 0);
        for (const Index v : t_.corner_vertex) used[v] = 1;
        Index count = 0;
        for (Index v = 0; v < vertices_; ++v)
            if (used[v]) of_vertex_[v] = 2 * count++;
        corner_base_ = 2 * count;
        rim_of_edge_.assign(edges_, no_index), rim_of_vertex_.assign(vertices_, no_index);
        of_edge_.assign(edges_, no_index);
        Index rims = 0, rim_ends = 0, edge_count = 0;
        for (Index e = 0; e < edges_; ++e) {
            stop_point(e);
            const std::size_t beside = near_.faces_of_edge(e).size();
            if (beside > 0) of_edge_[e] = 2 * edge_count++;
            if (beside != 1) continue;
            rim_of_edge_[e] = rims++;
            for (const Index v : t_.edges[e])
                if (rim_of_vertex_[v] == no_index) rim_of_vertex_[v] = rim_ends++;
        }
        corner_edge_base_ = 2 * edge_count;
        rim_edge_base_ = corner_edge_base_ + 5 * corners_;
        quads_ = 3 * static_cast<std::size_t>(corners_) + rims;
        topology_->edges.resize(static_cast<std::size_t>(rim_edge_base_) + rim_ends);
        topology_->face_offsets.resize(quads_ + 1);
        topology_->corner_vertex.resize(4 * quads_);
        topology_->corner_edge.resize(4 * quads_);
        face_source_.resize(quads_);
        for (Index v = 0; v < vertices_; ++v)
            if (rim_of_vertex_[v] != no_index)
                topology_->edges[rim_edge_base_ + rim_of_vertex_[v]] = {of_vertex_[v], of_vertex_[v] + 1};
    }

    void place_vertices() {
        points_.resize(static_cast<std::size_t>(corner_base_) + 2 * static_cast<std::size_t>(corners_));
        source_.resize(points_.size());
        topology_->vertex_count = static_cast<Index>(points_.size());
        const Array<Vec3> normals = even_offsets(mesh_, {}, 2);
        parallel::each(parallel::Numbers<Index>(0, vertices_, 8192), [&](const auto& range) {
            stop_point();
            for (Index v = range.begin(); v != range.end(); ++v) {
                const Index above = of_vertex_[v];
                if (above == no_index) continue;
                const DVec3 lift = DVec3(normals[v]) * reach_[v];
                points_[above] = Vec3(DVec3(p_[v]) + lift);
                points_[above + 1] = Vec3(DVec3(p_[v]) - lift);
                source_[above] = source_[above + 1] = v;
            }
        });
    }

    void place_corners(std::size_t f, std::vector<DVec3>& polygon, std::vector<DVec3>& inset) {
        const Index first = t_.face_offsets[f], n = t_.face_offsets[f + 1] - first;
        polygon.clear();
        for (const Index v : t_.face(f)) polygon.emplace_back(p_[v]);
        inset.resize(n);
        inset_polygon(polygon, DVec3(flat_[f]), thick_[f] / 2, inset, &share_[f]);
        for (Index i = 0; i < n; ++i) {
            const Index c = first + i, v = t_.corner_vertex[c];
            const DVec3 lift = DVec3(flat_[f]) * reach_[v];
            const Index top = corner_base_ + 2 * c;
            points_[top] = Vec3(inset[i] + lift);
            points_[top + 1] = Vec3(inset[i] - lift);
            source_[top] = source_[top + 1] = v;
            const float near = 1e-4f * static_cast<float>(reach_[v]);
            if (glm::distance(points_[top + 1], points_[of_vertex_[v] + 1]) < near) square_ = true;
        }
    }

    void frame(std::size_t f) {
        auto& edges = topology_->edges;
        const Index first = t_.face_offsets[f], n = t_.face_offsets[f + 1] - first;
        for (Index i = 0; i < n; ++i) {
            const Index c = first + i, d = first + (i + 1 == n ? 0 : i + 1), a = of_vertex_[t_.corner_vertex[c]],
                        b = of_vertex_[t_.corner_vertex[d]], e = t_.corner_edge[c];
            const Index top_c = corner_base_ + 2 * c, top_d = corner_base_ + 2 * d, five_c = corner_edge_base_ + 5 * c,
                        five_d = corner_edge_base_ + 5 * d, of_e = of_edge_[e];
            // The five of a corner: along the top, along underneath, out to the bar's edge above and below, down.
            edges[five_c] = {top_c, top_d};
            edges[five_c + 1] = {top_c + 1, top_d + 1};
            edges[five_c + 2] = {a, top_c};
            edges[five_c + 3] = {a + 1, top_c + 1};
            edges[five_c + 4] = {top_c, top_c + 1};
            if (near_.faces_of_edge(e)[0] == f) {
                const Index from = of_vertex_[t_.edges[e][0]], to = of_vertex_[t_.edges[e][1]];
                edges[of_e] = {from, to};
                edges[of_e + 1] = {from + 1, to + 1};
            }
            const std::size_t quad = 3 * static_cast<std::size_t>(c);
            write(quad, f, {a, b, top_d, top_c}, {of_e, five_d + 2, five_c, five_c + 2});
            write(quad + 1, f, {b + 1, a + 1, top_c + 1, top_d + 1}, {of_e + 1, five_c + 3, five_c + 1, five_d + 3});
            write(quad + 2, f, {top_c, top_d, top_d + 1, top_c + 1}, {five_c, five_d + 4, five_c + 1, five_c + 4});
            if (rim_of_edge_[e] != no_index)
                write(3 * static_cast<std::size_t>(corners_) + rim_of_edge_[e], f, {b, a, a + 1, b + 1},
                      {of_e, rim_edge_base_ + rim_of_vertex_[t_.corner_vertex[c]], of_e + 1,
                       rim_edge_base_ + rim_of_vertex_[t_.corner_vertex[d]]});
        }
    }

    void write(std::size_t quad, std::size_t f, const std::array<Index, 4>& ring, const std::array<Index, 4>& sides) {
        topology_->face_offsets[quad] = static_cast<Index>(4 * quad);
        face_source_[quad] = static_cast<Index>(f);
        std::ranges::copy(ring, topology_->corner_vertex.begin() + static_cast<std::ptrdiff_t>(4 * quad));
        std::ranges::copy(sides, topology_->corner_edge.begin() + static_cast<std::ptrdiff_t>(4 * quad));
    }

    void finish(StrutResult& result) {
        result.mesh = Mesh(std::move(points_), std::move(topology_));
        Attributes kept = mesh_.attributes;
        kept.remove(Domain::vertex, attribute_name::normal);
        kept.gather_into(result.mesh.attributes, Domain::vertex, source_);
        kept.gather_into(result.mesh.attributes, Domain::face, face_source_);
        for (const Attribute& attribute : kept.all())
            if (attribute.domain == Domain::whole) result.mesh.attributes.set(attribute);
        result.mesh.materials = mesh_.materials;
        result.mesh.skeleton = mesh_.skeleton;
    }

    const Mesh& mesh_;
    const StrutOptions& options_;
    const Topology& t_;
    const Array<Vec3>& p_;
    const Adjacency& near_;
    const Index vertices_, edges_, corners_;
    Array<Vec3> flat_;
    Array<double> thick_, reach_, share_;  ///< of a face, of a vertex, of a face: how much of the inset had room
    Index corner_base_ = 0, corner_edge_base_ = 0, rim_edge_base_ = 0;
    std::size_t quads_ = 0;
    Array<Index> of_vertex_, of_edge_, rim_of_edge_, rim_of_vertex_, source_, face_source_;
    Array<Vec3> points_;
    std::shared_ptr<Topology> topology_ = std::make_shared<Topology>();
    std::atomic<bool> square_ = false;
};

/// The frame of square bars with care for square corners and for what is chosen: every face becomes a ring of quads
/// above, below and inside, borders a wall outside.
class SquareFrame {
public:
    SquareFrame(const Mesh& mesh, const StrutOptions& options, const Selection& edges, StrutResult& result)
        : mesh_(mesh),
          options_(options),
          result_(result),
          t_(*mesh.topology),
          p_(*mesh.positions),
          chosen_(t_.face_count(), 1) {
        if (!edges.all()) chosen_ = turned_over(mesh, edges.mask(t_.edge_count()), Domain::edge, Domain::face);
    }

    void build() {
        flat_ = face_normals(mesh_);
        normals_ = even_offsets(mesh_, chosen_, 2);
        above_.assign(t_.vertex_count, no_index), below_ = above_;
        points_.reserve(2 * (t_.vertex_count + t_.corner_count()));
        source_.reserve(points_.capacity());
        measure();
        faces_.corners.reserve(t_.corner_count() * 16);
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!chosen_[f]) continue;
            place(f);
            frame(f);
        }
        Mesh old = mesh_;
        old.attributes.remove_all(Domain::corner);
        old.attributes.remove(Domain::vertex, attribute_name::normal);
        result_.mesh = rebuilt(old, std::move(points_), source_, std::move(faces_));
        if (square_corners_) tidy();
    }

private:
    /// Half depth at a vertex.
    void measure() {
        reach_.assign(t_.vertex_count, 0);
        for (std::size_t f = 0; f < t_.face_count(); ++f) {
            stop_point(f);
            if (!chosen_[f]) continue;
            const double depth = options_.depth > 0 ? options_.depth : thickness_on(mesh_, options_, f);
            for (const Index v : t_.face(f)) reach_[v] = std::max(reach_[v], depth / 2);
        }
    }
    Index add(const DVec3& place, Index v) {
        points_.push_back(Vec3(place));
        source_.push_back(v);
        return static_cast<Index>(points_.size() - 1);
    }
    void place(std::size_t f) {
        const auto face = t_.face(f);
        polygon_.clear();
        for (const Index v : face) polygon_.emplace_back(p_[v]);
        inset_.resize(face.size());
        double share = 1;
        inset_polygon(polygon_, DVec3(flat_[f]), thickness_on(mesh_, options_, f) / 2, inset_, &share);
        if (share < 1) hold(result_, Vec3(polygon_[0]));
        top_.clear();
        low_.clear();
        for (std::size_t i = 0; i < face.size(); ++i) {
            const Index v = face[i];
            const DVec3 lift = DVec3(normals_[v]) * reach_[v], flat_lift = DVec3(flat_[f]) * reach_[v];
            if (above_[v] == no_index) {
                above_[v] = add(DVec3(p_[v]) + lift, v);
                below_[v] = add(DVec3(p_[v]) - lift, v);
            }
            top_.push_back(add(inset_[i] + flat_lift, v));
            // At a square corner the inner edges of both bars fall together.
            const DVec3 inner = inset_[i] - flat_lift;
            const bool together =
                glm::distance(Vec3(inner), points_[below_[v]]) < 1e-4f * static_cast<float>(reach_[v]);
            square_corners_ |= together;
            low_.push_back(together ? below_[v] : add(inner, v));
        }
    }
    void quad(const std::array<Index, 4>& ring, std::size_t f) {
        for (std::size_t k = 0; k < 4; ++k)
            if (ring[k] != ring[(k + 3) % 4]) faces_.corner(ring[k], no_index);
        faces_.close(static_cast<Index>(f));
    }
    void frame(std::size_t f) {
        const auto face = t_.face(f);
        for (std::size_t i = 0; i < face.size(); ++i) {
            const std::size_t j = (i + 1) % face.size();
            const Index a = face[i], b = face[j];
            quad({above_[a], above_[b], top_[j], top_[i]}, f);
            quad({below_[b], below_[a], low_[i], low_[j]}, f);
            quad({top_[i], top_[j], low_[j], low_[i]}, f);
            const auto beside = t_.adjacency().faces_of_edge(t_.corner_edge[t_.face_offsets[f] + i]);
            if (std::ranges::count_if(beside, [&](Index other) { return chosen_[other]; }) == 1)
                quad({above_[b], above_[a], below_[a], below_[b]}, f);
        }
    }
    /// Along a square corner the undersides have shrunk to a line: what lies there is drawn together, and doubled
    /// slivers go.
    void tidy() {
        double least = 1e300;
        for (const double r : reach_)
            if (r > 0) least = std::min(least, r);
        result_.mesh = weld(result_.mesh, 2e-4 * least).mesh;
        if (const Mask doubled = doubled_faces(result_.mesh); count_of(doubled) > 0)
            result_.mesh = without_faces(result_.mesh, doubled);
    }

    const Mesh& mesh_;
    const StrutOptions& options_;
    StrutResult& result_;
    const Topology& t_;
    const Array<Vec3>& p_;
    Mask chosen_;
    Array<Vec3> flat_, normals_, points_;
    Array<Index> source_, above_, below_;
    Array<double> reach_;
    FaceList faces_;
    std::vector<DVec3> polygon_, inset_;
    std::vector<Index> top_, low_;  ///< of the face at hand
    bool square_corners_ = false;
};

void round_bars(const Mesh& mesh, const StrutOptions& options, const Selection& edges, StrutResult& result) {
    const Topology& t = *mesh.topology;
    const Array<Vec3>& p = *mesh.positions;
    const Adjacency& near = t.adjacency();
    Array<double> ball(t.vertex_count, 0);
    const int sides = std::max(3, options.sides);
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    const auto face = [&](std::span<const Index> list) {
        corners.insert(corners.end(), list.begin(), list.end());
        offsets.push_back(static_cast<Index>(corners.size()));
    };
    std::vector<Index> cap;
    for (Index e = 0; e < t.edge_count(); ++e) {
        stop_point(e);
        const auto [a, b] = t.edges[e];
        if (!edges[e] || (!options.borders && near.faces_of_edge(e).size() == 1)) continue;
        const DVec3 from(p[a]), to(p[b]), run = to - from;
        const double length = glm::length(run);
        if (length == 0) continue;
        const double radius = (options.relative ? options.thickness * length : options.thickness) / 2;
        ball[a] = std::max(ball[a], radius), ball[b] = std::max(ball[b], radius);
        const DVec3 along = run / length, helper = std::abs(along.z) < 0.9 ? DVec3(0, 0, 1) : DVec3(1, 0, 0);
        const DVec3 across = glm::normalize(glm::cross(helper, along)), over = glm::cross(along, across);
        const auto base = static_cast<Index>(points.size());
        for (const DVec3& centre : {from, to})
            for (int s = 0; s < sides; ++s) {
                const double angle = 2 * std::numbers::pi * s / sides;
                points.push_back(Vec3(centre + (across * std::cos(angle) + over * std::sin(angle)) * radius));
            }
        const auto n = static_cast<Index>(sides);
        for (Index s = 0; s < n; ++s)
            face(std::array<Index, 4>{base + s, base + (s + 1) % n, base + n + (s + 1) % n, base + n + s});
        cap.clear();
        for (Index s = n; s-- > 0;) cap.push_back(base + s);
        face(cap);
        cap.clear();
        for (Index s = 0; s < n; ++s) cap.push_back(base + n + s);
        face(cap);
    }
    const auto count = static_cast<Index>(points.size());
    std::vector<Mesh> all{Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners)))};
    const Mesh unit = make_geodesic_sphere(1, sides > 8 ? 2 : 1);
    Array<glm::mat4> places;
    for (Index v = 0; v < t.vertex_count; ++v)
        if (ball[v] > 0) {
            glm::mat4 place(static_cast<float>(ball[v]));
            place[3] = Vec4(p[v], 1);
            places.push_back(place);
        }
    all.push_back(repeated(unit, places));
    result.mesh = joined_meshes(all);
    result.mesh.attributes = {};
}

}  // namespace

StrutResult struts(const Mesh& mesh, const StrutOptions& options, const Selection& edges) {
    StrutResult result;
    if (options.round)
        round_bars(mesh, options, edges, result);
    else if (!edges.all() || !WholeFrame(mesh, options).build(result))
        SquareFrame(mesh, options, edges, result).build();
    result.bars.assign(result.mesh.face_count(), 1);
    result.panes.assign(result.mesh.face_count(), 0);
    if (options.keep_faces) {
        Mesh panes = mesh;
        for (const Domain domain : {Domain::vertex, Domain::corner})
            panes.attributes.remove(domain, attribute_name::normal);
        result.mesh = appended(result.mesh, panes);
        result.bars.resize(result.mesh.face_count(), 0);
        result.panes.resize(result.mesh.face_count(), 1);
    }
    return result;
}

}  // namespace bricol
