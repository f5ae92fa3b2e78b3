// SPDX-License-Identifier: GPL-3.0-or-later
// Evening out a mesh without new faces.
#pragma once

#include <atomic>

#include "core/shape/sets.h"
#include "core/shape/selection.h"

namespace bricol {

struct SmoothOptions {
    int rounds = 5;
    double strength = 0.5;    ///< how far a vertex goes to the mean of its neighbours in one round, 0..1
    bool keep_volume = true;  ///< a round outwards after each round inwards
    bool hold_borders = true;
};

/// Laplacian smoothing of the chosen vertices; keeping the volume by G. Taubin, "A signal
/// processing approach to fair surface design", 1995 (pass band 0.1). NORMAL dropped. O(rounds x edges).
Mesh smoothed(const Mesh& mesh, const SmoothOptions& options, const Selection& vertices = {});

}  // namespace bricol
