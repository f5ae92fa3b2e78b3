// SPDX-License-Identifier: GPL-3.0-or-later
// Lamps and sky as paths of light see them.
#pragma once

#include <optional>

#include "core/still/numbers.h"
#include "core/still/sky_map.h"
#include "core/still/still_scene.h"

namespace bricol {

/// A way to a lamp from some place.
struct WayToLamp {
    Vec3 way{0};            ///< unit
    float distance = 0;     ///< metres; very large for sun and sky
    Vec3 light{0};          ///< radiance; of lamps without size the irradiance on a surface square to the way
    float density = 0;      ///< per steradian; 0 for lamps without size, that no path can hit
    bool of_shape = false;  ///< of a shape that glows
};

/// What a ray meets of lamps before anything solid.
struct LampHit {
    Vec3 light{0};
    float density = 0;  ///< with which sampled() would have given this way
};

/// A triangle that gives out light, to both sides.
struct ShiningTriangle {
    Vec3 at{0}, a{0}, b{0};  ///< a corner and the two sides from it (metres)
    Vec3 light{0};           ///< radiance
};

class Lamps {
public:
    /// `shining`: triangles of materials that glow.
    Lamps(const std::vector<StageLamp>& lights, const StageSky& sky, std::vector<ShiningTriangle> shining = {});

    bool empty() const { return lamps_.empty() && !sky_shines_ && shining_.empty(); }
    /// One way to one lamp (or the sky), each as likely as another; density and light already count that.
    std::optional<WayToLamp> sampled(const Vec3& from, PathNumbers& numbers) const;
    /// Lamps with a size on the ray, nearer than `reach`; one entry each is handed to `met`.
    template <class Met>
    void on_ray(const Vec3& from, const Vec3& way, float reach, const Met& met) const {
        for (const Lamp& lamp : lamps_) {
            if (lamp.kind == StageLamp::Kind::point || lamp.kind == StageLamp::Kind::spot) continue;
            // Most rays look away from a lamp's front or start behind it; a sun's disc may be as wide as the sky.
            if (lamp.kind != StageLamp::Kind::sun &&
                (glm::dot(way, lamp.forward) >= 0 || glm::dot(from - lamp.at, lamp.forward) <= 0))
                continue;
            if (const auto hit = hit_by(lamp, from, way, reach)) met(*hit);
        }
    }
    /// The density with which sampled() would have given a place on a glowing surface, seen under this cosine.
    float shining_density(const Vec3& light, float distance, float cosine) const;
    /// The sky's radiance, and the density with which sampled() would have given the way.
    LampHit sky(const Vec3& way) const;

private:
    struct Lamp {
        StageLamp::Kind kind;
        Vec3 at, forward, right, up;
        float half_width, half_height, radius;
        float cosine;        // of the sun's or the spot's half angle
        float inner_cosine;  // where a spot begins to fade
        Vec3 light;          // radiance, intensity or irradiance
        float area;
    };
    static Lamp lamp_of(const StageLamp& light);
    static float fading(const Lamp& lamp, float cosine);
    std::optional<LampHit> hit_by(const Lamp& lamp, const Vec3& from, const Vec3& way, float reach) const;
    WayToLamp way_to(const Lamp& lamp, const Vec3& from, const Vec2& two) const;
    float choices() const {
        return static_cast<float>(lamps_.size() + (sky_shines_ ? 1 : 0) + (shining_.empty() ? 0 : 1));
    }
    Vec3 sky_light(const Vec3& way) const;
    WayToLamp way_to_sky(const Vec2& two) const;
    WayToLamp way_to_shining(const Vec3& from, float which, const Vec2& two) const;

    std::vector<Lamp> lamps_;
    StageSky sky_;
    std::optional<SkyMap> map_;
    bool sky_shines_;
    std::vector<ShiningTriangle> shining_;
    std::vector<float> up_to_;  // brightness times area of the triangles up to each
};

}  // namespace bricol
