// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/subdivide.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <list>
#include <numeric>
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/topologyDescriptor.h>
#include <xxhash.h>

#include "core/ground/stop.h"
#include "core/kernels/normals.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/refined_marks.h"
#include "core/kernels/triangulate.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

namespace Far = OpenSubdiv::Far;
namespace Sdc = OpenSubdiv::Sdc;

/// A value OpenSubdiv can blend.
template <class T>
struct Blended {
    T value;
    void Clear() { value = T(0); }
    void AddWithWeight(const Blended& other, float weight) { value += other.value * weight; }
};

/// What one level of refinement does to points, written down: every new point as weights of points of the level before,
/// or of face points of its own. Carried out term by term in the order OpenSubdiv has them, so that a result does not
/// depend on whether its topology was met before; rows need no order among themselves and run on all threads.
struct LevelRows {
    static constexpr Index own_level = 0x80000000u;
    Array<Index> begin, count;  ///< per new point
    Array<Index> source;        ///< point before, or of this level when marked
    Array<float> weight;
    Index leaned_begin = 0, leaned_end = 0;  ///< face points that others lean on: worked out first
};

/// Stands in for a point while OpenSubdiv says how it would blend.
struct PointBefore {
    Index number;
};
struct PointWritten {
    LevelRows* rows;
    Index number;
    void Clear() {
        rows->begin[number] = static_cast<Index>(rows->source.size());
        rows->count[number] = 0;
    }
    void AddWithWeight(const PointBefore& point, float weight) { add(point.number, weight); }
    void AddWithWeight(const PointWritten& point, float weight) { add(point.number | LevelRows::own_level, weight); }
    void add(Index source, float weight) {
        rows->source.push_back(source);
        rows->weight.push_back(weight);
        ++rows->count[number];
    }
};

/// Everything about a refined mesh that does not depend on where its points are.
struct Plan {
    std::uint64_t key = 0;
    std::unique_ptr<Far::TopologyRefiner> refiner;
    std::shared_ptr<const Topology> topology;
    Array<Index> face_source;
    RefinedMarks marks;
    std::vector<LevelRows> rows;        // how points blend, level by level
    std::shared_ptr<const Column> uvs;  // refined UVs, kept while the coarse ones are the same
    std::uint64_t uv_hash = 0;
};

std::mutex plans_mutex;
std::list<std::shared_ptr<Plan>> plans;  // newest first
constexpr std::size_t most_plans = 8;

struct Inputs {
    std::vector<int> sizes, corners;
    std::vector<int> crease_pairs, corner_vertices, uv_corners;
    std::vector<float> crease_weights, corner_weights;
    std::vector<Vec2> uvs;
};

/// UV values per corner, numbered so that equal UVs at one vertex are one value.
void number_uvs(const Topology& t, const Array<Vec2>& uvs, Inputs& inputs) {
    std::vector<int> first(t.vertex_count, -1), following;
    inputs.uv_corners.resize(t.corner_count());
    for (std::size_t c = 0; c < t.corner_count(); ++c) {
        stop_point(c);
        int& head = first[t.corner_vertex[c]];
        int found = head;
        while (found >= 0 && inputs.uvs[found] != uvs[c]) found = following[found];
        if (found < 0) {
            found = static_cast<int>(inputs.uvs.size());
            inputs.uvs.push_back(uvs[c]);
            following.push_back(head);
            head = found;
        }
        inputs.uv_corners[c] = found;
    }
}

