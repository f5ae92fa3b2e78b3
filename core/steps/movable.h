// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that move points share when they also move knots and copies: points that stand for them, a setting that
// says which, and putting back what was moved.
#pragma once

#include "core/catalogue/settings.h"
#include "core/kernels/stand_ins.h"
#include "core/steps/element_checks.h"

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
    MovablePoints(StepRun& run, Movable on) : run_(run), on_(on) {
        const Shape& shape = run.shape();
        if (on == Movable::any)
            on_ = !shape.mesh.positions->empty()                     ? Movable::vertices
                  : !shape.curves.empty() || shape.instances.empty() ? Movable::knots
                                                                     : Movable::copies;
        there_ = has_elements(run, on_ == Movable::vertices ? Domain::vertex
                                   : on_ == Movable::knots  ? Domain::knot
                                                            : Domain::instance);
        points_ = on_ == Movable::vertices ? shape.mesh
                  : on_ == Movable::knots  ? points_of_knots(shape.curves)
                                           : points_of_copies(shape.instances);
    }
    bool there() const { return there_; }
    const Mesh& mesh() const { return points_; }
    /// A share for each: 0 outside the set that a setting names, else the value that another names (1 without one).
    Array<float> shares(const std::string& weight, const std::string& only) {
        Array<float> out = run_.weights(points_, Domain::vertex, weight);
        if (only.empty()) return out;
        const Mask mask = run_.chosen(points_, Domain::vertex, only);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = mask[i] ? out[i] : 0.0f;
        return out;
    }
    /// The run's shape with them at other places. NORMAL of a mesh is dropped, everything else carried.
    void give(Array<Vec3> places) {
        Shape shape = run_.shape();
        if (on_ == Movable::knots) {
            move_knots(shape.curves, places);
        } else if (on_ == Movable::copies) {
            move_copies(shape.instances, places);
        } else {
            shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(places));
            for (const Domain domain : {Domain::vertex, Domain::corner})
                shape.mesh.attributes.remove(domain, attribute_name::normal);
        }
        run_.give(std::move(shape));
    }

private:
    StepRun& run_;
    Movable on_;
    bool there_ = false;
    Mesh points_;
};

}  // namespace bricol
