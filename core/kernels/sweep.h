// SPDX-License-Identifier: GPL-3.0-or-later
// A section drawn along a path: pipes, cables, mouldings, bundles.
#pragma once

#include <atomic>
#include <functional>

#include "core/kernels/path.h"
#include "core/shape/sets.h"

namespace bricol {

/// One line of a section, in metres across (to the right) and up as the traveller sees it.
struct SectionLoop {
    std::vector<DVec2> points;
    std::vector<std::uint8_t> sharp;
    bool closed = true;
};

/// A circle as a section.
SectionLoop round_section(double radius, int sides);
/// A rectangle about the path; four sharp corners.
SectionLoop rectangle_section(double width, double height);
/// A line as a section, as seen in the flat view it lies in (the one across its smallest extent), along the look.
/// `left_out` tells how far it leaves that plane (metres).
std::vector<SectionLoop> sections_from(std::span<const Polyline> lines, bool to_middle, double* left_out);

enum class SweepCaps : std::uint8_t { none, flat, round };

struct SweepOptions {
    std::function<double(double)> width;  ///< factor on the section at a share 0..1 of the length; none is 1
    double twist = 0;                     ///< radians over the whole length
    double roll = 0;                      ///< radians everywhere
    SweepCaps caps = SweepCaps::flat;
    int cap_rings = 4;        ///< of round caps
    bool mitres = true;       ///< breaks of the path keep the section's width on both sides
    double mitre_limit = 4;   ///< no mitre longer than this many times the section
    bool real_uvs = false;    ///< UVs in metres instead of 0..1
    float smooth_angle = 40;  ///< degrees: breaks of section or path sharper than this are shaded sharp
};

/// Where the section is wider than the path's bend allows.
struct TightBend {
    Vec3 at;
    double radius;  ///< of the path there (metres)
    double needs;   ///< how far the section reaches inwards (metres)
};

struct SweepResult {
    Mesh mesh;
    Mask start, end;               ///< faces of the caps
    std::vector<TightBend> tight;  ///< the worst of each run of such places
    std::size_t long_mitres = 0;   ///< breaks where the mitre was held
    double closing_gap = 0;        ///< degrees by which the section misses itself on a closed path
};

/// Closed loops give tubes facing out, a loop inside another one its hole; open ones sheets. Quads along the path, one
/// polygon per flat cap (triangles round holes). Attributes: TEXCOORD_0 on corners, NORMAL on corners (on vertices when
/// nothing is sharp), `along` (float, 0..1, vertices), and what the path's knots carry, blended between them. O(points
/// x section). Volume and area of planar paths follow Pappus and Guldin.
SweepResult sweep(const Path& path, std::span<const SectionLoop> section, const SweepOptions& options);

/// One section along several paths, as one mesh. Each twists by `options.twist` and by `twist_each` radians a metre.
struct SweptPaths {
    SweepResult all;           ///< its `closing_gap` is the largest of any
    double most_twist = 0;     ///< radians, over one path
    double between_rings = 0;  ///< radians by which the section turns about a path from one ring to the next, at most
};
SweptPaths swept_paths(std::span<const Path> paths, std::span<const SectionLoop> section, SweepOptions options,
                       double twist_each);

/// The length of the shortest piece of any path (metres).
double shortest_piece(std::span<const Path> paths);

/// Whether a closed line has no area to speak of: less than a millionth of a square as wide as it is.
bool has_no_area(const SectionLoop& loop);

}  // namespace bricol
