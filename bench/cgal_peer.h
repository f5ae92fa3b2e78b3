// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>

#include "core/shape/mesh.h"

/// CGAL's corefinement as its manual calls it, on meshes built beforehand: difference of two triangle meshes.
class CgalDifference {
public:
    CgalDifference(const bricol::Mesh& a, const bricol::Mesh& b);
    ~CgalDifference();
    void prepare();     ///< fresh copies of the operands, outside the measured time
    std::size_t run();  ///< faces of the result; 0 when it refused

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

/// CGAL's isotropic remeshing alone, on a mesh built in the measured time as ours is; gives the number of faces.
std::size_t cgal_remesh(const std::vector<bricol::DVec3>& points,
                        const std::vector<std::array<bricol::Index, 3>>& triangles, double edge, int rounds);
