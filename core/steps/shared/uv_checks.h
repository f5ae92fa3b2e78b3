// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of UVs that a step made.
#pragma once

#include <fmt/format.h>

#include "core/kernels/uv_check.h"
#include "core/catalogue/settings.h"

namespace bricol {

template <class T>
Setting<T> stretch_limit_of(double T::*f) {
    return number_of(f, "stretch", "Stretch over", 0, 100,
                     "Factor by which a face may be longer or shorter on the picture than the whole; 0 for any.");
}

/// `unit`: the UVs are meant to lie in 0..1. `limit`: the factor of stretch above which it is told.
void tell_uvs(StepRun& run, const Mesh& mesh, bool unit, double limit);

}  // namespace bricol
