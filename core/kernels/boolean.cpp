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
#include "core/kernels/merge_faces.h"
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

struct Key {
    float x, y, z;
    friend bool operator==(const Key&, const Key&) = default;
};
struct KeyHash {
    std::size_t operator()(const Key& k) const { return XXH3_64bits(&k, sizeof k); }
};

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

/// Triangles back to a mesh whose elements know where they came from: `old` holds all operands one after another.
Mesh mesh_of(const TaggedTriangles& soup, const Mesh& old) {
    const Topology& t = *old.topology;
    std::unordered_map<Key, std::vector<Index>, KeyHash> known;
    known.reserve(old.vertex_count());
    for (Index v = 0; v < old.vertex_count(); ++v) {
        stop_point(v);
        const Vec3 p = (*old.positions)[v] + Vec3(0);
        known[{p.x, p.y, p.z}].push_back(v);
    }
    Array<Vec3> points(soup.points.size());
    Array<Index> source(soup.points.size(), no_index);
    Mask may_drop(soup.points.size(), 0);
    for (std::size_t i = 0; i < points.size(); ++i) points[i] = Vec3(soup.points[i]) + Vec3(0);
    // The corner of its old face that each triangle corner is, and how many triangles an old face has now.
    std::vector<std::array<Index, 3>> corner_of(soup.triangles.size());
    Array<Index> pieces(t.face_count(), 0);
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        const Index f = soup.tags[i], first = t.face_offsets[f], end = t.face_offsets[f + 1];
        bool whole = true;
        for (int k = 0; k < 3; ++k) {
            const Index v = soup.triangles[i][k];
            Index& corner = corner_of[i][k] = no_index;
            const auto found = known.find({points[v].x, points[v].y, points[v].z});
            if (found != known.end())
                for (Index c = first; c < end && corner == no_index; ++c)
                    if (std::ranges::find(found->second, t.corner_vertex[c]) != found->second.end()) corner = c;
            whole &= corner != no_index;
            if (source[v] == no_index) {
                source[v] = corner != no_index     ? t.corner_vertex[corner]
                            : found != known.end() ? found->second.front()
                                                   : no_index;
                may_drop[v] = found == known.end();
            }
        }
        pieces[f] = whole && pieces[f] != no_index ? pieces[f] + 1 : no_index;
    }
    const auto untouched = [&](Index f) { return pieces[f] == t.face_offsets[f + 1] - t.face_offsets[f] - 2; };
    const auto* uvs = old.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    // Where a place lies on a face's UVs: continued over the plane of the first three corners that span one.
    const auto uv_at = [&](Index f, const DVec3& place) {
        const Index first = t.face_offsets[f], end = t.face_offsets[f + 1];
        const DVec3 origin((*old.positions)[t.corner_vertex[first]]), d = place - origin;
        Vec2 uv = (*uvs)[first];
        double best = 0;
        for (Index c = first + 1; c + 1 < end; ++c) {
            const DVec3 a = DVec3((*old.positions)[t.corner_vertex[c]]) - origin,
                        b = DVec3((*old.positions)[t.corner_vertex[c + 1]]) - origin;
            const double aa = glm::dot(a, a), bb = glm::dot(b, b), ab = glm::dot(a, b), det = aa * bb - ab * ab;
            if (det <= best) continue;
            best = det;
            const double da = glm::dot(d, a), db = glm::dot(d, b);
            uv = (*uvs)[first] + ((*uvs)[c] - (*uvs)[first]) * static_cast<float>((da * bb - db * ab) / det) +
                 ((*uvs)[c + 1] - (*uvs)[first]) * static_cast<float>((db * aa - da * ab) / det);
        }
        return uv;
    };
    Array<Vec2> new_uvs;
    FaceList faces;
    Array<Index> group;
    const auto put = [&](Index v, Index corner, Index f) {
        faces.corner(v, corner);
        if (uvs) new_uvs.push_back(corner != no_index ? (*uvs)[corner] : uv_at(f, soup.points[v]));
    };
    // A face that is not flat is several planes: its pieces are joined plane by plane, so that the surface stays where
    // it was.
    const Triangles flats = triangulated(old);
    std::vector<std::size_t> first_flat(t.face_count() + 1, 0);
    for (const Index f : flats.face) ++first_flat[f + 1];
    for (std::size_t f = 0; f < t.face_count(); ++f) first_flat[f + 1] += first_flat[f];
    const auto normal_of = [](const DVec3& a, const DVec3& b, const DVec3& c) {
        const DVec3 n = glm::cross(b - a, c - a);
        const double length = glm::length(n);
        return length > 0 ? n / length : DVec3(0);
    };
    const auto flat_normal = [&](std::size_t i) {
        const auto at = [&](int k) {
            return DVec3((*old.positions)[t.corner_vertex[flats.corners[3 * i + static_cast<std::size_t>(k)]]]);
        };
        return normal_of(at(0), at(1), at(2));
    };
    const auto plane_of = [&](Index f, const std::array<Index, 3>& triangle) -> Index {
        const DVec3 n = normal_of(soup.points[triangle[0]], soup.points[triangle[1]], soup.points[triangle[2]]);
        std::size_t best = first_flat[f];
        double nearest = -2;
        for (std::size_t i = first_flat[f]; i < first_flat[f + 1];
             ++i)  // the first of equal ones, so that a flat face is one plane
            if (const double along = std::abs(glm::dot(flat_normal(i), n)); along > nearest + 1e-9)
                nearest = along, best = i;
        return static_cast<Index>(best);
    };
    std::vector<std::vector<Index>> vertex_of(t.face_count());  // for untouched polygons: the vertex at each corner
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        const Index f = soup.tags[i], first = t.face_offsets[f], end = t.face_offsets[f + 1];
        if (end - first > 3 && untouched(f)) {
            std::vector<Index>& ring = vertex_of[f];
            const bool fresh = ring.empty();
            if (fresh) ring.assign(end - first, no_index);
            for (int k = 0; k < 3; ++k) ring[corner_of[i][k] - first] = soup.triangles[i][k];
            if (std::ranges::find(ring, no_index) != ring.end() || ring.size() == 0) continue;
            // Walls of a hole are the cutter's faces the other way round.
            const auto& [a, b, c] = corner_of[i];
            const bool turned = (a < b) + (b < c) + (c < a) == 1;
            for (Index n = 0; n < end - first; ++n) {
                const Index corner = turned ? end - 1 - n : first + n;
                put(ring[corner - first], corner, f);
            }
            faces.close(f);
            group.push_back(no_index);
            pieces[f] = 0;  // written
            continue;
        }
        if (end - first > 3 && !vertex_of[f].empty()) continue;  // a triangle of a polygon that is written already
        for (int k = 0; k < 3; ++k) put(soup.triangles[i][k], corner_of[i][k], f);
        faces.close(f);
        group.push_back(plane_of(f, soup.triangles[i]));
    }
    for (std::size_t i = 0; i < source.size(); ++i)
        if (source[i] == no_index) source[i] = 0;  // set below from a face that uses it
    for (std::size_t i = 0; i < soup.triangles.size(); ++i)
        for (const Index v : soup.triangles[i])
            if (may_drop[v]) source[v] = t.corner_vertex[t.face_offsets[soup.tags[i]]];
    Mesh plain = old;
    for (const Domain domain : {Domain::vertex, Domain::corner})
        plain.attributes.remove(domain, attribute_name::normal);
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
    result.mesh = mesh_of(without_collapsed_edges(soup), old);
    const Mesh& m = result.mesh;
    const Array<std::int32_t> origin = *m.attributes.values<std::int32_t>(Domain::face, "\x01origin");
    result.mesh.attributes.remove(Domain::face, "\x01origin");
    for (const std::int32_t f : origin) result.from_cutter.push_back(static_cast<Index>(f) >= body_faces);
    // Which operand a face came from: pieces of `old` that hang together would do, but the tags say it directly.
    result.cut.assign(m.edge_count(), 0);
    const Adjacency& near = m.topology->adjacency();
    for (Index e = 0; e < m.edge_count(); ++e) {
        stop_point(e);
        const auto beside = near.faces_of_edge(e);
        result.cut[e] = beside.size() == 2 && result.from_cutter[beside[0]] != result.from_cutter[beside[1]];
    }
    return result;
}

}  // namespace

BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind) {
    BooleanResult result;
    // The same cutter twice cuts no more than once, and surfaces that lie in one another are dear to work out.
    std::vector<const Mesh*> operands{&body};
    std::vector<Index> cutter_of{no_index};
    const auto same = [](const Mesh& a, const Mesh& b) {
        return a.topology->content_hash() == b.topology->content_hash() &&
               (a.positions == b.positions || *a.positions == *b.positions);
    };
    for (std::size_t i = 0; i < cutters.size(); ++i) {
        if (!fault_of(cutters[i]) && same(body, cutters[i])) {
            if (kind == BooleanKind::subtract) return result;  // nothing is left
            continue;
        }
        if (std::none_of(operands.begin() + 1, operands.end(),
                         [&](const Mesh* other) { return same(*other, cutters[i]); })) {
            operands.push_back(&cutters[i]);
            cutter_of.push_back(static_cast<Index>(i));
        }
    }
    if (operands.size() == 1) {
        result.mesh = body;
        result.cut.assign(body.edge_count(), 0);
        result.from_cutter.assign(body.face_count(), 0);
        result.unchanged = true;
        return result;
    }
    std::vector<Mesh> turned;  // operands that were inside out
    turned.reserve(operands.size());
    parallel::each(std::size_t(0), operands.size(), [&](std::size_t i) { fault_of(*operands[i]); });  // remembered
    for (std::size_t i = 0; i < operands.size(); ++i) {
        if (const Fault fault = fault_of(*operands[i])) return refused(fault, cutter_of[i]);
        if (signed_volume(*operands[i]) < 0) {
            turned.push_back(flipped(*operands[i]));
            operands[i] = &turned.back();
        }
    }
    std::vector<Mesh> parts;
    std::vector<TaggedTriangles> soups;
    std::vector<Box> boxes;
    Index tag = 0;
    for (const Mesh* mesh : operands) {
        parts.push_back(*mesh);
        soups.push_back(tagged_soup(*mesh, tag));
        boxes.push_back(bounds(*mesh));
        tag += static_cast<Index>(mesh->face_count());
    }
    const Mesh old = joined_meshes(parts);
    std::optional<TaggedTriangles> made;
    const std::span<const Box> cutter_boxes(boxes.data() + 1, boxes.size() - 1);
    result.unchanged = kind == BooleanKind::subtract &&
                       std::ranges::none_of(cutter_boxes, [&](const Box& box) { return boxes[0].touches(box); });
    if (result.unchanged) {
        result.mesh = body;
        result.cut.assign(body.edge_count(), 0);
        result.from_cutter.assign(body.face_count(), 0);
        return result;
    }
    if (kind == BooleanKind::unite) {
        TaggedTriangles first = std::move(soups[0]);
        soups.erase(soups.begin());
        const auto rounds = in_rounds(std::move(soups), cutter_boxes);
        if (rounds) made = std::move(first);
        for (std::size_t i = 0; rounds && i < rounds->size() && made; ++i) {
            stop_point();
            made = combined(*made, (*rounds)[i], kind);
        }
    } else {
        TaggedTriangles first = std::move(soups[0]);
        soups.erase(soups.begin());
        if (kind == BooleanKind::subtract) {
            std::vector<TaggedTriangles> near;
            std::vector<Box> near_boxes;
            for (std::size_t i = 0; i < soups.size(); ++i)
                if (boxes[0].touches(cutter_boxes[i]))
                    near.push_back(std::move(soups[i])), near_boxes.push_back(cutter_boxes[i]);
            const auto rounds = in_rounds(std::move(near), near_boxes);
            if (rounds) made = std::move(first);
            for (std::size_t i = 0; rounds && i < rounds->size() && made; ++i) {
                stop_point();
                if (!made->triangles.empty()) made = combined(*made, (*rounds)[i], kind);
            }
        } else {
            made = std::move(first);
            for (const TaggedTriangles& soup : soups)
                if (made) stop_point(), made = combined(*made, soup, kind);
        }
    }
    if (!made) {
        // Only now is it worth looking for the reason.
        for (std::size_t i = 0; i < operands.size(); ++i)
            if (!crossing_faces(*operands[i], 1).empty())
                return refused({BooleanFault::crosses_itself, 0}, cutter_of[i]);
        return refused({BooleanFault::inexact, 0}, no_index);
    }
    return finished(*made, old, static_cast<Index>(body.face_count()));
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
