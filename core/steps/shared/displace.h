// SPDX-License-Identifier: GPL-3.0-or-later
// What steps that move points by an amount share: the chosen points, their ways, and giving the moved shape.
#pragma once

#include "core/kernels/normals.h"
#include "core/catalogue/settings.h"

namespace bricol {

/// Gives the run's shape with other positions; NORMAL is dropped, everything else carried.
void give_moved(StepRun& run, Array<Vec3> points);

/// A share per vertex: 0 outside the set that a setting names, else the attribute that another names (1 without one).
Array<float> shares(StepRun& run, const std::string& weight, const std::string& only);

}  // namespace bricol
