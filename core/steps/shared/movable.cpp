// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/movable.h"

namespace bricol {

MovablePoints::MovablePoints(StepRun& run, Movable on) : run_(run), on_(on) {
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

Array<float> MovablePoints::shares(const std::string& weight, const std::string& only) {
    Array<float> out = run_.weights(points_, Domain::vertex, weight);
    if (only.empty()) return out;
    const Mask mask = run_.chosen(points_, Domain::vertex, only,
                                  on_ == Movable::knots    ? Domain::knot
                                  : on_ == Movable::copies ? Domain::instance
                                                           : Domain::vertex);
    for (std::size_t i = 0; i < out.size(); ++i) out[i] = mask[i] ? out[i] : 0.0f;
    return out;
}

void MovablePoints::give(Array<Vec3> places) {
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

}  // namespace bricol
