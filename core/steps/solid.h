// SPDX-License-Identifier: GPL-3.0-or-later
// What the plain solids share: whether the origin is at their centre or at their base.
#pragma once

#include "core/kernels/transform.h"
#include "core/catalogue/step.h"

namespace bricol {

inline ParameterInfo origin_choice() {
    return choice_of("origin", "Origin", {{"base", "at the base"}, {"centre", "at the centre"}},
                     "Whether the solid stands on the ground or is centred on the origin.");
}

/// Gives a mesh that is centred on the origin, lifted by half its height when its origin is its base.
inline void give_seated(StepRun& run, Mesh mesh, double height) {
    Shape shape;
    shape.mesh = std::move(mesh);
    if (run.word("origin") == "base")
        shape = transformed(shape, placement({0, 0, height / 2}, DVec3(0), DVec3(1), DVec3(0)));
    run.give(std::move(shape));
}

}  // namespace bricol
