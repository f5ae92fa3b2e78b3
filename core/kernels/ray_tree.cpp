// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/ray_tree.h"

#include <atomic>
#include <embree3/rtcore.h>
#include <new>

#include "core/ground/stop.h"

namespace bricol {

void build_tree(RTCSceneTy* scene) {
    const RTCDevice device = rtcGetSceneDevice(scene);
    rtcGetDeviceError(device);  // what went wrong before is not of this tree
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
    const RTCError error = rtcGetDeviceError(device);
    rtcReleaseDevice(device);
    if (given_up) throw Stopped{};
    // Without a tree every ray would miss, and the shape would be gone without a word. Embree was handed a sound scene:
    // what it does not call want of memory is want of it in one of its helpers.
    if (error != RTC_ERROR_NONE) throw std::bad_alloc();
}

}  // namespace bricol
