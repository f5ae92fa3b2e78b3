// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <algorithm>
#include <mutex>
#include <numeric>
#include <unordered_map>
#include <unordered_set>
#include <xxhash.h>

#include "core/ground/stop.h"
#include "core/kernels/measure.h"
#include "core/kernels/boolean_patches.h"
#include "core/kernels/from_triangles.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"
#include "core/ground/disjoint_sets.h"
#include "core/ground/box.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

TaggedTriangles tagged_soup(const Mesh& mesh, Index first_tag) {
    TaggedTriangles soup;
    const Triangles all = triangulated(mesh);
    soup.points.assign(mesh.positions->begin(), mesh.positions->end());
    soup.triangles.resize(all.count());
    soup.tags.resize(all.count());
    for (std::size_t i = 0; i < all.count(); ++i) {
        stop_point(i);
        for (int k = 0; k < 3; ++k) soup.triangles[i][k] = mesh.topology->corner_vertex[all.corners[3 * i + k]];
        soup.tags[i] = first_tag + all.face[i];
    }
    return soup;
}

/// Why a mesh is no solid; empty when it is one.
struct Fault {
    BooleanFault what = BooleanFault::none;
    std::size_t edges = 0;
    explicit operator bool() const { return what != BooleanFault::none; }
};

/// What keeps a mesh from being a solid.
Fault fault_of(const Mesh& mesh) {
    if (mesh.face_count() == 0) return {BooleanFault::no_faces, 0};
    const Ties& ties = mesh.topology->ties();
    if (ties.border_edges > 0) return {BooleanFault::open, ties.border_edges};
    if (ties.non_manifold_edges > 0) return {BooleanFault::many_faces, ties.non_manifold_edges};
    if (ties.turned_edges > 0) return {BooleanFault::turned, ties.turned_edges};
    return {};
}

BooleanResult refused(Fault fault, Index cutter) {
    BooleanResult result;
    result.fault = fault.what;
    result.fault_edges = fault.edges;
    result.fault_cutter = cutter;
    return result;
}

Box bounds(const Mesh& mesh) {
    Box box = Box::nothing();
    for (const Vec3& p : *mesh.positions) box.add(DVec3(p));
    return box;
}

TaggedTriangles side_by_side(std::vector<TaggedTriangles> soups) {
    TaggedTriangles all = std::move(soups[0]);
    for (std::size_t i = 1; i < soups.size(); ++i) {
        const auto base = static_cast<Index>(all.points.size());
        all.points.insert(all.points.end(), soups[i].points.begin(), soups[i].points.end());
        for (const auto& [a, b, c] : soups[i].triangles) all.triangles.push_back({a + base, b + base, c + base});
        all.tags.insert(all.tags.end(), soups[i].tags.begin(), soups[i].tags.end());
    }
    return all;
}

/// The quick way where it is safe, CGAL's own for everything else.
std::optional<TaggedTriangles> combined(const TaggedTriangles& a, const TaggedTriangles& b, BooleanKind kind) {
    if (auto quick = boolean_by_patches(a, b, kind)) return quick;
    return boolean_of_triangles(a, b, kind);
}

std::optional<TaggedTriangles> united(std::span<const TaggedTriangles> soups) {
    if (soups.size() == 1) return soups[0];
    stop_point();
    std::optional<TaggedTriangles> left, right;
    parallel::together([&] { left = united(soups.first(soups.size() / 2)); },
                       [&] { right = united(soups.subspan(soups.size() / 2)); });
    if (!left || !right) return std::nullopt;
    return combined(*left, *right, BooleanKind::unite);
}

/// Solids that overlap are united, clusters apart from one another stand side by side.
std::optional<TaggedTriangles> gathered(std::vector<TaggedTriangles> soups, std::span<const Box> boxes) {
    DisjointSets touching(soups.size());
    for (Index i = 0; i < soups.size(); ++i)
        for (Index j = i + 1; j < soups.size(); ++j)
            if (boxes[i].touches(boxes[j])) touching.join(i, j);
    std::vector<std::vector<TaggedTriangles>> clusters(soups.size());
    for (Index i = 0; i < soups.size(); ++i) clusters[touching.root(i)].push_back(std::move(soups[i]));
    std::erase_if(clusters, [](const auto& c) { return c.empty(); });
    std::vector<std::optional<TaggedTriangles>> whole(clusters.size());
    parallel::each(std::size_t(0), clusters.size(), [&](std::size_t i) { whole[i] = united(clusters[i]); });
    std::vector<TaggedTriangles> parts;
    for (auto& one : whole) {
        if (!one) return std::nullopt;
        parts.push_back(std::move(*one));
    }
    return side_by_side(std::move(parts));
}

