// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers on vertices blurred over their neighbours.
#pragma once

#include <atomic>

#include "core/shape/mesh.h"

namespace bricol {

/// Every round takes each value by `strength` (0..1) towards the mean of its neighbours along edges: explicit steps of
/// the heat equation on the graph. On a ring of vertices the spread after k rounds has the variance k * strength (edges
/// squared).
Array<float> feathered(const Mesh& mesh, Array<float> values, int rounds, double strength);

}  // namespace bricol
