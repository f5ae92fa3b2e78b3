// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/ray_tree.h"

#include <atomic>
#include <embree3/rtcore.h>

#include "core/ground/stop.h"

namespace bricol {

void build_tree(RTCSceneTy* scene) {
    // Threads that help are asked too, and only they may know of the stop.
    std::atomic<bool> given_up = false;
    rtcSetSceneProgressMonitorFunction(
        scene,
        [](void* stopped, double) {
            if (stop_asked()) *static_cast<std::atomic<bool>*>(stopped) = true;
            return !*static_cast<std::atomic<bool>*>(stopped);
        },
        &given_up);
    rtcCommitScene(scene);
    rtcSetSceneProgressMonitorFunction(scene, nullptr, nullptr);
    if (given_up) throw Stopped{};
}

}  // namespace bricol
