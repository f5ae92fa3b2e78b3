// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/solid.h"

namespace bricol {

void give_seated(StepRun& run, SolidOrigin origin, Mesh mesh, double height) {
    Shape shape;
    shape.mesh = std::move(mesh);
    if (origin == SolidOrigin::base)
        shape = transformed(shape, placement({0, 0, height / 2}, DVec3(0), DVec3(1), DVec3(0)));
    run.give(std::move(shape));
}

}  // namespace bricol
