// SPDX-License-Identifier: GPL-3.0-or-later
// A cross of directions at every vertex of a surface, and a square lattice along them.
#pragma once

#include <span>
#include <vector>

#include "core/kernels/even_triangles.h"

namespace bricol {

/// An edge and how it leaves its two ends, in the flat maps round these. A flat map is the fan of triangles opened out
/// until its angles make a full turn; on a held line, half a turn on either side of it, and the line leaves at angle 0.
struct QuadEdge {
    Index a, b;
    double at_a, at_b;  ///< angle in the map of a towards b, and in that of b towards a (radians)
    double length;      ///< metres
};
struct QuadMaps {
    std::vector<QuadEdge> edges;
    std::vector<Index> edge_of;  ///< of every half-edge; no_index for those that are gone
    std::vector<DVec3> x, y;     ///< of every vertex: the map's axes in the room; y is the normal turned with x
};
QuadMaps quad_maps(EvenTriangles& triangles);

/// How a surface is curved at its vertices, by the turns of the edges near them (D. Cohen-Steiner and J.-M. Morvan,
/// "Restricted Delaunay triangulations and normal cycle", 2003).
struct QuadCurving {
    std::vector<DVec2> fourfold;  ///< the direction of least bending times four as a unit vector, times how clear it is
                                  ///< (1/m; the difference of both curvatures)
    std::vector<double> most;     ///< the larger curvature (1/m)
};
QuadCurving quad_curving(EvenTriangles& triangles, const QuadMaps& maps);

/// Directions of the crosses: the angle of one arm in every vertex's map. They follow held lines exactly, curvature
/// where it is clear against `cell`, and else change as little as can be. The field is spread from coarse copies of the
/// surface to fine ones (W. Jakob and others, "Instant field-aligned meshes", 2015), in the maps of F. Knöppel and
/// others, "Globally optimal direction fields", 2013.
std::vector<double> quad_directions(const EvenTriangles& triangles, const QuadMaps& maps, const QuadCurving& curving,
                                    double cell);

/// Quarter turns a cross makes round a triangle, added up: the field's singularities, fourfold. 0 in triangles at a
/// corner of held lines, where no cross is.
int quad_index(const EvenTriangles& triangles, const QuadMaps& maps, const std::vector<double>& turn, Index triangle);

/// A vector of two, whole or real, turned by quarter turns to the left.
template <class Vector>
Vector quarter_turned(const Vector& v, int quarters) {
    switch (quarters & 3) {
        case 1:
            return {-v.y, v.x};
        case 2:
            return {-v.x, -v.y};
        case 3:
            return {v.y, -v.x};
        default:
            return v;
    }
}

/// A step along an edge in whole cells of the lattice: the place behind it is `cells` away along the axes of its start,
/// and its own axes are turned by `quarters`.
struct QuadStep {
    glm::ivec2 cells{0};
    int quarters = 0;
    QuadStep inverse() const;
};
struct QuadLattice {
    std::vector<DVec2> place;    ///< of every vertex: how far it lies from its lattice point, in cells along its cross
    std::vector<QuadStep> step;  ///< of every half-edge
};
/// `cell` is the wanted side of a face at every vertex (metres). Held lines lie on lines of the lattice, their corners
/// on its points.
QuadLattice quad_lattice(const EvenTriangles& triangles, const QuadMaps& maps, const std::vector<double>& turn,
                         const std::vector<double>& cell);

}  // namespace bricol
