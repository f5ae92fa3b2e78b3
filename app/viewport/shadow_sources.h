// SPDX-License-Identifier: GPL-3.0-or-later
// Where the light on the ground comes from, for the shadow the view lays there.
#pragma once

#include <span>
#include <vector>

#include "core/shape/stage.h"

namespace bricol {

/// A place from which a share of the light comes.
struct ShadowSource {
    DVec3 at{0};        ///< metres; of something far away the unit way to it
    bool far = false;   ///< a sun
    double weight = 0;  ///< of all the light that falls on the ground
};

struct ShadowSources {
    std::vector<ShadowSource> places;
    double all_around = 1;  ///< share of the light that comes from the sky, or the whole where there are no lamps
};

/// About `count` places, spread over the lamps' surfaces, more of them on the stronger lamps. Each lamp's weight is
/// its irradiance at `foot`, a place on the ground, as if nothing stood in between (Lambert's cosines and the inverse
/// square; wide lamps as if seen from far). Lamps that do not reach the ground, or give less than a fiftieth of the
/// light, are left out.
ShadowSources shadow_sources(std::span<const StageLamp> lamps, const StageSky& sky, const DVec3& foot, int count);

/// Where the ray from a source through `p` meets the ground, z = 0.
DVec3 thrown(const ShadowSource& source, const DVec3& p);

}  // namespace bricol
