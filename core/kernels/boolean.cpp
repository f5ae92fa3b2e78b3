// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>
#include <tuple>
#include <unordered_map>

#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/measure.h"
#include "core/kernels/pieces.h"
#include "core/kernels/boolean_mend.h"
#include "core/kernels/boolean_shadows.h"
#include "core/kernels/from_triangles.h"
#include "core/kernels/known_clean.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"
#include "core/ground/disjoint_sets.h"
#include "core/ground/box.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// Whether a face is a flat polygon that turns the same way at every corner, clear of rounding.
bool flat_and_convex(std::span<const Index> face, const std::vector<DVec3>& points) {
    const std::size_t n = face.size();
    const DVec3 origin = points[face[0]];
    DVec3 normal(0);
    double size = 0;
    for (std::size_t i = 1; i + 1 < n; ++i)
        normal += glm::cross(points[face[i]] - origin, points[face[i + 1]] - origin);
    for (const Index v : face) size = std::max(size, glm::distance(points[v], origin));
    const double length = glm::length(normal);
    if (!(length > 1e-6 * size * size)) return false;
    normal /= length;
    double turned = 0;
    for (std::size_t i = 0; i < n; ++i) {
        const DVec3 &a = points[face[i]], &b = points[face[(i + 1) % n]], &c = points[face[(i + 2) % n]];
        if (std::abs(glm::dot(b - origin, normal)) > 1e-6 * size) return false;
        const double sine = glm::dot(glm::cross(b - a, c - b), normal),
                     lengths = glm::length(b - a) * glm::length(c - b);
        if (sine < 1e-4 * lengths) return false;
        turned += std::atan2(sine, glm::dot(b - a, c - b));
    }
    return turned < 7;  // once round, not twice
}

/// Corners of a convex polygon as triangles that halve it again and again: an edge that crosses it meets about log n of
/// them, where a fan's slivers would all be met.
void add_halves(std::span<const Index> face, std::size_t from, std::size_t to, std::vector<std::array<Index, 3>>& out) {
    if (to < from + 2) return;
    const std::size_t middle = (from + to) / 2;
    out.push_back({face[from], face[middle], face[to]});
    add_halves(face, from, middle, out);
    add_halves(face, middle, to, out);
}

