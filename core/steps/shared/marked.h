// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that mark elements, or give them values, share: the same work on a mesh, on knots and on copies.
#pragma once

#include "core/steps/shared/element_checks.h"

namespace bricol {

/// The mesh on whose elements values are put: the shape's own, or points that stand for its knots or copies.
class MarkedElements {
public:
    /// `shape` is written by `keep` and must stay. Tells when there are no such elements but others.
    MarkedElements(StepRun& run, Shape& shape, Domain on);
    bool there() const { return there_; }
    /// Knots and copies, which points stand for.
    bool stand_ins() const { return on_ == Domain::knot || on_ == Domain::instance; }
    Mesh& mesh() { return stand_ins() ? points_ : shape_.mesh; }
    /// The domain on that mesh.
    Domain domain() const { return stand_ins() ? Domain::vertex : on_; }
    /// Puts what the mesh has under a name on the knots or copies.
    void keep(std::string_view name);

private:
    Shape& shape_;
    Domain on_;
    bool there_ = true;
    Mesh points_;
};

}  // namespace bricol
