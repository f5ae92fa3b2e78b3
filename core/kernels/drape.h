// SPDX-License-Identifier: GPL-3.0-or-later
// A flat pattern laid on a surface by the surface's UVs.
#pragma once

#include <array>
#include <atomic>
#include <span>

#include "core/shape/sets.h"

namespace bricol {

/// A surface prepared for draping: its triangles by their place in UV. The flat form of the surface is its UV square,
/// sized.
class DrapeSurface {
public:
    /// The mesh must have TEXCOORD_0 on corners; without it nothing is prepared.
    explicit DrapeSurface(const Mesh& mesh);

    bool empty() const { return triangles_.empty(); }
    /// Rectangle of UVs the surface takes up.
    DVec2 low() const { return low_; }
    DVec2 high() const { return high_; }
    /// Triangles whose UVs leave 0..1, and those with no area in UV.
    std::size_t outside() const { return outside_; }
    std::size_t folded() const { return folded_; }
    /// By how much longer the surface is than its UVs times `size` (metres for each unit of u and v): smallest and
    /// largest over all triangles and directions (the singular values of the map). Triangles without area are left out.
    std::array<double, 2> stretch(const DVec2& size) const;

    struct Options {
        DVec2 size{1};      ///< metres of the flat pattern for each unit of u and v
        DVec3 origin{0};    ///< where u = v = 0 lies while flat
        double amount = 1;  ///< 0 flat, 1 on the surface, between them the surface itself on its way
        double lift = 0;    ///< metres along the normals, on top of the pattern's own height
    };
    struct Draped {
        std::vector<DVec3> points;
        std::vector<std::uint8_t> missed;  ///< its u, v is on no triangle; it stays flat
    };
    /// Each point's x and y (from `origin`, over `size`) are its u and v, its z (from `origin`) its height along the
    /// surface's normal. On all threads. O(points + triangles).
    Draped draped(std::span<const Vec3> points, const Options& options) const;

    /// Whether the UVs fill their rectangle wholly.
    bool rectangular() const { return rectangular_; }
    struct Trimmed {
        Mesh mesh;
        bool refused = false;  ///< the surface's UVs lie over one another, so that they have no border to cut along
    };
    /// The flat pattern cut where it leaves the surface's UVs: what it has in common with a solid that stands on them.
    /// What was closed stays closed, points on the border count as inside, sets and values are carried as by a boolean.
    Trimmed trimmed(const Mesh& pattern, const Options& options) const;

    /// Places where the surface bends so tightly that what stands `low` to `high` metres off it turns over.
    std::vector<Vec3> crossings(const Options& options, double low, double high) const;

private:
    Mesh standing(const Options& options, double low, double high) const;
    struct Triangle {
        std::array<Index, 3> vertex;  ///< of the mesh
        std::array<DVec2, 3> uv;
    };
    /// Vertex places and normals at an amount.
    void stand(const Options& options, std::vector<DVec3>& at, std::vector<DVec3>& normal) const;
    /// The triangle at a UV and the weights of its corners; -1 for none. Beside a triangle by `slack` of it still
    /// counts as on it.
    int find(const DVec2& uv, DVec3& weights, double slack = 1e-6) const;

    const Mesh mesh_;
    std::vector<Triangle> triangles_;
    std::vector<DVec2> vertex_uv_;
    DVec2 low_{0}, high_{0};
    std::size_t outside_ = 0, folded_ = 0;
    bool rectangular_ = false;
    int columns_ = 0, rows_ = 0;
    std::vector<std::uint32_t> cell_start_, cell_triangle_;
};

/// Border points of a pattern that find no partner on the opposite side, so that copies set side by side would not
/// meet.
struct TileCheck {
    std::size_t pairs = 0;  ///< points that do
    std::vector<Vec3> unmatched;
    double worst = 0;  ///< nearest distance of those that have a neighbour at all (metres)
};
/// Looks at the sides across x (axis 0) or y (axis 1) of the box from `low` to `high`.
TileCheck check_tile(const Mesh& mesh, int axis, double low, double high, double within);

}  // namespace bricol
