// SPDX-License-Identifier: GPL-3.0-or-later
// A shape's copies and loose pieces as bodies that come to rest.
#pragma once

#include "core/kernels/pieces.h"
#include "core/kernels/settle.h"
#include "core/shape/shape.h"

namespace bricol {

/// The bodies of a shape, and where each is from.
struct SettleBodies {
    /// A copy, or a loose piece of the mesh.
    struct From {
        std::size_t group = 0, copy = 0;  ///< of the instances; for pieces `copy` is the piece's number
        bool piece = false;
    };
    std::vector<SettleBody> list;
    std::vector<From> from;
    std::vector<MeshPiece> pieces;
    std::size_t flat = 0;  ///< without a volume: they stay where they are
};

/// Every copy and every loose piece by its hull, or, with `parts`, by at most so many convex pieces. Hulls of more than
/// 64 corners keep those that stand out farthest, until what is left out lies within 0.4 % of their size.
SettleBodies settle_bodies(const Shape& shape, std::size_t parts);

/// What bodies lie on: every face; of copies, where `hulls` says so, their hulls, which are felt much quicker.
SettleStill settle_still(Shape shape, bool hulls);

/// The shape with its bodies where they lie; those that fell are left out.
Shape put_down(const Shape& shape, const SettleBodies& bodies, const Settled& done);

}  // namespace bricol
