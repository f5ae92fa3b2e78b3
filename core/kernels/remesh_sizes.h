// SPDX-License-Identifier: GPL-3.0-or-later
// How large faces shall be, place by place.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

namespace bricol {

class EvenTriangles;
class SurfaceFinder;

struct RemeshSizes {
    enum class By : std::uint8_t { even, curvature, given };
    By by = By::even;
    double range = 2;              ///< curvature: how many times smaller faces get where the surface is bent most
    std::span<const float> given;  ///< given: relative size at every vertex of the old mesh, above 0
};

/// A length for every point: in relation as wanted, changing slowly, and as many faces in all as with `even` everywhere
/// (metres). `surface` is that of the old mesh. Bent most counts from half a face's length of turn a face.
std::vector<double> remesh_sizes(EvenTriangles& triangles, const RemeshSizes& sizes, double even,
                                 const SurfaceFinder& surface);

}  // namespace bricol
