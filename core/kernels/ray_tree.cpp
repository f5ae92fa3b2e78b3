// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/ray_tree.h"

#include <atomic>
#include <embree3/rtcore.h>
#include <new>
#include <stdexcept>
#include <string>

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
    // Without a tree every ray would miss, and the shape would be gone without a word.
    if (error == RTC_ERROR_OUT_OF_MEMORY) throw std::bad_alloc();
    if (error != RTC_ERROR_NONE)
        throw std::runtime_error("Embree could not build its tree, error " + std::to_string(error));
}

}  // namespace bricol
