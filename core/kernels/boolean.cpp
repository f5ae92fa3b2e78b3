// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <algorithm>
#include <mutex>
#include <numeric>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>
#include <unordered_map>
#include <unordered_set>
#include <xxhash.h>

#include "core/inspect/measure.h"
#include "core/kernels/edit_faces.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

TaggedTriangles soup_of(const Mesh& mesh, Index first_tag) {
    TaggedTriangles soup;
    const Triangles all = triangulated(mesh);
    soup.points.assign(mesh.positions->begin(), mesh.positions->end());
    soup.triangles.resize(all.count());
    soup.tags.resize(all.count());
    for (std::size_t i = 0; i < all.count(); ++i) {
        for (int k = 0; k < 3; ++k) soup.triangles[i][k] = mesh.topology->corner_vertex[all.corners[3 * i + k]];
        soup.tags[i] = first_tag + all.face[i];
    }
    return soup;
}

/// Does a solid cross itself? Looked up by content: the same operand is asked about at every turn of a dial elsewhere.
bool crosses_itself(const Mesh& mesh) {
    static std::mutex mutex;
    static std::unordered_map<std::uint64_t, bool> known;
    const std::uint64_t key = XXH3_64bits_withSeed(mesh.positions->data(), mesh.positions->size() * sizeof(Vec3), mesh.topology->content_hash());
    {
        const std::scoped_lock lock(mutex);
        if (const auto found = known.find(key); found != known.end()) return found->second;
    }
    const bool crosses = !crossing_faces(mesh, 1).empty();
    const std::scoped_lock lock(mutex);
    if (known.size() > 4096) known.clear();
    known[key] = crosses;
    return crosses;
}

/// Why a mesh is no solid; empty when it is one.
std::string not_solid(const Mesh& mesh) {
    if (mesh.face_count() == 0) return "has no faces";
    const Topology& t = *mesh.topology;
    Array<std::int32_t> uses(t.edge_count(), 0), balance(t.edge_count(), 0);
    for (std::size_t f = 0; f < t.face_count(); ++f)
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            ++uses[t.corner_edge[c]];
            balance[t.corner_edge[c]] += t.edges[t.corner_edge[c]][0] == t.corner_vertex[c] ? 1 : -1;
        }
    std::size_t open = 0, many = 0, turned = 0;
    for (std::size_t e = 0; e < uses.size(); ++e) {
        open += uses[e] == 1;
        many += uses[e] > 2;
        turned += uses[e] == 2 && balance[e] != 0;
    }
    if (open > 0) return "is open (" + std::to_string(open) + " border edges)";
    if (many > 0) return "has edges with more than two faces";
    if (turned > 0) return "has faces that point opposite ways";
    return {};
}

struct Box3 {
    DVec3 low{1e300}, high{-1e300};
};
Box3 bounds(const Mesh& mesh) {
    Box3 box;
    for (const Vec3& p : *mesh.positions) {
        box.low = glm::min(box.low, DVec3(p));
        box.high = glm::max(box.high, DVec3(p));
    }
    return box;
}
bool touch(const Box3& a, const Box3& b) { return glm::all(glm::lessThanEqual(a.low, b.high)) && glm::all(glm::lessThanEqual(b.low, a.high)); }

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

std::optional<TaggedTriangles> united(std::span<const TaggedTriangles> soups, const std::atomic<bool>* stop) {
    if (soups.size() == 1) return soups[0];
    if (stop && *stop) return std::nullopt;
    std::optional<TaggedTriangles> left, right;
    tbb::parallel_invoke([&] { left = united(soups.first(soups.size() / 2), stop); }, [&] { right = united(soups.subspan(soups.size() / 2), stop); });
    if (!left || !right || (stop && *stop)) return std::nullopt;
    return boolean_of_triangles(*left, *right, BooleanKind::unite);
}

/// Solids that overlap are united, clusters apart from one another stand side by side.
std::optional<TaggedTriangles> gathered(std::vector<TaggedTriangles> soups, std::span<const Box3> boxes, const std::atomic<bool>* stop) {
    std::vector<std::size_t> parent(soups.size());
    std::iota(parent.begin(), parent.end(), 0);
    const auto root = [&](std::size_t i) {
        while (parent[i] != i) i = parent[i] = parent[parent[i]];
        return i;
    };
    for (std::size_t i = 0; i < soups.size(); ++i)
        for (std::size_t j = i + 1; j < soups.size(); ++j)
            if (touch(boxes[i], boxes[j])) parent[std::max(root(i), root(j))] = std::min(root(i), root(j));
    std::vector<std::vector<TaggedTriangles>> clusters(soups.size());
    for (std::size_t i = 0; i < soups.size(); ++i) clusters[root(i)].push_back(std::move(soups[i]));
    std::erase_if(clusters, [](const auto& c) { return c.empty(); });
    std::vector<std::optional<TaggedTriangles>> whole(clusters.size());
    tbb::parallel_for(std::size_t(0), clusters.size(), [&](std::size_t i) { whole[i] = united(clusters[i], stop); });
    std::vector<TaggedTriangles> parts;
    for (auto& one : whole) {
        if (!one) return std::nullopt;
        parts.push_back(std::move(*one));
    }
    return side_by_side(std::move(parts));
}

