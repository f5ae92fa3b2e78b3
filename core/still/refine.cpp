// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/refine.h"

#include "core/ground/stop_arena.h"
#include "core/still/ray_scene.h"

namespace bricol {

StillRefiner::StillRefiner() : arena_(std::make_unique<StopArena>()) {}
StillRefiner::~StillRefiner() = default;

bool StillRefiner::run(StillScene scene, const StillOptions& options, const std::atomic<bool>* stop,
                       const std::function<void(const StillRun&)>& looked) {
    try {
        arena_->run(stop, [&] {
            built_ = 0;
            if (!rays_ || shapes_ != scene.shapes || plain_colour_ != scene.plain_colour) {
                auto rays =
                    std::make_shared<const RayScene>(scene.shapes, scene.plain_colour, RayTrees::of_each, rays_.get());
                built_ = rays->built();
                rays_ = std::move(rays);
                shapes_ = scene.shapes, plain_colour_ = scene.plain_colour;
            }
            StillRun run(std::move(scene), options, rays_);
            while (run.samples() < options.samples) {
                run.pass();
                const int n = run.samples();
                const bool quiet = options.wanted_noise > 0 && n >= 8 && run.noise() <= options.wanted_noise;
                if ((n & (n - 1)) == 0 || n % 16 == 0 || n == options.samples || quiet) looked(run);
                if (quiet) break;
            }
        });
    } catch (const Stopped&) {
        return false;
    }
    return true;
}

bool stopped_by(const std::atomic<bool>* stop, const std::function<void()>& work) {
    try {
        StopArena().run(stop, work);
    } catch (const Stopped&) {
        return false;
    }
    return true;
}

}  // namespace bricol
