// SPDX-License-Identifier: GPL-3.0-or-later
// Embree's trees, built so that a stop ends it.
#pragma once

struct RTCSceneTy;

namespace bricol {

/// rtcCommitScene. Throws Stopped where a stop is asked for on a thread that builds, and std::bad_alloc for want of
/// memory; the scene is then good for nothing but to be released.
void build_tree(RTCSceneTy* scene);

}  // namespace bricol