/// Cutters as few solids to cut with one after another: each holds some that do not touch, side by side. When that
/// takes too many rounds they are united first.
std::optional<std::vector<TaggedTriangles>> in_rounds(std::vector<TaggedTriangles> soups, std::span<const Box> boxes) {
    constexpr std::size_t most_rounds = 8;
    std::vector<std::vector<std::size_t>> rounds;
    for (std::size_t i = 0; i < soups.size(); ++i) {
        const auto free = std::ranges::find_if(rounds, [&](const auto& round) {
            return std::ranges::none_of(round, [&](std::size_t j) { return boxes[i].touches(boxes[j]); });
        });
        if (free != rounds.end())
            free->push_back(i);
        else
            rounds.push_back({i});
    }
    std::vector<TaggedTriangles> out;
    if (rounds.size() > most_rounds) {
        auto whole = gathered(std::move(soups), boxes);
        if (!whole) return std::nullopt;
        out.push_back(std::move(*whole));
        return out;
    }
    for (const auto& round : rounds) {
        std::vector<TaggedTriangles> members;
        for (const std::size_t i : round) members.push_back(std::move(soups[i]));
        out.push_back(side_by_side(std::move(members)));
    }
    return out;
}

/// Corefinement leaves points that were apart in double and fall together in float, with triangles of no area between
/// them. Such edges are drawn together, unless that would break the surface.
TaggedTriangles without_collapsed_edges(const TaggedTriangles& soup) {
    DVec3 low(1e300), high(-1e300);
    for (const DVec3& p : soup.points) low = glm::min(low, p), high = glm::max(high, p);
    const double reach = 2e-7 * std::max({std::abs(low.x), std::abs(low.y), std::abs(low.z), std::abs(high.x),
                                          std::abs(high.y), std::abs(high.z)});
    DisjointSets together(soup.points.size());
    bool any = false;
    for (const auto& t : soup.triangles)
        for (int k = 0; k < 3; ++k) {
            const Index a = t[k], b = t[(k + 1) % 3];
            if (glm::distance(soup.points[a], soup.points[b]) > reach) continue;
            together.join(a, b);
            any = true;
        }
    if (!any) return soup;
    TaggedTriangles out;
    std::vector<Index> number(soup.points.size(), no_index);
    std::unordered_map<std::uint64_t, std::int32_t> uses;  // an edge once each way, and nothing else
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        std::array<Index, 3> t{};
        for (int k = 0; k < 3; ++k) {
            const Index v = together.root(soup.triangles[i][k]);
            if (number[v] == no_index) {
                number[v] = static_cast<Index>(out.points.size());
                out.points.push_back(soup.points[v]);
            }
            t[k] = number[v];
        }
        if (t[0] == t[1] || t[1] == t[2] || t[2] == t[0]) continue;
        for (int k = 0; k < 3; ++k)
            if (++uses[std::uint64_t(t[k]) << 32 | t[(k + 1) % 3]] > 1) return soup;
        out.triangles.push_back(t);
        out.tags.push_back(soup.tags[i]);
    }
    return out;
}

BooleanResult finished(const TaggedTriangles& soup, const Mesh& old, Index body_faces) {
    BooleanResult result;
    if (soup.triangles.empty()) return result;
    FromTriangles made = from_triangles(without_collapsed_edges(soup), old);
    result.mesh = std::move(made.mesh);
    const Mesh& m = result.mesh;
    // Which operand a face came from: pieces of `old` that hang together would do, but the tags say it directly.
    for (const Index f : made.face_source) result.from_cutter.push_back(f >= body_faces);
    result.cut.assign(m.edge_count(), 0);
    const Adjacency& near = m.topology->adjacency();
    for (Index e = 0; e < m.edge_count(); ++e) {
        stop_point(e);
        const auto beside = near.faces_of_edge(e);
        result.cut[e] = beside.size() == 2 && result.from_cutter[beside[0]] != result.from_cutter[beside[1]];
    }
    return result;
}

BooleanResult left_alone(const Mesh& body) {
    BooleanResult result;
    result.mesh = body;
    result.cut.assign(body.edge_count(), 0);
    result.from_cutter.assign(body.face_count(), 0);
    result.unchanged = true;
    return result;
}

bool same_solid(const Mesh& a, const Mesh& b) {
    return a.topology->content_hash() == b.topology->content_hash() &&
           (a.positions == b.positions || *a.positions == *b.positions);
}

/// The solids of a boolean, the body first.
struct Operands {
    std::vector<const Mesh*> meshes;
    std::vector<Index> cutter_of;  ///< which cutter each is; no_index for the body
    std::vector<Mesh> turned;      ///< those that were inside out
    bool nothing_left = false;     ///< the body is taken from itself
};