struct Key {
    float x, y, z;
    friend bool operator==(const Key&, const Key&) = default;
};
struct KeyHash {
    std::size_t operator()(const Key& k) const { return XXH3_64bits(&k, sizeof k); }
};

/// Triangles back to a mesh whose elements know where they came from: `old` holds all operands one after another.
Mesh mesh_of(const TaggedTriangles& soup, const Mesh& old) {
    const Topology& t = *old.topology;
    std::unordered_map<Key, std::vector<Index>, KeyHash> known;
    known.reserve(old.vertex_count());
    for (Index v = 0; v < old.vertex_count(); ++v) {
        const Vec3 p = (*old.positions)[v] + Vec3(0);
        known[{p.x, p.y, p.z}].push_back(v);
    }
    Array<Vec3> points(soup.points.size());
    Array<Index> source(soup.points.size(), no_index);
    Mask may_drop(soup.points.size(), 0);
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = Vec3(soup.points[i]) + Vec3(0);
    const auto* uvs = old.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    Array<Vec2> new_uvs;
    FaceList faces;
    Array<Index> group;
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        const Index f = soup.tags[i];
        const Index first = t.face_offsets[f], end = t.face_offsets[f + 1];
        for (const Index v : soup.triangles[i]) {
            Index corner = no_index;
            const auto found = known.find({points[v].x, points[v].y, points[v].z});
            if (found != known.end())
                for (Index c = first; c < end && corner == no_index; ++c)
                    if (std::ranges::find(found->second, t.corner_vertex[c]) != found->second.end()) corner = c;
            faces.corner(v, corner);
            if (source[v] == no_index) {
                source[v] = corner != no_index ? t.corner_vertex[corner] : found != known.end() ? found->second.front() : no_index;
                may_drop[v] = found == known.end();
            }
            if (!uvs) continue;
            if (corner != no_index) {
                new_uvs.push_back((*uvs)[corner]);
                continue;
            }
            // Continued over the plane of the first three corners that span one.
            const DVec3 origin((*old.positions)[t.corner_vertex[first]]), d = soup.points[v] - origin;
            Vec2 uv = (*uvs)[first];
            double best = 0;
            for (Index c = first + 1; c + 1 < end; ++c) {
                const DVec3 a = DVec3((*old.positions)[t.corner_vertex[c]]) - origin, b = DVec3((*old.positions)[t.corner_vertex[c + 1]]) - origin;
                const double aa = glm::dot(a, a), bb = glm::dot(b, b), ab = glm::dot(a, b), det = aa * bb - ab * ab;
                if (det <= best) continue;
                best = det;
                const double da = glm::dot(d, a), db = glm::dot(d, b);
                uv = (*uvs)[first] + ((*uvs)[c] - (*uvs)[first]) * static_cast<float>((da * bb - db * ab) / det) +
                     ((*uvs)[c + 1] - (*uvs)[first]) * static_cast<float>((db * aa - da * ab) / det);
            }
            new_uvs.push_back(uv);
        }
        faces.close(f);
        group.push_back(f);
    }
    for (std::size_t i = 0; i < source.size(); ++i)
        if (source[i] == no_index) source[i] = 0;  // set below from a face that uses it
    for (std::size_t i = 0; i < soup.triangles.size(); ++i)
        for (const Index v : soup.triangles[i])
            if (may_drop[v]) source[v] = t.corner_vertex[t.face_offsets[soup.tags[i]]];
    Mesh plain = old;
    for (const Domain domain : {Domain::vertex, Domain::corner}) plain.attributes.remove(domain, attribute_name::normal);
    plain.attributes.remove(Domain::corner, attribute_name::uv);
    Mesh out = rebuilt(plain, std::move(points), source, faces);
    if (uvs) out.attributes.set(Domain::corner, attribute_name::uv, std::move(new_uvs));
    Array<std::int32_t> origin(faces.face_source.begin(), faces.face_source.end());
    out.attributes.set(Domain::face, "\x01origin", std::move(origin));
    return merged_faces(out, group, may_drop);
}

BooleanResult finished(const TaggedTriangles& soup, const Mesh& old, Index body_faces) {
    BooleanResult result;
    if (soup.triangles.empty()) return result;
    result.mesh = mesh_of(soup, old);
    const Mesh& m = result.mesh;
    const Array<std::int32_t> origin = *m.attributes.values<std::int32_t>(Domain::face, "\x01origin");
    result.mesh.attributes.remove(Domain::face, "\x01origin");
    for (const std::int32_t f : origin) result.from_cutter.push_back(static_cast<Index>(f) >= body_faces);
    // Which operand a face came from: pieces of `old` that hang together would do, but the tags say it directly.
    result.cut.assign(m.edge_count(), 0);
    const Adjacency& near = m.topology->adjacency();
    for (Index e = 0; e < m.edge_count(); ++e) {
        const auto beside = near.faces_of_edge(e);
        result.cut[e] = beside.size() == 2 && result.from_cutter[beside[0]] != result.from_cutter[beside[1]];
    }
    return result;
}

}  // namespace

BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind, const std::atomic<bool>* stop) {
    BooleanResult result;
    std::vector<const Mesh*> operands{&body};
    for (const Mesh& cutter : cutters) operands.push_back(&cutter);
    std::vector<Mesh> turned;  // operands that were inside out
    turned.reserve(operands.size());
    std::vector<std::string> faults(operands.size());
    tbb::parallel_for(std::size_t(0), operands.size(), [&](std::size_t i) {
        faults[i] = not_solid(*operands[i]);
        if (faults[i].empty() && crosses_itself(*operands[i])) faults[i] = "crosses itself";
    });
    for (std::size_t i = 0; i < operands.size(); ++i) {
        if (!faults[i].empty()) {
            result.refused = faults[i];
            result.refused_cutter = i == 0 ? no_index : static_cast<Index>(i - 1);
            return result;
        }
        if (signed_volume(*operands[i]) < 0) {
            turned.push_back(flipped(*operands[i]));
            operands[i] = &turned.back();
        }
    }
    std::vector<Mesh> parts;
    std::vector<TaggedTriangles> soups;
    std::vector<Box3> boxes;
    Index tag = 0;
    for (const Mesh* mesh : operands) {
        parts.push_back(*mesh);
        soups.push_back(soup_of(*mesh, tag));
        boxes.push_back(bounds(*mesh));
        tag += static_cast<Index>(mesh->face_count());
    }
    const Mesh old = joined_meshes(parts);
    std::optional<TaggedTriangles> made;
    const std::span<const Box3> cutter_boxes(boxes.data() + 1, boxes.size() - 1);
    result.unchanged = kind == BooleanKind::subtract && std::ranges::none_of(cutter_boxes, [&](const Box3& box) { return touch(boxes[0], box); });
    if (result.unchanged) {
        result.mesh = body;
        result.cut.assign(body.edge_count(), 0);
        result.from_cutter.assign(body.face_count(), 0);
        return result;
    }
    if (kind == BooleanKind::unite) {
        made = gathered(std::move(soups), boxes, stop);
    } else {
        TaggedTriangles first = std::move(soups[0]);
        soups.erase(soups.begin());
        if (kind == BooleanKind::subtract) {
            std::vector<TaggedTriangles> near;
            std::vector<Box3> near_boxes;
            for (std::size_t i = 0; i < soups.size(); ++i)
                if (touch(boxes[0], cutter_boxes[i])) near.push_back(std::move(soups[i])), near_boxes.push_back(cutter_boxes[i]);
            const auto cutter = gathered(std::move(near), near_boxes, stop);
            if (cutter && !(stop && *stop)) made = boolean_of_triangles(first, *cutter, kind);
        } else {
            made = std::move(first);
            for (const TaggedTriangles& soup : soups)
                if (made && !(stop && *stop)) made = boolean_of_triangles(*made, soup, kind);
        }
    }
    if (!made) {
        result.refused = "cannot be worked out exactly where the surfaces touch; move one of them a little";
        return result;
    }
    return finished(*made, old, static_cast<Index>(body.face_count()));
}

BooleanResult sheet_cut(const Mesh& sheet, const Mesh& solid, bool keep_inside) {
    BooleanResult result;
    result.refused = not_solid(solid);
    if (result.refused.empty() && crosses_itself(solid)) result.refused = "crosses itself";
    if (!result.refused.empty()) {
        result.refused_cutter = 0;
        return result;
    }
    const Mesh outward = signed_volume(solid) < 0 ? flipped(solid) : solid;
    const auto made = sheet_cut_triangles(soup_of(sheet, 0), soup_of(outward, static_cast<Index>(sheet.face_count())), keep_inside);
    if (!made) {
        result.refused = "cannot be cut there: the sheet crosses or overlaps itself, or only just touches the solid. Move it a little";
        return result;
    }
    const std::array<Mesh, 2> both = {sheet, outward};
    result = finished(*made, joined_meshes(both), static_cast<Index>(sheet.face_count()));
    // On a sheet the cut is its new border.
    const auto old_border = [&] {
        std::size_t n = 0;
        const Adjacency& near = sheet.topology->adjacency();
        for (Index e = 0; e < sheet.edge_count(); ++e) n += near.faces_of_edge(e).size() == 1;
        return n;
    }();
    std::size_t border = 0;
    const Adjacency& near = result.mesh.topology->adjacency();
    for (Index e = 0; e < result.mesh.edge_count(); ++e) border += near.faces_of_edge(e).size() == 1;
    result.unchanged = border == old_border && result.mesh.face_count() == sheet.face_count();
    return result;
}

}  // namespace bricol
