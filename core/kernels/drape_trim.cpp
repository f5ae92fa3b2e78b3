// SPDX-License-Identifier: GPL-3.0-or-later
// A flat pattern cut along the border of a surface's UVs.
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>
#include <utility>

#include "core/ground/box.h"
#include "core/kernels/boolean.h"
#include "core/kernels/drape.h"
#include "core/kernels/fill_holes.h"
#include "core/kernels/pieces.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/remove_elements.h"

namespace bricol {

/// The surface's UVs as a solid: their triangles at two heights, and upright walls along their border.
Mesh DrapeSurface::standing(const Options& options, double low, double high) const {
    std::map<std::pair<double, double>, Index> number;
    std::vector<DVec2> flat;
    std::vector<std::array<Index, 3>> triangles;
    std::map<std::pair<Index, Index>, int> sides;  // how often each is walked, less its way back
    for (const Triangle& t : triangles_) {
        std::array<Index, 3> v{};
        for (int k = 0; k < 3; ++k) {
            const DVec2 at = DVec2(options.origin) + t.uv[k] * options.size;
            const auto [known, fresh] = number.try_emplace({at.x, at.y}, static_cast<Index>(flat.size()));
            if (fresh) flat.push_back(at);
            v[k] = known->second;
        }
        const DVec2 a = flat[v[1]] - flat[v[0]], b = flat[v[2]] - flat[v[0]];
        if (a.x * b.y - a.y * b.x < 0) std::swap(v[1], v[2]);
        if (v[0] == v[1] || v[1] == v[2] || v[2] == v[0]) continue;
        triangles.push_back(v);
        for (int k = 0; k < 3; ++k) {
            const Index from = v[k], to = v[(k + 1) % 3];
            sides[std::minmax(from, to)] += from < to ? 1 : -1;
        }
    }
    const auto n = static_cast<Index>(flat.size());
    Array<Vec3> points(2 * std::size_t(n));
    for (Index i = 0; i < n; ++i) points[i] = Vec3(flat[i], low), points[i + n] = Vec3(flat[i], high);
    FaceList faces;
    for (const auto& [a, b, c] : triangles) {
        faces.add(std::array{a, c, b});
        faces.add(std::array<Index, 3>{a + n, b + n, c + n});
    }
    for (const auto& [side, walked] : sides)
        for (int i = 0; i < std::abs(walked); ++i) {
            const auto [a, b] = walked > 0 ? std::pair(side.first, side.second) : std::pair(side.second, side.first);
            faces.add(std::array<Index, 4>{a, b, b + n, a + n});
        }
    return {std::move(points), make_topology(2 * n, std::move(faces.offsets), std::move(faces.corners))};
}

namespace {

/// A strand that is open at ends far away is cut like the solid it would be with its ends closed.
std::optional<BooleanResult> cut_with_ends_closed(const Mesh& piece, const Mesh& solid) {
    std::size_t ends = 0;
    const Mesh closed = with_holes_filled(piece, HoleFill::triangles, 0, {}, &ends);
    if (ends == 0 || closed.topology->ties().border_edges > 0) return std::nullopt;
    const std::vector<MeshPiece> whole = pieces_of(closed);
    // A sheet whose border is filled is two faces on one another: there is no solid in it.
    if (whole.size() != 1 || std::abs(whole[0].volume) < 1e-4 * std::pow(whole[0].area, 1.5)) return std::nullopt;
    BooleanResult cut = boolean_of(closed, std::array<Mesh, 1>{solid}, BooleanKind::intersect);
    if (cut.fault != BooleanFault::none || cut.mesh.empty()) return cut;
    Mask gone(cut.mesh.face_count(), 0);
    for (std::size_t f = 0; f < gone.size(); ++f)
        gone[f] = f < cut.body_face.size() && cut.body_face[f] != no_index && cut.body_face[f] >= piece.face_count();
    cut.mesh = without_faces(cut.mesh, Selection(std::move(gone)));
    return cut;
}

}  // namespace

DrapeSurface::Trimmed DrapeSurface::trimmed(const Mesh& pattern, const Options& options) const {
    Trimmed out;
    Box box = Box::nothing();
    for (const Vec3& p : *pattern.positions) box.add(DVec3(p));
    const double room = 1e-3 + 0.5 * std::max({box.size().x, box.size().y, box.size().z});
    const Mesh solid = standing(options, box.low.z - room, box.high.z + room);
    std::vector<Mesh> parts;
    const auto keep = [&](BooleanResult cut) {
        out.refused |= cut.fault != BooleanFault::none;
        if (cut.fault == BooleanFault::none && !cut.mesh.empty()) parts.push_back(std::move(cut.mesh));
    };
    std::vector<Index> closed, sheets;
    for (const MeshPiece& piece : pieces_of(pattern)) {
        if (piece.closed) {
            closed.insert(closed.end(), piece.faces.begin(), piece.faces.end());
        } else if (auto cut = cut_with_ends_closed(only_faces(pattern, piece.faces), solid)) {
            keep(std::move(*cut));
        } else {
            sheets.insert(sheets.end(), piece.faces.begin(), piece.faces.end());
        }
    }
    if (!closed.empty()) {
        const Mesh whole = only_faces(pattern, closed);
        BooleanResult cut = boolean_of(whole, std::array<Mesh, 1>{solid}, BooleanKind::intersect);
        // One that is no solid, for faces that meet in one edge, is cut as the surface it is.
        if (cut.fault != BooleanFault::none && cut.fault_cutter == no_index) cut = sheet_cut(whole, solid, true);
        keep(std::move(cut));
    }
    if (!sheets.empty()) keep(sheet_cut(only_faces(pattern, sheets), solid, true));
    out.mesh = out.refused ? pattern : joined_meshes(parts);
    return out;
}

}  // namespace bricol