std::shared_ptr<Plan> make_plan(const Topology& t, const Inputs& inputs, const SubdivideOptions& options) {
    Far::TopologyDescriptor description;
    description.numVertices = static_cast<int>(t.vertex_count);
    description.numFaces = static_cast<int>(t.face_count());
    description.numVertsPerFace = inputs.sizes.data();
    description.vertIndicesPerFace = inputs.corners.data();
    description.numCreases = static_cast<int>(inputs.crease_weights.size());
    description.creaseVertexIndexPairs = inputs.crease_pairs.data();
    description.creaseWeights = inputs.crease_weights.data();
    description.numCorners = static_cast<int>(inputs.corner_weights.size());
    description.cornerVertexIndices = inputs.corner_vertices.data();
    description.cornerWeights = inputs.corner_weights.data();
    Far::TopologyDescriptor::FVarChannel channel;
    if (!inputs.uv_corners.empty()) {
        channel.numValues = static_cast<int>(inputs.uvs.size());
        channel.valueIndices = inputs.uv_corners.data();
        description.numFVarChannels = 1;
        description.fvarChannels = &channel;
    }
    const Sdc::SchemeType scheme = options.scheme == SubdivisionScheme::loop         ? Sdc::SCHEME_LOOP
                                   : options.scheme == SubdivisionScheme::split_only ? Sdc::SCHEME_BILINEAR
                                                                                     : Sdc::SCHEME_CATMARK;
    Sdc::Options rules;
    rules.SetVtxBoundaryInterpolation(options.sharp_border ? Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER
                                                           : Sdc::Options::VTX_BOUNDARY_EDGE_ONLY);
    rules.SetFVarLinearInterpolation(Sdc::Options::FVAR_LINEAR_CORNERS_ONLY);
    using Factory = Far::TopologyRefinerFactory<Far::TopologyDescriptor>;
    auto plan = std::make_shared<Plan>();
    plan->refiner.reset(Factory::Create(description, Factory::Options(scheme, rules)));
    if (!plan->refiner) return nullptr;
    Far::TopologyRefiner::UniformOptions uniform(options.levels);
    uniform.fullTopologyInLastLevel = true;
    plan->refiner->RefineUniform(uniform);
    return plan;
}

/// Writes down what became of every coarse vertex and edge, and how sharp it still is.
void follow_edges_and_vertices(Plan& plan, int levels) {
    const Far::TopologyLevel &first = plan.refiner->GetLevel(0), &last = plan.refiner->GetLevel(levels);
    plan.marks.vertex_child.resize(static_cast<std::size_t>(first.GetNumVertices()));
    std::iota(plan.marks.vertex_child.begin(), plan.marks.vertex_child.end(), Index(0));
    Array<Index> source(static_cast<std::size_t>(first.GetNumEdges()));
    std::iota(source.begin(), source.end(), Index(0));
    for (int level = 0; level < levels; ++level) {
        const Far::TopologyLevel& now = plan.refiner->GetLevel(level);
        for (Index& v : plan.marks.vertex_child) v = static_cast<Index>(now.GetVertexChildVertex(static_cast<int>(v)));
        Array<Index> next(static_cast<std::size_t>(plan.refiner->GetLevel(level + 1).GetNumEdges()), no_index);
        for (int e = 0; e < now.GetNumEdges(); ++e)
            for (const int child : now.GetEdgeChildEdges(e))
                if (child >= 0) next[static_cast<std::size_t>(child)] = source[static_cast<std::size_t>(e)];
        source = std::move(next);
    }
    plan.marks.edge_source = std::move(source);
    plan.marks.edge_sharpness.resize(plan.marks.edge_source.size());
    for (std::size_t e = 0; e < plan.marks.edge_sharpness.size(); ++e)
        plan.marks.edge_sharpness[e] = last.GetEdgeSharpness(static_cast<int>(e));
    plan.marks.vertex_sharpness.resize(plan.marks.vertex_child.size());
    for (std::size_t v = 0; v < plan.marks.vertex_sharpness.size(); ++v)
        plan.marks.vertex_sharpness[v] = last.GetVertexSharpness(static_cast<int>(plan.marks.vertex_child[v]));
}

