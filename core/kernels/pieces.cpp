// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/pieces.h"

#include <cmath>
#include <numbers>
#include <unordered_map>

#include "core/ground/disjoint_sets.h"
#include "core/ground/stop.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

double room(const Box& box) {
    const DVec3 size = box.size();
    return size.x * size.y * size.z;
}

bool holds(const Box& outer, const Box& inner) {
    return glm::all(glm::lessThanEqual(outer.low, inner.low)) && glm::all(glm::lessThanEqual(inner.high, outer.high));
}

/// Hollows go to the smallest piece round them.
std::vector<MeshPiece> with_hollows(std::vector<MeshPiece> pieces) {
    std::vector<MeshPiece> out;
    std::vector<MeshPiece> hollows;
    for (MeshPiece& piece : pieces) (piece.closed && piece.volume < 0 ? hollows : out).push_back(std::move(piece));
    for (MeshPiece& hollow : hollows) {
        MeshPiece* home = nullptr;
        for (MeshPiece& piece : out)
            if (holds(piece.box, hollow.box) && (!home || room(piece.box) < room(home->box))) home = &piece;
        if (!home) {
            out.push_back(std::move(hollow));
            continue;
        }
        home->faces.insert(home->faces.end(), hollow.faces.begin(), hollow.faces.end());
        home->volume += hollow.volume;
        home->area += hollow.area;
    }
    return out;
}

}  // namespace

double MeshPiece::size() const { return closed ? std::abs(volume) : std::pow(area / 6, 1.5); }

std::vector<MeshPiece> pieces_of(const Mesh& mesh) {
    std::vector<MeshPiece> pieces;
    if (mesh.face_count() == 0) return pieces;
    const Topology& t = *mesh.topology;
    DisjointSets joined(t.vertex_count);
    for (const auto& [a, b] : t.edges) joined.join(a, b);
    std::vector<Index> number(t.vertex_count, no_index);
    std::vector<Index> piece_of(t.face_count());
    for (Index f = 0; f < t.face_count(); ++f) {
        stop_point(f);
        Index& n = number[joined.root(t.face(f)[0])];
        if (n == no_index) {
            n = static_cast<Index>(pieces.size());
            pieces.emplace_back();
            pieces.back().closed = true;
        }
        piece_of[f] = n;
        pieces[n].faces.push_back(f);
        for (const Index v : t.face(f)) pieces[n].box.add(DVec3((*mesh.positions)[v]));
    }
    const Adjacency& near = t.adjacency();
    for (Index e = 0; e < t.edge_count(); ++e)
        if (const auto beside = near.faces_of_edge(e); beside.size() == 1) pieces[piece_of[beside[0]]].closed = false;
    const Triangles all = triangulated(mesh);
    for (std::size_t i = 0; i < all.count(); ++i) {
        stop_point(i);
        MeshPiece& piece = pieces[piece_of[all.face[i]]];
        const DVec3 middle = piece.box.centre();
        const auto at = [&](std::size_t k) {
            return DVec3((*mesh.positions)[t.corner_vertex[all.corners[3 * i + k]]]) - middle;
        };
        const DVec3 a = at(0), b = at(1), c = at(2);
        piece.volume += glm::dot(a, glm::cross(b, c)) / 6;
        piece.area += glm::length(glm::cross(b - a, c - a)) / 2;
    }
    return with_hollows(std::move(pieces));
}

double winding_number(const Mesh& mesh, std::span<const Index> faces, const DVec3& point) {
    double sum = 0;
    for (const Index f : faces) {
        stop_point(f);
        const auto face = mesh.topology->face(f);
        for (std::size_t i = 1; i + 1 < face.size(); ++i) {
            const DVec3 a = DVec3((*mesh.positions)[face[0]]) - point, b = DVec3((*mesh.positions)[face[i]]) - point,
                        c = DVec3((*mesh.positions)[face[i + 1]]) - point;
            const double la = glm::length(a), lb = glm::length(b), lc = glm::length(c);
            sum += std::atan2(glm::dot(a, glm::cross(b, c)),
                              la * lb * lc + glm::dot(a, b) * lc + glm::dot(b, c) * la + glm::dot(c, a) * lb);
        }
    }
    return sum / (2 * std::numbers::pi);
}

Mesh only_faces(const Mesh& mesh, std::span<const Index> faces) {
    const Topology& t = *mesh.topology;
    // A list of all vertices for much of a mesh, but not for each of a thousand small pieces.
    const bool most = faces.size() > t.face_count() / 16;
    std::unordered_map<Index, Index> few;
    Array<Index> number(most ? t.vertex_count : 0, no_index);
    FaceList list;
    Array<Vec3> points;
    Array<Index> source;
    for (std::size_t i = 0; i < faces.size(); ++i) {
        stop_point(i);
        const Index f = faces[i];
        for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
            const Index v = t.corner_vertex[c];
            Index& known = most ? number[v] : few.try_emplace(v, no_index).first->second;
            if (known == no_index) {
                known = static_cast<Index>(points.size());
                points.push_back((*mesh.positions)[v]);
                source.push_back(v);
            }
            list.corner(known, c);
        }
        list.close(f);
    }
    return rebuilt(mesh, std::move(points), source, std::move(list));
}

SmallPieces small_pieces(const Mesh& mesh, double share) {
    const std::vector<MeshPiece> pieces = pieces_of(mesh);
    double largest = 0;
    for (const MeshPiece& piece : pieces) largest = std::max(largest, piece.size());
    SmallPieces out;
    out.of = pieces.size();
    out.faces.resize(mesh.face_count(), 0);
    for (const MeshPiece& piece : pieces) {
        if (piece.size() >= share * largest) continue;
        for (const Index f : piece.faces) out.faces[f] = 1;
        if (out.places.size() < 32) out.places.push_back(Vec3(piece.box.centre()));
        ++out.count;
    }
    return out;
}

std::optional<Mesh> others_taken(Mesh& mesh) {
    const std::vector<MeshPiece> pieces = pieces_of(mesh);
    if (pieces.size() < 2) return std::nullopt;
    std::vector<Index> others;
    for (std::size_t i = 1; i < pieces.size(); ++i)
        others.insert(others.end(), pieces[i].faces.begin(), pieces[i].faces.end());
    std::ranges::sort(others);
    Mesh rest = only_faces(mesh, others);
    mesh = only_faces(mesh, pieces[0].faces);
    return rest;
}

}  // namespace bricol
