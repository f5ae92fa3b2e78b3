// SPDX-License-Identifier: GPL-3.0-or-later
// What the plain solids share: whether the origin is at their centre or at their base.
#pragma once

#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

enum class SolidOrigin { base, centre };

template <class T>
Setting<T> origin_choice(SolidOrigin T::*f) {
    return choice_of(f, "origin", "Origin",
                     {{SolidOrigin::base, "base", "at the base"}, {SolidOrigin::centre, "centre", "at the centre"}},
                     "Whether the solid stands on the ground or is centred on the origin.");
}

/// Gives a mesh that is centred on the origin, lifted by half its height when its origin is its base.
void give_seated(StepRun& run, SolidOrigin origin, Mesh mesh, double height);

}  // namespace bricol