/// Copies the finest level's faces and edges out of the refiner; false when they do not lie as expected.
bool fill_topology(Plan& made, const SubdivideOptions& options) {
    Plan* plan = &made;
    const Far::TopologyLevel& last = plan->refiner->GetLevel(options.levels);
    auto topology = std::make_shared<Topology>();
    const auto faces = static_cast<std::size_t>(last.GetNumFaces());
    const Index sides = options.scheme == SubdivisionScheme::loop ? 3 : 4;
    topology->vertex_count = static_cast<Index>(last.GetNumVertices());
    topology->edges.resize(last.GetNumEdges());
    topology->face_offsets.resize(faces + 1);
    topology->corner_vertex.resize(faces * sides);
    topology->corner_edge.resize(faces * sides);
    plan->face_source.resize(faces);
    // OpenSubdiv keeps these in one block each, faces after one another; the test below is that promise, checked.
    static_assert(sizeof(Far::Index) == sizeof(Index));
    const int last_face = static_cast<int>(faces) - 1;
    const auto* vertices = last.GetFaceVertices(0).begin();
    const auto* face_edges = last.GetFaceEdges(0).begin();
    const auto* ends = last.GetEdgeVertices(0).begin();
    const std::ptrdiff_t last_corner = static_cast<std::ptrdiff_t>(last_face) * sides;
    const bool contiguous = last.GetFaceVertices(last_face).begin() - vertices == last_corner &&
                            last.GetFaceEdges(last_face).begin() - face_edges == last_corner &&
                            last.GetEdgeVertices(last.GetNumEdges() - 1).begin() - ends == 2 * (last.GetNumEdges() - 1);
    if (!contiguous) return false;
    std::memcpy(topology->edges.data(), ends, topology->edges.size() * sizeof(topology->edges[0]));
    std::memcpy(topology->corner_vertex.data(), vertices, faces * sides * sizeof(Index));
    std::memcpy(topology->corner_edge.data(), face_edges, faces * sides * sizeof(Index));
    // Which coarse face each fine one came from, level by level.
    std::vector<Index> parents(static_cast<std::size_t>(plan->refiner->GetLevel(0).GetNumFaces()));
    std::iota(parents.begin(), parents.end(), 0);
    for (int level = 1; level <= options.levels; ++level) {
        const Far::TopologyLevel& fine = plan->refiner->GetLevel(level);
        std::vector<Index> next(static_cast<std::size_t>(fine.GetNumFaces()));
        for (int f = 0; f < fine.GetNumFaces(); ++f) next[f] = parents[fine.GetFaceParentFace(f)];
        parents = std::move(next);
    }
    plan->face_source.assign(parents.begin(), parents.end());
    follow_edges_and_vertices(*plan, options.levels);
    for (std::size_t f = 0; f < faces; ++f) topology->face_offsets[f] = static_cast<Index>(f) * sides;
    topology->face_offsets[faces] = static_cast<Index>(faces) * sides;
    plan->topology = std::move(topology);
    return true;
}

void write_rows(Plan& plan, int levels) {
    const Far::PrimvarRefiner refiner(*plan.refiner);
    plan.rows.resize(static_cast<std::size_t>(levels));
    for (int level = 1; level <= levels; ++level) {
        LevelRows& rows = plan.rows[static_cast<std::size_t>(level - 1)];
        const auto before = static_cast<Index>(plan.refiner->GetLevel(level - 1).GetNumVertices()),
                   now = static_cast<Index>(plan.refiner->GetLevel(level).GetNumVertices());
        Array<PointBefore> from(before);
        Array<PointWritten> to(now);
        for (Index i = 0; i < before; ++i) from[i] = {i};
        for (Index i = 0; i < now; ++i) to[i] = {&rows, i};
        rows.begin.assign(now, 0);
        rows.count.assign(now, 0);
        rows.source.reserve(6 * static_cast<std::size_t>(now));
        rows.weight.reserve(rows.source.capacity());
        auto* target = to.data();
        refiner.Interpolate(level, from.data(), target);
        // OpenSubdiv numbers face points in a row; they lean on nothing of their own level.
        Index low = no_index, high = 0;
        for (const Index s : rows.source)
            if (s & LevelRows::own_level)
                low = std::min(low, s & ~LevelRows::own_level), high = std::max(high, s & ~LevelRows::own_level);
        if (low != no_index) rows.leaned_begin = low, rows.leaned_end = high + 1;
    }
}

