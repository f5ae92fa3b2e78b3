// SPDX-License-Identifier: GPL-3.0-or-later
// Finished pictures: light followed through a scene.
#pragma once

#include <atomic>
#include <functional>
#include <memory>

#include "core/still/still_scene.h"

namespace bricol {

class RayScene;

struct StillOptions {
    int width = 960, height = 600;
    int samples = 64;         ///< paths a pixel
    double seconds = 0;       ///< ends earlier after so long; 0 for no limit
    double wanted_noise = 0;  ///< ends earlier when the noise is below; 0 for no limit
    int bounces = 12;
    std::uint32_t seed = 1;
    /// Told after every pass: share done, noise.
    std::function<void(double, double)> progress;
};

/// Pixels row by row from the upper left. Colours are linear, in the primaries of sRGB.
struct StillPicture {
    int width = 0, height = 0;
    std::vector<Vec3> colour;                  ///< radiance times 2^exposure
    std::vector<Vec3> albedo;                  ///< colour of the first surface
    std::vector<Vec3> normal;                  ///< of the first surface, in the room
    std::vector<float> depth;                  ///< metres along the rays to it, their mean; 0 for none
    std::vector<float> cover;                  ///< share of the pixel that shapes cover
    std::vector<float> error;                  ///< standard error of the colour\'s brightness
    std::vector<std::int32_t> part, material;  ///< numbers of the first surface's; -1 and 0 for none
    int samples = 0;
    double noise = 0;  ///< standard error of the pixels' brightness over the mean brightness
    bool stopped = false;
    bool clear = false;  ///< see-through where nothing covers it
    std::uint64_t rays = 0;
};

/// A picture in the making: one path a pixel at a time, to be looked at in between. The scene stays as it was given.
class StillRun {
public:
    /// `rays` of the same shapes, or null to have them built.
    StillRun(StillScene scene, StillOptions options, std::shared_ptr<const RayScene> rays = nullptr);
    ~StillRun();
    StillRun(const StillRun&) = delete;
    StillRun& operator=(const StillRun&) = delete;

    /// One path more for every pixel. Throws Stopped; what was summed up by then stays.
    void pass();
    int samples() const;  ///< passes that were finished
    double noise() const;
    StillPicture picture() const;
    const std::shared_ptr<const RayScene>& rays() const;

private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

/// What a picture of that many pixels takes while it is made, beside the shapes' own `triangles` (bytes).
double still_memory(double pixels, double triangles);

/// Follows light paths (J. Kajiya, 1986) with lamps sampled beside surfaces and both weighed by E. Veach's power
/// heuristic (1997). The same scene, size, samples and seed give the same picture for any number of threads. A stop
/// keeps what is there. Uses about 100 bytes a pixel and 150 a triangle.
StillPicture still_of(const StillScene& scene, const StillOptions& options,
                      std::shared_ptr<const RayScene> rays = nullptr);

/// Less noise in a picture of few samples: an à-trous filter that stays within surfaces of like normal, colour and
/// depth (H. Dammertz and others, "Edge-avoiding à-trous wavelet transform", 2010), on the light without albedo. What
/// differs by no more than its error is taken for alike (C. Schied and others, 2017).
void filter_noise(StillPicture& picture);

/// How light becomes screen values from 0 to 1, sRGB-encoded. Plain cuts at 1; filmic bends shoulders and toe
/// (K. Narkowicz' fit, 2015).
enum class StillCurve : std::uint8_t { plain, filmic };
Vec3 screen_colour(const Vec3& light, StillCurve curve);

}  // namespace bricol
