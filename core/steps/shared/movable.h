// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that move points share when they also move knots and copies: points that stand for them, a setting that
// says which, and putting back what was moved.
#pragma once

#include "core/catalogue/settings.h"
#include "core/kernels/stand_ins.h"
#include "core/steps/shared/element_checks.h"

namespace bricol {

enum class Movable { any, vertices, knots, copies };

template <class T>
Setting<T> movable_of(Movable T::*f) {
    return choice_of(f, "on", "On",
                     {{Movable::any, "any", "what there is"},
                      {Movable::vertices, "vertices", "vertices"},
                      {Movable::knots, "knots", "knots of curves"},
                      {Movable::copies, "instances", "copies"}},
                     "What is moved; what there is means vertices, or else knots, or else copies.");
}

/// Points that stand for what is moved.
class MovablePoints {
public:
    /// Tells when there is nothing of that kind, and what else passes through unchanged.
    MovablePoints(StepRun& run, Movable on);
    bool there() const { return there_; }
    const Mesh& mesh() const { return points_; }
    /// A share for each: 0 outside the set that a setting names, else the value that another names (1 without one).
    Array<float> shares(const std::string& weight, const std::string& only);
    /// The run's shape with them at other places. NORMAL of a mesh is dropped, everything else carried.
    void give(Array<Vec3> places);

private:
    StepRun& run_;
    Movable on_;
    bool there_ = false;
    Mesh points_;
};

}  // namespace bricol