Array<Vec3> refine_points(const Plan& plan, const Array<Vec3>& coarse) {
    Array<Vec3> from = coarse, to;
    for (const LevelRows& rows : plan.rows) {
        to.resize(rows.begin.size());
        const auto work_out = [&](Index low, Index high) {
            parallel::each(parallel::Numbers<Index>(low, high, 8192), [&](const auto& range) {
                stop_point();
                for (Index point = range.begin(); point != range.end(); ++point) {
                    Vec3 sum(0);
                    for (Index k = rows.begin[point], end = k + rows.count[point]; k < end; ++k) {
                        const Index s = rows.source[k];
                        sum += (s & LevelRows::own_level ? to[s & ~LevelRows::own_level] : from[s]) * rows.weight[k];
                    }
                    to[point] = sum;
                }
            });
        };
        work_out(rows.leaned_begin, rows.leaned_end);
        work_out(0, rows.leaned_begin);
        work_out(rows.leaned_end, static_cast<Index>(to.size()));
        std::swap(from, to);
    }
    return from;
}

Column refine_uvs(const Plan& plan, const std::vector<Vec2>& coarse, int levels) {
    const Far::PrimvarRefiner refiner(*plan.refiner);
    std::vector<Blended<Vec2>> from(coarse.size()), to;
    for (std::size_t i = 0; i < coarse.size(); ++i) from[i].value = coarse[i];
    for (int level = 1; level <= levels; ++level) {
        to.resize(plan.refiner->GetLevel(level).GetNumFVarValues(0));
        auto* target = to.data();
        refiner.InterpolateFaceVarying(level, from.data(), target, 0);
        std::swap(from, to);
    }
    const Far::TopologyLevel& last = plan.refiner->GetLevel(levels);
    Array<Vec2> uvs(static_cast<std::size_t>(last.GetNumFaceVertices()));
    std::size_t corner = 0;
    for (int f = 0; f < last.GetNumFaces(); ++f)
        for (const int value : last.GetFaceFVarValues(f, 0)) uvs[corner++] = from[value].value;
    return uvs;
}

/// Loop's rules want triangles; loose vertices upset every scheme. Edge values ride along.
Mesh ready_for(const Mesh& mesh, SubdivisionScheme scheme) {
    const Topology& t = *mesh.topology;
    bool triangles_only = true;
    std::vector<std::uint8_t> used(mesh.vertex_count(), 0);
    for (Index v : t.corner_vertex) used[v] = 1;
    for (std::size_t f = 0; f < t.face_count(); ++f) triangles_only &= t.face(f).size() == 3;
    const bool all_used = std::ranges::all_of(used, [](auto u) { return u; });
    if (all_used && (scheme != SubdivisionScheme::loop || triangles_only)) return mesh;
    Array<Index> renumbered(mesh.vertex_count()), source;
    Array<Vec3> points;
    for (Index v = 0; v < mesh.vertex_count(); ++v)
        if (used[v]) {
            renumbered[v] = static_cast<Index>(points.size());
            points.push_back((*mesh.positions)[v]);
            source.push_back(v);
        }
    FaceList faces;
    if (scheme == SubdivisionScheme::loop) {
        const Triangles triangles = triangulated(mesh);
        for (std::size_t i = 0; i < triangles.count(); ++i) {
            stop_point(i);
            for (int k = 0; k < 3; ++k)
                faces.corner(renumbered[t.corner_vertex[triangles.corners[3 * i + k]]], triangles.corners[3 * i + k]);
            faces.close(triangles.face[i]);
        }
    } else {
        faces = faces_of(mesh);
        faces.loose.clear();
        for (Index& v : faces.corners) v = renumbered[v];
    }
    return rebuilt(mesh, std::move(points), source, std::move(faces));
}