/// The same cutter twice cuts no more than once, and surfaces that lie in one another are dear to work out.
Operands operands_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind) {
    Operands out{{&body}, {no_index}, {}, false};
    for (std::size_t i = 0; i < cutters.size(); ++i) {
        if (!fault_of(cutters[i]) && same_solid(body, cutters[i])) {
            out.nothing_left |= kind == BooleanKind::subtract;
            continue;
        }
        if (std::any_of(out.meshes.begin() + 1, out.meshes.end(),
                        [&](const Mesh* other) { return same_solid(*other, cutters[i]); }))
            continue;
        out.meshes.push_back(&cutters[i]);
        out.cutter_of.push_back(static_cast<Index>(i));
    }
    return out;
}

/// Turns operands that are inside out; the fault of the first that is no solid.
std::optional<BooleanResult> made_solid(Operands& operands) {
    auto& meshes = operands.meshes;
    parallel::each(std::size_t(0), meshes.size(), [&](std::size_t i) { fault_of(*meshes[i]); });  // remembered
    operands.turned.reserve(meshes.size());
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        if (const Fault fault = fault_of(*meshes[i])) return refused(fault, operands.cutter_of[i]);
        if (signed_volume(*meshes[i]) < 0) {
            operands.turned.push_back(flipped(*meshes[i]));
            meshes[i] = &operands.turned.back();
        }
    }
    return std::nullopt;
}

/// The body with every cutter; nothing when that cannot be worked out.
std::optional<TaggedTriangles> worked_out(std::vector<TaggedTriangles> soups, std::span<const Box> boxes,
                                          BooleanKind kind) {
    std::optional<TaggedTriangles> made = std::move(soups[0]);
    std::vector<TaggedTriangles> cutters;
    std::vector<Box> cutter_boxes;
    for (std::size_t i = 1; i < soups.size(); ++i)
        if (kind != BooleanKind::subtract || boxes[0].touches(boxes[i]))
            cutters.push_back(std::move(soups[i])), cutter_boxes.push_back(boxes[i]);
    if (kind != BooleanKind::intersect) {
        auto rounds = in_rounds(std::move(cutters), cutter_boxes);
        if (!rounds) return std::nullopt;
        cutters = std::move(*rounds);
    }
    for (const TaggedTriangles& cutter : cutters) {
        stop_point();
        if (kind == BooleanKind::subtract && made->triangles.empty()) break;
        made = combined(*made, cutter, kind);
        if (!made) break;
    }
    return made;
}

}  // namespace

BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind) {
    Operands operands = operands_of(body, cutters, kind);
    if (operands.nothing_left) return {};
    if (operands.meshes.size() == 1) return left_alone(body);
    if (auto fault = made_solid(operands)) return std::move(*fault);
    std::vector<Mesh> parts;
    std::vector<TaggedTriangles> soups;
    std::vector<Box> boxes;
    Index tag = 0;
    for (const Mesh* mesh : operands.meshes) {
        parts.push_back(*mesh);
        soups.push_back(tagged_soup(*mesh, tag));
        boxes.push_back(bounds(*mesh));
        tag += static_cast<Index>(mesh->face_count());
    }
    if (kind == BooleanKind::subtract &&
        std::none_of(boxes.begin() + 1, boxes.end(), [&](const Box& box) { return boxes[0].touches(box); }))
        return left_alone(body);
    const auto made = worked_out(std::move(soups), boxes, kind);
    if (!made) {
        // Only now is it worth looking for the reason.
        for (std::size_t i = 0; i < operands.meshes.size(); ++i)
            if (!crossing_faces(*operands.meshes[i], 1).empty())
                return refused({BooleanFault::crosses_itself, 0}, operands.cutter_of[i]);
        return refused({BooleanFault::inexact, 0}, no_index);
    }
    return finished(*made, joined_meshes(parts), static_cast<Index>(body.face_count()));
}

BooleanResult sheet_cut(const Mesh& sheet, const Mesh& solid, bool keep_inside) {
    BooleanResult result;
    if (const Fault fault = fault_of(solid)) return refused(fault, 0);
    const Mesh outward = signed_volume(solid) < 0 ? flipped(solid) : solid;
    const TaggedTriangles sheet_soup = tagged_soup(sheet, 0),
                          solid_soup = tagged_soup(outward, static_cast<Index>(sheet.face_count()));
    auto made = sheet_by_patches(sheet_soup, solid_soup, keep_inside);
    if (!made) made = sheet_cut_triangles(sheet_soup, solid_soup, keep_inside);
    if (!made) {
        if (!crossing_faces(outward, 1).empty()) return refused({BooleanFault::crosses_itself, 0}, 0);
        return refused({BooleanFault::inexact, 0}, no_index);
    }
    const std::array<Mesh, 2> both = {sheet, outward};
    result = finished(*made, joined_meshes(both), static_cast<Index>(sheet.face_count()));
    // On a sheet the cut is its new border.
    result.unchanged = result.mesh.topology->ties().border_edges == sheet.topology->ties().border_edges &&
                       result.mesh.face_count() == sheet.face_count();
    return result;
}

}  // namespace bricol
