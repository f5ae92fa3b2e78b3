// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/marked.h"

#include "core/shape/knot_values.h"

namespace bricol {

MarkedElements::MarkedElements(StepRun& run, Shape& shape, Domain on) : shape_(shape), on_(on) {
    if (!stand_ins()) {
        // Where there are curves alone, knots were most likely meant.
        if (shape.mesh.empty() && shape.instances.empty() && !shape.curves.empty()) there_ = has_elements(run, on);
        return;
    }
    there_ = has_elements(run, on);
    points_ = on == Domain::knot ? points_of_knots(shape.curves) : points_of_copies(shape.instances);
}

void MarkedElements::keep(std::string_view name) {
    const Attribute* found = stand_ins() ? points_.attributes.find(Domain::vertex, name) : nullptr;
    if (!found) return;
    if (on_ == Domain::knot)
        give_knots(shape_.curves, name, *found->values);
    else
        give_copies(shape_.instances, points_, name);
}

}  // namespace bricol