TaggedTriangles tagged_soup(const Mesh& mesh, Index first_tag) {
    TaggedTriangles soup;
    const Triangles all = triangulated(mesh);
    soup.points.assign(mesh.positions->begin(), mesh.positions->end());
    soup.triangles.reserve(all.count());
    soup.tags.reserve(all.count());
    for (std::size_t i = 0; i < all.count();) {
        stop_point(i);
        const Index f = all.face[i];
        const auto face = mesh.topology->face(f);
        std::size_t end = i;
        while (end < all.count() && all.face[end] == f) ++end;
        if (end - i > 5 && end - i == face.size() - 2 && flat_and_convex(face, soup.points))
            add_halves(face, 0, face.size() - 1, soup.triangles);
        else
            for (; i < end; ++i) {
                const auto vertex = [&](std::size_t k) { return mesh.topology->corner_vertex[all.corners[3 * i + k]]; };
                soup.triangles.push_back({vertex(0), vertex(1), vertex(2)});
            }
        soup.tags.resize(soup.triangles.size(), first_tag + f);
        i = end;
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

TaggedTriangles united(std::span<const TaggedTriangles> soups) {
    if (soups.size() == 1) return soups[0];
    stop_point();
    TaggedTriangles left, right;
    parallel::together([&] { left = united(soups.first(soups.size() / 2)); },
                       [&] { right = united(soups.subspan(soups.size() / 2)); });
    return boolean_by_shadows(left, right, BooleanKind::unite);
}

/// Solids that overlap are united, clusters apart from one another stand side by side.
TaggedTriangles gathered(std::vector<TaggedTriangles> soups, std::span<const Box> boxes) {
    DisjointSets touching(soups.size());
    for (Index i = 0; i < soups.size(); ++i)
        for (Index j = i + 1; j < soups.size(); ++j)
            if (boxes[i].touches(boxes[j])) touching.join(i, j);
    std::vector<std::vector<TaggedTriangles>> clusters(soups.size());
    for (Index i = 0; i < soups.size(); ++i) clusters[touching.root(i)].push_back(std::move(soups[i]));
    std::erase_if(clusters, [](const auto& c) { return c.empty(); });
    std::vector<TaggedTriangles> whole(clusters.size());
    parallel::each(std::size_t(0), clusters.size(), [&](std::size_t i) { whole[i] = united(clusters[i]); });
    return side_by_side(std::move(whole));
}

/// Cutters as few solids to cut with one after another: each holds some that do not touch, side by side. When that
/// takes too many rounds they are united first.
std::vector<TaggedTriangles> in_rounds(std::vector<TaggedTriangles> soups, std::span<const Box> boxes) {
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
        out.push_back(gathered(std::move(soups), boxes));
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
    for (std::size_t i = 0; i < soup.triangles.size(); ++i) {
        stop_point(i);
        const auto& t = soup.triangles[i];
        for (int k = 0; k < 3; ++k) {
            const Index a = t[k], b = t[(k + 1) % 3];
            if (glm::distance(soup.points[a], soup.points[b]) > reach) continue;
            together.join(a, b);
            any = true;
        }
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
    for (const Index f : made.face_source) {
        result.from_cutter.push_back(f >= body_faces);
        result.body_face.push_back(f < body_faces ? f : no_index);
    }
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

/// Whether all its faces hang together.
bool in_one_piece(const Mesh& mesh) {
    DisjointSets joined(mesh.vertex_count());
    std::size_t links = 0;
    std::size_t looked_at = 0;
    for (const auto& [a, b] : mesh.topology->edges) stop_point(looked_at++), links += joined.join(a, b);
    std::vector<std::uint8_t> used(mesh.vertex_count(), 0);
    for (const Index v : mesh.topology->corner_vertex) used[v] = 1;
    return links + 1 == static_cast<std::size_t>(std::ranges::count(used, 1));
}

/// Loose pieces with their hollows, outward.
std::vector<Mesh> solid_pieces(const Mesh& mesh) {
    const Mesh outward = signed_volume(mesh) < 0 ? flipped(mesh) : mesh;
    if (in_one_piece(outward)) return {outward};
    const std::vector<MeshPiece> list = pieces_of(outward);
    constexpr std::size_t most = 20000;  // beyond it they go in as they are
    if (list.size() <= 1 || list.size() > most) return {outward};
    std::vector<Mesh> pieces;
    for (const MeshPiece& piece : list) pieces.push_back(only_faces(outward, piece.faces));
    return pieces;
}

/// The solids of a boolean: the loose pieces of the body and of every cutter.
struct Operands {
    std::vector<Mesh> pieces;
    std::vector<Index> cutter_of;  ///< which cutter each is of; no_index for the body
    std::vector<Box> boxes;
    std::vector<TaggedTriangles> soups;  ///< of the pieces, or what lies inside of one; tags from 0
    Mask clean;                          ///< pieces of operands that are known not to cross themselves
    std::vector<const Mesh*> meshes;     ///< the body and the cutters
    std::vector<std::size_t> first_piece;
};

KnownClean& known_clean() {
    static KnownClean known;
    return known;
}

/// Pieces of a mesh, outward, as triangles too.
void add_operand(const Mesh& mesh, Index number, Operands& out) {
    const std::size_t first = out.pieces.size();
    for (Mesh& piece : solid_pieces(mesh)) {
        out.boxes.push_back(bounds(piece));
        out.cutter_of.push_back(number);
        out.pieces.push_back(std::move(piece));
    }
    out.meshes.push_back(&mesh);
    out.first_piece.push_back(first);
    out.clean.resize(out.pieces.size(), known_clean().has(mesh));
    out.soups.resize(out.pieces.size());
    parallel::each(first, out.pieces.size(), [&](std::size_t i) { out.soups[i] = tagged_soup(out.pieces[i], 0); });
}

/// Which pieces cross themselves, or may.
Mask crossing_pieces(const Operands& operands) {
    constexpr std::size_t most_looked_through = 60000;  // triangles; beyond it looking would cost as much as cutting
    Mask crosses(operands.pieces.size(), 0);
    parallel::each(std::size_t(0), operands.pieces.size(), [&](std::size_t i) {
        const TaggedTriangles& soup = operands.soups[i];
        crosses[i] = !operands.clean[i] && soup.triangles.size() <= most_looked_through && edges_cross_faces(soup);
    });
    return crosses;
}

/// Takes what lies inside of those pieces. Whether any is another now.
bool mend(Operands& operands, const Mask& crosses, BooleanResult& told) {
    Mask mended(operands.pieces.size(), 0);
    parallel::each(std::size_t(0), operands.pieces.size(), [&](std::size_t i) {
        if (!crosses[i]) return;
        if (auto inside = mended_by_winding(operands.soups[i])) operands.soups[i] = std::move(*inside), mended[i] = 1;
    });
    for (std::size_t i = 0; i < operands.pieces.size(); ++i)  // a touch is no crossing
        if (crosses[i] && !crossing_faces(operands.pieces[i], 1).empty())
            (mended[i] ? told.mended : told.crosses_itself).push_back(operands.cutter_of[i]);
    for (std::size_t o = 0; o < operands.meshes.size(); ++o) {
        const std::size_t end = o + 1 < operands.meshes.size() ? operands.first_piece[o + 1] : crosses.size();
        bool clean = false;  // found so now
        for (std::size_t i = operands.first_piece[o]; i < end; ++i) clean |= !operands.clean[i];
        for (std::size_t i = operands.first_piece[o]; i < end; ++i) clean &= !crosses[i];
        if (clean) known_clean().add(*operands.meshes[o]);
    }
    return std::ranges::count(mended, 1) > 0;
}

/// A piece's triangles, with tags from `first_tag` on.
TaggedTriangles soup_of(const Operands& operands, std::size_t piece, Index first_tag) {
    TaggedTriangles soup = operands.soups[piece];
    for (Index& tag : soup.tags) tag += first_tag;
    return soup;
}

/// Outward pieces; the fault of the first operand that is no solid.
std::optional<BooleanResult> read_operands(const Mesh& body, std::span<const Mesh> cutters, Operands& out) {
    std::vector<const Mesh*> meshes = {&body};
    for (const Mesh& cutter : cutters) meshes.push_back(&cutter);
    parallel::each(std::size_t(0), meshes.size(), [&](std::size_t i) { fault_of(*meshes[i]); });  // remembered
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        const Index number = i == 0 ? no_index : static_cast<Index>(i - 1);
        if (const Fault fault = fault_of(*meshes[i])) return refused(fault, number);
        add_operand(*meshes[i], number, out);
    }
    return std::nullopt;
}

/// What the body and the cutters come to.
TaggedTriangles worked_out(const Operands& operands, std::size_t cutters, BooleanKind kind) {
    std::vector<std::vector<TaggedTriangles>> soups(cutters + 1);  // the body first
    std::vector<std::vector<Box>> boxes(cutters + 1);
    Index tag = 0;
    for (std::size_t i = 0; i < operands.pieces.size(); ++i) {
        const std::size_t to = operands.cutter_of[i] == no_index ? 0 : operands.cutter_of[i] + 1;
        soups[to].push_back(soup_of(operands, i, tag));
        boxes[to].push_back(operands.boxes[i]);
        tag += static_cast<Index>(operands.pieces[i].face_count());
    }
    if (kind == BooleanKind::unite) {
        std::vector<TaggedTriangles> all;
        std::vector<Box> all_boxes;
        for (std::size_t o = 0; o <= cutters; ++o) {
            std::ranges::move(soups[o], std::back_inserter(all));
            all_boxes.insert(all_boxes.end(), boxes[o].begin(), boxes[o].end());
        }
        return gathered(std::move(all), all_boxes);
    }
    TaggedTriangles made = gathered(std::move(soups[0]), boxes[0]);
    if (kind == BooleanKind::intersect) {
        for (std::size_t o = 1; o <= cutters; ++o) {
            stop_point();
            progress_of_work(0.1 + 0.8 * static_cast<double>(o - 1) / static_cast<double>(cutters));
            made = boolean_by_shadows(made, gathered(std::move(soups[o]), boxes[o]), kind);
        }
        return made;
    }
    Box whole = Box::nothing();
    for (const Box& box : boxes[0]) whole.add(box);
    std::vector<TaggedTriangles> near;
    std::vector<Box> near_boxes;
    for (std::size_t o = 1; o <= cutters; ++o)
        for (std::size_t i = 0; i < soups[o].size(); ++i)
            if (whole.touches(boxes[o][i])) near.push_back(std::move(soups[o][i])), near_boxes.push_back(boxes[o][i]);
    const std::vector<TaggedTriangles> rounds = in_rounds(std::move(near), near_boxes);
    std::size_t round = 0;
    for (const TaggedTriangles& cutter : rounds) {
        stop_point();
        progress_of_work(0.4 + 0.5 * static_cast<double>(round++) / static_cast<double>(rounds.size()));
        if (made.triangles.empty()) break;
        made = boolean_by_shadows(made, cutter, kind);
    }
    return made;
}

}  // namespace

BooleanResult boolean_of(const Mesh& body, std::span<const Mesh> cutters, BooleanKind kind) {
    if (cutters.empty()) return left_alone(body);
    Operands operands;
    if (auto fault = read_operands(body, cutters, operands)) return std::move(*fault);
    const auto of_body = static_cast<std::size_t>(std::ranges::count(operands.cutter_of, no_index));
    Box whole = Box::nothing();
    for (std::size_t i = 0; i < of_body; ++i) whole.add(operands.boxes[i]);
    if (kind == BooleanKind::subtract && of_body == 1 &&
        std::none_of(operands.boxes.begin() + 1, operands.boxes.end(),
                     [&](const Box& box) { return whole.touches(box); }))
        return left_alone(body);
    progress_of_work(0.1);
    // Hardly any operand crosses itself: it is cut while that is looked for, and once more where it does. The first of
    // them stays on this thread, which is heard telling how far it is.
    Mask crosses;
    TaggedTriangles made;
    Mesh all;
    parallel::together([&] { made = worked_out(operands, cutters.size(), kind); },
                       [&] { crosses = crossing_pieces(operands); }, [&] { all = joined_meshes(operands.pieces); });
    BooleanResult told;
    if (mend(operands, crosses, told)) {
        const ProgressScope quiet([](double) {});  // it has told once
        made = worked_out(operands, cutters.size(), kind);
    }
    progress_of_work(0.9);
    Index body_faces = 0;
    for (std::size_t i = 0; i < of_body; ++i) body_faces += static_cast<Index>(operands.pieces[i].face_count());
    BooleanResult result = finished(made, all, body_faces);
    result.crosses_itself = std::move(told.crosses_itself);
    result.mended = std::move(told.mended);
    return result;
}

BooleanResult sheet_cut(const Mesh& sheet, const Mesh& solid, bool keep_inside) {
    if (const Fault fault = fault_of(solid)) return refused(fault, 0);
    Operands operands;
    add_operand(solid, 0, operands);
    BooleanResult told;
    mend(operands, crossing_pieces(operands), told);
    std::vector<TaggedTriangles> soups;
    auto tag = static_cast<Index>(sheet.face_count());
    for (std::size_t i = 0; i < operands.pieces.size(); ++i) {
        soups.push_back(soup_of(operands, i, tag));
        tag += static_cast<Index>(operands.pieces[i].face_count());
    }
    std::vector<std::array<DVec3, 2>> lines;
    const TaggedTriangles made =
        sheet_by_shadows(tagged_soup(sheet, 0), gathered(std::move(soups), operands.boxes), keep_inside, &lines);
    std::vector<Mesh>& pieces = operands.pieces;
    pieces.insert(pieces.begin(), sheet);
    BooleanResult result = finished(made, joined_meshes(pieces), static_cast<Index>(sheet.face_count()));
    result.crosses_itself = std::move(told.crosses_itself);
    result.mended = std::move(told.mended);
    result.unchanged = lines.empty() && result.mesh.face_count() == sheet.face_count();
    // On a sheet the cut is its new border.
    const auto place = [](const DVec3& p) {
        const Vec3 kept(p);
        return std::tuple(kept.x, kept.y, kept.z);
    };
    std::set<std::array<std::tuple<float, float, float>, 2>> cut;
    for (const auto& [a, b] : lines) cut.insert({std::min(place(a), place(b)), std::max(place(a), place(b))});
    const Topology& t = *result.mesh.topology;
    for (Index e = 0; e < t.edge_count() && !cut.empty(); ++e) {
        const auto a = place(DVec3((*result.mesh.positions)[t.edges[e][0]])),
                   b = place(DVec3((*result.mesh.positions)[t.edges[e][1]]));
        result.cut[e] = cut.contains({std::min(a, b), std::max(a, b)});
    }
    return result;
}

}  // namespace bricol
