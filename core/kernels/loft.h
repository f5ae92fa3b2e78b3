// SPDX-License-Identifier: GPL-3.0-or-later
// A skin through outlines, and faces that fill one.
#pragma once

#include <atomic>
#include <string>

#include "core/kernels/path.h"
#include "core/shape/sets.h"

namespace bricol {

struct LoftOptions {
    /// How points of one outline find theirs on the next.
    enum class Match : std::uint8_t { points, length, corners } match = Match::points;
    int columns = 0;      ///< pieces round by length or corners; 0 for as many as the richest outline has
    bool smooth = false;  ///< a cubic through the outlines; else straight
    int rows = 1;         ///< rows of faces from one outline to the next
    bool closed = false;  ///< the last outline leads back to the first
    bool align = true;    ///< closed outlines start, and all run, where and as they twist least
    int seam = 0;         ///< columns the start of every closed outline is moved by
    bool cap_start = true, cap_end = true;
    float smooth_angle = 40;  ///< degrees: breaks sharper than this are shaded sharp
};
struct LoftResult {
    Mesh mesh;
    Mask start, end;              ///< faces of the caps
    std::string refused;          ///< why nothing was made; empty when it was
    bool corners_differ = false;  ///< matched by length, because the outlines have unlike numbers of corners
    bool counts_differ = false;   ///< likewise, unlike numbers of points
    double twist = 0;             ///< degrees by which the seam runs round at worst, from one outline to the next
    std::size_t turned = 0;       ///< outlines that ran the other way
};
/// Needs two outlines or more, all open or all closed. Quads; caps are one polygon each. UVs 0..1 on corners, u round
/// and v along; `along` (float, 0..1) on vertices. Closed skins face out. O(outlines x rows x columns). Smooth lofts
/// are cubic Hermite splines with centripetal Catmull-Rom slopes (E. Catmull and R. Rom, 1974; C. Yuksel et al., 2011).
LoftResult loft(std::span<const Polyline> outlines, const LoftOptions& options);

enum class FillStyle : std::uint8_t { face, triangles, grid };
struct FillResult {
    Mesh mesh;
    std::size_t open = 0;          ///< lines that are not closed, left out
    double off_plane = 0;          ///< farthest a loop leaves its plane (metres)
    std::size_t crossing = 0;      ///< loops that cross themselves
    bool grid_with_holes = false;  ///< asked for a grid, but a loop has holes: triangles instead
};
/// Closes loops; a loop inside another one is a hole (and then triangles are made). Grids are Coons patches between
/// four runs of the loop (S. Coons, 1967), parted at its four sharpest corners; a loop of odd count gets one more
/// point. Faces look the way the loop turns, or along `facing` when that is not zero. UVs 0..1.
FillResult filled(std::span<const Polyline> loops, FillStyle style, const DVec3& facing);

}  // namespace bricol
