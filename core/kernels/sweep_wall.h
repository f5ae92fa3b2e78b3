// SPDX-License-Identifier: GPL-3.0-or-later
// What a sweep is made of on its way: rings, and walls between them.
#pragma once

#include "core/kernels/sweep.h"

namespace bricol {

/// The section as it stands at one place: a plane, two directions in it and where it is along the path.
struct Ring {
    DVec3 at, right, up;  // lengths are the factors on the section
    DVec3 along;
    double share, length, factor;
    bool sharp;
};

/// Everything of the mesh while it grows.
struct SweepBuilder {
    Array<Vec3> positions;
    Array<std::array<Index, 2>> edges;
    Array<Index> offsets{0}, corner_vertex, corner_edge;
    Array<Vec2> uv;
    Array<Vec3> normal;   ///< of corners, or of vertices when everything is smooth
    bool corners = true;  ///< which of the two
    Array<float> along;
    std::vector<std::uint8_t> cap;  // per face: 0 wall, 1 start, 2 end

    void corner(Index vertex, Index edge, const Vec2& at, const Vec3& facing) {
        corner_vertex.push_back(vertex);
        corner_edge.push_back(edge);
        uv.push_back(at);
        if (corners) normal.push_back(facing);
    }
    void close_face(std::uint8_t kind) {
        offsets.push_back(static_cast<Index>(corner_vertex.size()));
        cap.push_back(kind);
    }
};

/// A loop's own rings: the path's, and those of round caps. The first and last may be a single point.
struct LoopRings {
    std::vector<Ring> rings;
    bool pole_start = false, pole_end = false;
};

/// Where a wall's rings at either end lie in the mesh.
struct LoopPlace {
    Index first_vertex = 0, last_vertex = 0, first_edge = 0, last_edge = 0;  // of the rings at either end
    Index count = 0;
};

/// Signed area of a loop, positive counter-clockwise.
double area_of(const SectionLoop& loop);
bool inside(const DVec2& p, const SectionLoop& loop);

/// Unit direction of the section at each point, before and behind it; the same where it is smooth (degrees).
void section_slopes(const SectionLoop& loop, double smooth_angle, std::vector<DVec2>& before,
                    std::vector<DVec2>& behind);

/// Adds the wall of one loop along its rings, with its normals, UVs and `along`.
LoopPlace add_wall(SweepBuilder& out, const SectionLoop& loop, const LoopRings& along, bool closed_path,
                   const SweepOptions& options);

}  // namespace bricol