/// Numbers on vertices go by the same rules as the points, three at a time.
void refine_vertex_values(const Plan& plan, const Mesh& mesh, Attributes& out) {
    struct Channel {
        std::size_t attribute;
        int component;
    };
    std::vector<const Attribute*> carried;
    std::vector<Channel> channels;
    for (const Attribute& a : mesh.attributes.all()) {
        if (a.domain != Domain::vertex || a.name == attribute_name::normal || a.name == attribute_name::corner ||
            std::holds_alternative<Array<std::int32_t>>(*a.values) ||
            std::holds_alternative<Array<std::uint8_t>>(*a.values))
            continue;
        const std::string_view type = column_type(*a.values);
        for (int c = 0; c < (type.starts_with("vec") ? type[3] - '0' : 1); ++c) channels.push_back({carried.size(), c});
        carried.push_back(&a);
    }
    if (carried.empty()) return;
    const std::size_t before = mesh.vertex_count();
    std::vector<Column> results;
    for (const Attribute* a : carried)
        results.push_back(std::visit(
            [&](const auto& values) -> Column {
                return std::decay_t<decltype(values)>(plan.topology->vertex_count,
                                                      typename std::decay_t<decltype(values)>::value_type(0));
            },
            *a->values));
    const auto value = [](const Column& column, std::size_t i, int c) {
        return std::visit(
            [&](const auto& values) -> float {
                if constexpr (std::is_arithmetic_v<typename std::decay_t<decltype(values)>::value_type>)
                    return static_cast<float>(values[i]);
                else
                    return values[i][c];
            },
            column);
    };
    for (std::size_t first = 0; first < channels.size(); first += 3) {
        Array<Vec3> packed(before, Vec3(0));
        const std::size_t n = std::min<std::size_t>(3, channels.size() - first);
        for (std::size_t k = 0; k < n; ++k)
            for (std::size_t i = 0; i < before; ++i)
                packed[i][static_cast<int>(k)] =
                    value(*carried[channels[first + k].attribute]->values, i, channels[first + k].component);
        const Array<Vec3> refined = refine_points(plan, packed);
        for (std::size_t k = 0; k < n; ++k)
            std::visit(
                [&](auto& values) {
                    using T = typename std::decay_t<decltype(values)>::value_type;
                    for (std::size_t i = 0; i < values.size(); ++i) {
                        const float v = refined[i][static_cast<int>(k)];
                        if constexpr (std::is_arithmetic_v<T>)
                            values[i] = static_cast<T>(v);
                        else
                            values[i][channels[first + k].component] = v;
                    }
                },
                results[channels[first + k].attribute]);
    }
    for (std::size_t a = 0; a < carried.size(); ++a) out.set(Domain::vertex, carried[a]->name, std::move(results[a]));
}

}  // namespace

void forget_subdivisions() {
    const std::scoped_lock lock(plans_mutex);
    plans.clear();
}

