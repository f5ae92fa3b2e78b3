// SPDX-License-Identifier: GPL-3.0-or-later
// A quick no to the question whether two triangles meet.
#pragma once

#include <array>

#include "core/ground/types.h"

namespace bricol {

/// Whether two triangles clearly have nothing in common: a plane of one, or a line along a side of one as seen along an
/// axis, keeps them apart by far more than rounding could make up for. Where corner `shared_a` of one is corner
/// `shared_b` of the other (-1 for none), nothing but that corner. False says nothing.
bool clearly_apart(const std::array<DVec3, 3>& a, const std::array<DVec3, 3>& b, int shared_a = -1, int shared_b = -1);

}  // namespace bricol
