// SPDX-License-Identifier: GPL-3.0-or-later
// A shape as its elements, one by one: loose pieces, faces, curves, points or copies, each as a shape of its own that
// stands at the origin.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/shape/selection.h"
#include "core/shape/shape.h"

namespace bricol {

enum class ApartBy : std::uint8_t { piece, face, curve, point, copy };

struct ApartElement {
    ShapePtr shape;       ///< as it stands at the origin
    glm::dmat4 place{1};  ///< from there to where it stood
    std::size_t number;   ///< among all of its kind, from 0
    /// Its own numbers: `at.x`, `at.y`, `at.z` (metres), of curves also `end.x` …, where their last knots are, and its
    /// attributes (of pieces the mean over their points or faces, of curves over their knots), components of vectors
    /// with `.x` and so on.
    std::map<std::string, double> names;
};

struct ApartOptions {
    ApartBy by = ApartBy::piece;
    Selection only;         ///< faces of pieces (any one of them) and faces, points, curves, copies; all others stay
    std::size_t every = 1;  ///< takes every n-th of those, …
    std::size_t first = 0;  ///< … from this one on
    bool at_origin = true;  ///< else elements are left where they stand
};

struct TakenApart {
    std::vector<ApartElement> elements;
    std::size_t of = 0;  ///< how many there are of the kind
    Attributes copies;   ///< of copies: their attributes (Domain::instance), in the elements' order
    Shape rest;          ///< what was not taken; points that hold edges or faces stay, taken or not
};

/// The frames of elements at the origin: a piece stands on the middle of its box's foot, turned as it was; a face lies
/// flat with its normal up and its first edge along x; a curve begins there, turned as it was; a point looks up along
/// its `facing`, or its normal where it has faces; knots of curves count as points behind the mesh's, turned as the
/// world is; of a copy it is the shape that is copied. O(elements).
TakenApart taken_apart(const Shape& shape, const ApartOptions& options);

/// Which elements are alike: for each the number of the first that has the same faces, attributes and, to a millionth
/// of its size and the rounding of where it stood, points and knots.
std::vector<std::size_t> alike(const std::vector<ApartElement>& elements);

}  // namespace bricol