namespace {

/// Creases and sharp corners, by attributes and by the angle between faces.
Inputs sharpness_of(const Mesh& mesh, const SubdivideOptions& options) {
    const Topology& t = *mesh.topology;
    Inputs inputs;
    const auto* crease = mesh.attributes.values<float>(Domain::edge, attribute_name::crease);
    const bool by_angle = options.crease_angle < 180 && options.crease > 0;
    if (crease || by_angle) {
        const Array<Vec3> flat = by_angle ? face_normals(mesh) : Array<Vec3>{};
        const float cosine = std::cos(glm::radians(options.crease_angle));
        const Adjacency& near = t.adjacency();
        for (Index e = 0; e < t.edge_count(); ++e) {
            stop_point(e);
            float weight = crease ? (*crease)[e] : 0;
            const auto faces = near.faces_of_edge(e);
            // An edge with a sharpness of its own keeps it: rounds after one another are rounds in one go.
            if (by_angle && weight <= 0 && faces.size() == 2 && glm::dot(flat[faces[0]], flat[faces[1]]) < cosine)
                weight = options.crease;
            if (weight <= 0) continue;
            inputs.crease_pairs.insert(inputs.crease_pairs.end(),
                                       {static_cast<int>(t.edges[e][0]), static_cast<int>(t.edges[e][1])});
            inputs.crease_weights.push_back(std::min(weight, 10.0f));
        }
    }
    if (const auto* corner = mesh.attributes.values<float>(Domain::vertex, attribute_name::corner))
        for (Index v = 0; v < t.vertex_count; ++v)
            if ((*corner)[v] > 0) {
                inputs.corner_vertices.push_back(static_cast<int>(v));
                inputs.corner_weights.push_back(std::min((*corner)[v], 10.0f));
            }
    return inputs;
}

template <class List>
std::uint64_t hash_of(const List& list) {
    return XXH3_64bits(list.data(), list.size() * sizeof(list[0]));
}

/// What a plan depends on.
std::uint64_t key_of(const Topology& t, const Inputs& inputs, const Array<Vec2>* uvs, const SubdivideOptions& options) {
    const std::uint64_t settings[] = {t.content_hash(),
                                      static_cast<std::uint64_t>(options.scheme),
                                      static_cast<std::uint64_t>(options.levels),
                                      options.sharp_border,
                                      uvs ? hash_of(*uvs) : 0,
                                      hash_of(inputs.crease_pairs),
                                      hash_of(inputs.crease_weights),
                                      hash_of(inputs.corner_vertices),
                                      hash_of(inputs.corner_weights)};
    return XXH3_64bits(settings, sizeof(settings));
}

std::shared_ptr<Plan> known_plan(std::uint64_t key) {
    const std::scoped_lock lock(plans_mutex);
    const auto found = std::ranges::find(plans, key, [](const auto& p) { return p->key; });
    if (found == plans.end()) return nullptr;
    plans.splice(plans.begin(), plans, found);
    return plans.front();
}

/// A plan worked out and remembered; null when there is none for this topology.
std::shared_ptr<Plan> new_plan(const Topology& t, Inputs& inputs, const Array<Vec2>* uvs,
                               const SubdivideOptions& options, std::uint64_t key) {
    inputs.sizes.resize(t.face_count());
    for (std::size_t f = 0; f < t.face_count(); ++f) inputs.sizes[f] = static_cast<int>(t.face(f).size());
    inputs.corners.assign(t.corner_vertex.begin(), t.corner_vertex.end());
    if (uvs) number_uvs(t, *uvs, inputs);
    stop_point();
    const std::shared_ptr<Plan> plan = make_plan(t, inputs, options);
    if (!plan) return nullptr;
    stop_point();
    plan->key = key;
    bool filled = false;
    parallel::together([&] { filled = fill_topology(*plan, options); }, [&] { write_rows(*plan, options.levels); },
                       [&] {
                           if (uvs)
                               plan->uvs =
                                   std::make_shared<const Column>(refine_uvs(*plan, inputs.uvs, options.levels));
                       });
    if (!filled) return nullptr;
    const std::scoped_lock lock(plans_mutex);
    plans.push_front(plan);
    if (plans.size() > most_plans) plans.pop_back();
    return plan;
}

}  // namespace

Mesh subdivided(const Mesh& input, const SubdivideOptions& options) {
    if (input.face_count() == 0 || options.levels < 1) return input;
    const Mesh mesh = ready_for(input, options.scheme);
    Inputs inputs = sharpness_of(mesh, options);
    const auto* uvs = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    const std::uint64_t key = key_of(*mesh.topology, inputs, uvs, options);
    std::shared_ptr<Plan> plan = known_plan(key);
    if (!plan) plan = new_plan(*mesh.topology, inputs, uvs, options, key);
    if (!plan) return {};
    Mesh out(refine_points(*plan, *mesh.positions), plan->topology);
    if (plan->uvs) out.attributes.set({std::string(attribute_name::uv), Domain::corner, plan->uvs});
    out.materials = mesh.materials;
    out.skeleton = mesh.skeleton;
    mesh.attributes.gather_into(out.attributes, Domain::face, plan->face_source);
    refine_vertex_values(*plan, mesh, out.attributes);
    keep_vertex_marks(plan->marks, mesh, out);
    keep_edge_values(plan->marks, mesh, out);
    return out;
}

}  // namespace bricol
