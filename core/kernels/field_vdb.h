// SPDX-License-Identifier: GPL-3.0-or-later
// The few operations on fields that fuse needs, so that OpenVDB's headers stay behind one file.
#pragma once

#include <array>
#include <memory>
#include <vector>

#include "core/kernels/fuse.h"

#pragma GCC visibility push(hidden)  // its file is compiled with names that show, see CMakeLists.txt
namespace bricol {

/// A distance field in a band round a surface, in cells of one size that all fields of that size share. Not changed
/// once it is made.
class DistanceField {
public:
    struct Grid;
    DistanceField() = default;
    explicit DistanceField(std::shared_ptr<const Grid> grid) : grid_(std::move(grid)) {}
    explicit operator bool() const { return grid_ != nullptr; }
    const Grid& grid() const { return *grid_; }
    /// Whether nobody else holds it, so that it may be used up.
    bool alone() const { return grid_.use_count() == 1; }
    std::size_t bytes() const;

private:
    std::shared_ptr<const Grid> grid_;
};

/// Round closed triangles (metres); `band` in cells on either side. Throws Stopped.
DistanceField field_round(const std::vector<Vec3>& points, const std::vector<std::array<Index, 3>>& triangles,
                          double cell, int band);
/// Both, the first without the second, what both share. A first one that is handed over whole is used up, not copied.
DistanceField combined(DistanceField first, const DistanceField& second, FuseKind kind);
DistanceField smoothed(DistanceField field, FuseSmoothing smoothing, int rounds);

struct FieldMesh {
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
};
/// The surface at a distance (metres), as quads (and triangles where four points would be three).
FieldMesh surface_of(const DistanceField& field, double distance);

}  // namespace bricol
#pragma GCC visibility pop
