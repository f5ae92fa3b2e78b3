// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/mesh.h"

#include <algorithm>
#include <xxhash.h>

#include "core/ground/stop.h"
#include "core/ground/disjoint_sets.h"
#include "core/shape/skeleton.h"

namespace bricol {

namespace {

/// Turns "count per bucket, shifted by one" into offsets.
void accumulate_offsets(Array<Index>& counts) {
    for (std::size_t i = 1; i < counts.size(); ++i) counts[i] += counts[i - 1];
}

}  // namespace

const Adjacency& Topology::adjacency() const {
    std::call_once(adjacency_once_, [this] {
        auto built = std::make_unique<Adjacency>();
        built->edge_offsets.assign(edges.size() + 1, 0);
        for (Index e : corner_edge) ++built->edge_offsets[e + 1];
        accumulate_offsets(built->edge_offsets);
        stop_point();
        built->edge_face.resize(corner_edge.size());
        Array<Index> next(built->edge_offsets.begin(), built->edge_offsets.end());
        for (std::size_t f = 0; f < face_count(); ++f) {
            stop_point(f);
            for (Index c = face_offsets[f]; c < face_offsets[f + 1]; ++c)
                built->edge_face[next[corner_edge[c]]++] = static_cast<Index>(f);
        }
        stop_point();
        built->vertex_edge_offsets.assign(vertex_count + 1, 0);
        for (const auto& edge : edges)
            for (Index v : edge) ++built->vertex_edge_offsets[v + 1];
        accumulate_offsets(built->vertex_edge_offsets);
        stop_point();
        built->vertex_edge.resize(edges.size() * 2);
        next.assign(built->vertex_edge_offsets.begin(), built->vertex_edge_offsets.end());
        for (std::size_t e = 0; e < edges.size(); ++e) {
            stop_point(e);
            for (Index v : edges[e]) built->vertex_edge[next[v]++] = static_cast<Index>(e);
        }
        adjacency_ = std::move(built);
    });
    return *adjacency_;
}

std::uint64_t Topology::content_hash() const {
    std::call_once(hash_once_, [this] {
        std::uint64_t hash = XXH3_64bits_withSeed(edges.data(), edges.size() * sizeof(edges[0]), vertex_count);
        hash = XXH3_64bits_withSeed(face_offsets.data(), face_offsets.size() * sizeof(Index), hash);
        hash_ = XXH3_64bits_withSeed(corner_vertex.data(), corner_vertex.size() * sizeof(Index), hash);
    });
    return hash_;
}

bool Topology::has_loose_edges() const {
    std::call_once(loose_once_, [this] {
        Array<std::uint8_t> used(edges.size(), 0);
        for (Index e : corner_edge) used[e] = 1;
        loose_ = std::find(used.begin(), used.end(), 0) != used.end();
    });
    return loose_;
}

const Ties& Topology::ties() const {
    std::call_once(ties_once_, [this] {
        Ties ties;  // aside: what is given up half way is counted from the start the next time
        for (const EdgeUse& use : edge_uses(*this)) {
            ties.loose_edges += use.corners == 0;
            ties.border_edges += use.corners == 1;
            ties.non_manifold_edges += use.corners > 2;
            ties.turned_edges += use.corners == 2 && use.balance != 0;
        }
        stop_point();
        DisjointSets pieces(vertex_count);
        ties.pieces = vertex_count;
        for (std::size_t e = 0; e < edges.size(); ++e) {
            stop_point(e);
            ties.pieces -= pieces.join(edges[e][0], edges[e][1]);
        }
        ties_ = ties;
    });
    return ties_;
}

Array<EdgeUse> edge_uses(const Topology& topology) {
    Array<EdgeUse> uses(topology.edge_count());
    for (std::size_t c = 0; c < topology.corner_count(); ++c) {
        stop_point(c);
        const Index e = topology.corner_edge[c];
        ++uses[e].corners;
        uses[e].balance += topology.edges[e][0] == topology.corner_vertex[c] ? 1 : -1;
    }
    return uses;
}

std::size_t Topology::bytes() const {
    return edges.size() * sizeof(edges[0]) + (face_offsets.size() + 2 * corner_vertex.size()) * sizeof(Index);
}

std::shared_ptr<const Topology> make_topology(Index vertex_count, Array<Index> face_offsets, Array<Index> corner_vertex,
                                              std::span<const std::array<Index, 2>> loose) {
    auto topology = std::make_shared<Topology>();
    topology->vertex_count = vertex_count;
    topology->face_offsets = std::move(face_offsets);
    topology->corner_vertex = std::move(corner_vertex);
    topology->corner_edge.resize(topology->corner_vertex.size());
    topology->edges.reserve(topology->corner_vertex.size() / 2 + loose.size() + 8);

    // One chain of edges per lower vertex: a lookup touches only the few edges that start there.
    Array<Index> first = array_of(vertex_count, no_index), following;
    following.reserve(topology->edges.capacity());
    const auto edge_between = [&](Index a, Index b) {
        const Index low = std::min(a, b), high = std::max(a, b);
        for (Index e = first[low]; e != no_index; e = following[e])
            if (std::max(topology->edges[e][0], topology->edges[e][1]) == high) return e;
        const Index made = static_cast<Index>(topology->edges.size());
        topology->edges.push_back({a, b});
        following.push_back(first[low]);
        first[low] = made;
        return made;
    };
    for (std::size_t f = 0; f < topology->face_count(); ++f) {
        stop_point(f);
        const Index begin = topology->face_offsets[f], end = topology->face_offsets[f + 1];
        for (Index c = begin; c < end; ++c)
            topology->corner_edge[c] =
                edge_between(topology->corner_vertex[c], topology->corner_vertex[c + 1 == end ? begin : c + 1]);
    }
    for (const auto& edge : loose) edge_between(edge[0], edge[1]);
    return topology;
}

Mesh::Mesh() {
    static const auto no_points = std::make_shared<const Array<Vec3>>();
    static const auto no_topology = std::make_shared<const Topology>();
    positions = no_points;
    topology = no_topology;
}

Mesh::Mesh(Array<Vec3> points, std::shared_ptr<const Topology> shared_topology)
    : positions(std::make_shared<const Array<Vec3>>(std::move(points))), topology(std::move(shared_topology)) {}

Mesh::Mesh(const Mesh&) = default;
Mesh::Mesh(Mesh&&) noexcept = default;
Mesh& Mesh::operator=(const Mesh&) = default;
Mesh& Mesh::operator=(Mesh&&) noexcept = default;
Mesh::~Mesh() = default;

std::array<std::size_t, 8> Mesh::domain_sizes() const {
    return {vertex_count(), edge_count(), face_count(), topology->corner_count(), 0, 0, 0, 1};
}

std::size_t Mesh::bytes() const {
    std::size_t sum = positions->size() * sizeof(Vec3) + topology->bytes();
    for (const Attribute& attribute : attributes.all()) sum += column_bytes(*attribute.values);
    return sum;
}

namespace {

/// Normals of two meshes on one domain, so that neither side is filled with nothing: vertex normals go to corners when
/// the other side has them there, and when one side has none they are dropped, to be found from the faces again.
void agree_on_normals(Mesh& a, Mesh& b) {
    const auto has = [](const Mesh& m, Domain d) { return m.attributes.find(d, attribute_name::normal) != nullptr; };
    const auto to_corners = [&](Mesh& m) {
        const auto* at_vertices = m.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
        if (!at_vertices || has(m, Domain::corner)) return;
        Array<Vec3> corners(m.topology->corner_count());
        for (std::size_t c = 0; c < corners.size(); ++c) corners[c] = (*at_vertices)[m.topology->corner_vertex[c]];
        m.attributes.remove(Domain::vertex, attribute_name::normal);
        m.attributes.set(Domain::corner, attribute_name::normal, std::move(corners));
    };
    const bool a_any = has(a, Domain::vertex) || has(a, Domain::corner),
               b_any = has(b, Domain::vertex) || has(b, Domain::corner);
    if (a_any != b_any) {
        for (Mesh* m : {&a, &b})
            for (const Domain d : {Domain::vertex, Domain::corner}) m->attributes.remove(d, attribute_name::normal);
    } else if (has(a, Domain::corner) || has(b, Domain::corner)) {
        to_corners(a);
        to_corners(b);
    }
}

/// Both skeletons; of joints with one name the first's.
std::shared_ptr<const Skeleton> united(const std::shared_ptr<const Skeleton>& a,
                                       const std::shared_ptr<const Skeleton>& b) {
    if (!a || !b || a == b) return a ? a : b;
    auto both = std::make_shared<Skeleton>(*a);
    std::vector<Index> number(b->joints.size());
    for (std::size_t j = 0; j < number.size(); ++j) {
        const Joint& joint = b->joints[j];
        const auto same = std::find_if(a->joints.begin(), a->joints.end(),
                                       [&](const Joint& other) { return other.name == joint.name; });
        number[j] = same == a->joints.end() ? static_cast<Index>(both->joints.size())
                                            : static_cast<Index>(same - a->joints.begin());
        if (same != a->joints.end()) continue;
        both->joints.push_back(joint);
        if (joint.parent != no_index) both->joints.back().parent = number[joint.parent];
    }
    return both;
}

}  // namespace

Mesh appended(const Mesh& one, const Mesh& other) {
    if (one.empty()) return other;
    if (other.empty()) return one;
    Mesh first = one, second = other;  // columns are shared: this copies no values
    agree_on_normals(first, second);
    Array<Vec3> points = *first.positions;
    points.insert(points.end(), second.positions->begin(), second.positions->end());

    const Topology &a = *first.topology, &b = *second.topology;
    auto topology = std::make_shared<Topology>();
    topology->vertex_count = a.vertex_count + b.vertex_count;
    stop_point();
    topology->edges.reserve(a.edges.size() + b.edges.size());
    topology->edges.insert(topology->edges.end(), a.edges.begin(), a.edges.end());
    for (std::size_t e = 0; e < b.edges.size(); ++e) {
        stop_point(e);
        topology->edges.push_back({b.edges[e][0] + a.vertex_count, b.edges[e][1] + a.vertex_count});
    }
    stop_point();
    topology->face_offsets.reserve(a.face_count() + b.face_count() + 1);
    topology->face_offsets.insert(topology->face_offsets.end(), a.face_offsets.begin(), a.face_offsets.end());
    if (topology->face_offsets.empty()) topology->face_offsets.push_back(0);
    const Index corner_base = static_cast<Index>(a.corner_count());
    for (std::size_t f = 0; f < b.face_count(); ++f)
        topology->face_offsets.push_back(corner_base + b.face_offsets[f + 1]);
    stop_point();
    const auto shifted = [](const Array<Index>& front, const Array<Index>& back, Index by) {
        Array<Index> out;
        out.reserve(front.size() + back.size());
        out.insert(out.end(), front.begin(), front.end());
        for (std::size_t i = 0; i < back.size(); ++i) {
            stop_point(i);
            out.push_back(back[i] + by);
        }
        return out;
    };
    topology->corner_vertex = shifted(a.corner_vertex, b.corner_vertex, a.vertex_count);
    stop_point();
    topology->corner_edge = shifted(a.corner_edge, b.corner_edge, static_cast<Index>(a.edge_count()));

    Mesh out(std::move(points), std::move(topology));
    out.attributes = joined(first.attributes, first.domain_sizes(), second.attributes, second.domain_sizes());
    out.materials = united(first.materials, second.materials);
    out.skeleton = united(first.skeleton, second.skeleton);
    return out;
}

Mesh joined_meshes(std::span<const Mesh> meshes) {
    // Halves are joined, not one after another: every element is copied log(n) times instead of n times.
    if (meshes.empty()) return {};
    if (meshes.size() == 1) return meshes[0];
    const std::size_t half = meshes.size() / 2;
    return appended(joined_meshes(meshes.first(half)), joined_meshes(meshes.subspan(half)));
}

}  // namespace bricol
