// SPDX-License-Identifier: GPL-3.0-or-later
// From a lattice on even triangles to one vertex a lattice point, and from pairs of triangles to quads.
#pragma once

#include "core/kernels/quad_field.h"

namespace bricol {

/// A polyline of held edges between two corners, or round in a ring, for vertices to slide along.
struct QuadLine {
    std::vector<DVec3> point;  ///< metres; a ring ends with its first point
    std::vector<double> past;  ///< length up to every point
    bool ring = false;
    DVec3 at(double along) const;
};
/// Which line a vertex is on, and how far along it.
struct QuadPlace {
    Index line = no_index;
    double along = 0;
};
struct QuadLines {
    std::vector<QuadLine> lines;
    std::vector<QuadPlace> place;  ///< of every vertex; on no line for free ones and corners
};
QuadLines quad_lines(EvenTriangles& triangles);

/// Joins all vertices that lie by one lattice point, as far as the surface stays what it is and held lines stay, and
/// moves what is left to its lattice points. The steps of half-edges go along, and places on lines follow.
void join_by_lattice(EvenTriangles& triangles, const QuadMaps& maps, const std::vector<double>& turn,
                     const std::vector<double>& cell, QuadLattice& lattice, QuadLines& lines);

/// For every triangle the one it makes a quad with, or no_index. Pairs are taken best first; those left over are led
/// to one another by exchanging pairs and turning edges on the way, best first again.
std::vector<Index> quad_pairs(EvenTriangles& triangles, const std::vector<QuadStep>& step);

/// The least of the scaled Jacobians at the four corners, -1 to 1; 1 is a rectangle (P. Knupp, "Algebraic mesh quality
/// metrics", 2001). Corners in order; measured against the quad's mean normal.
double scaled_jacobian(const DVec3& a, const DVec3& b, const DVec3& c, const DVec3& d);

}  // namespace bricol
