// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures that get better while one looks at them, one after another of scenes that hardly differ.
#pragma once

#include "core/still/still.h"

namespace bricol {

class StopArena;

/// Keeps what it built of the shapes from one picture to the next: another light or camera costs nothing, a moved part
/// its own tree. Used from one thread at a time.
class StillRefiner {
public:
    StillRefiner();
    ~StillRefiner();

    /// Follows paths until all samples are there or the flag is raised; `looked` is called after the passes 1, 2, 4, 8,
    /// 16 and every sixteenth from there, and after the last. False when it was stopped.
    bool run(StillScene scene, const StillOptions& options, const std::atomic<bool>* stop,
             const std::function<void(const StillRun&)>& looked);
    /// Meshes that were built for the last picture.
    std::size_t built() const { return built_; }

private:
    std::unique_ptr<StopArena> arena_;
    std::shared_ptr<const RayScene> rays_;
    std::vector<ShapePtr> shapes_;
    DVec3 plain_colour_{0};
    std::size_t built_ = 0;
};

/// Work that a raised flag ends on every thread that helps. Gives false when it did.
bool stopped_by(const std::atomic<bool>* stop, const std::function<void()>& work);

}  // namespace bricol
