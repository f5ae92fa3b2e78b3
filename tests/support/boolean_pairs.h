// SPDX-License-Identifier: GPL-3.0-or-later
// Pairs of solids of every kind that booleans meet, from a seed.
#pragma once

#include <random>
#include <string_view>
#include <vector>

#include "core/shape/mesh.h"

namespace bricol::test {

using Chance = std::mt19937;

struct SolidPair {
    Mesh a, b;
};

struct PairFamily {
    std::string_view name;
    SolidPair (*pair)(Chance& chance);
};

/// General ones, shared planes, edges, points and faces, alike, turned by next to nothing, nested, tangent, lattices of
/// loose boxes, fans of slivers.
const std::vector<PairFamily>& pair_families();

/// A star-shaped lump of flat and steep places, of radius 0.6 to 1.
Mesh lump(Chance& chance);

}  // namespace bricol::test
