// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/still.h"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"
#include "core/still/lamps.h"
#include "core/still/ray_scene.h"
#include "core/still/surface.h"

namespace bricol {

namespace light_paths {  // a named one: what a run holds must have a linkage

constexpr int tile = 16;                 // pixels
constexpr int passes_between_looks = 8;  // samples a pixel from one look at noise and time to the next
constexpr int sure_bounces = 3;          // before Russian roulette

/// The flat frame round a normal (T. Duff and others, "Building an orthonormal basis, revisited", 2017).
struct Frame {
    Vec3 x, y, z;
    explicit Frame(const Vec3& n) : z(n) {
        const float sign = std::copysign(1.0f, n.z), a = -1 / (sign + n.z), b = n.x * n.y * a;
        x = {1 + sign * n.x * n.x * a, sign * b, -sign * n.x};
        y = {b, sign + n.y * n.y * a, -n.y};
    }
    Vec3 in(const Vec3& v) const { return {glm::dot(v, x), glm::dot(v, y), glm::dot(v, z)}; }
    Vec3 out(const Vec3& v) const { return x * v.x + y * v.y + z * v.z; }
};

/// Off the surface, to the side the ray goes on to: farther where numbers are coarser.
Vec3 started(const RayHit& hit, const Vec3& way) {
    const float size = std::max({1.0f, std::abs(hit.at.x), std::abs(hit.at.y), std::abs(hit.at.z)});
    return hit.at + hit.flat * (glm::dot(hit.flat, way) > 0 ? 1.0f : -1.0f) * 2e-5f * size;
}

float power_share(float own, float other) {
    const float a = own * own, b = other * other;
    return a + b > 0 ? a / (a + b) : 0;
}

/// The plain that stands for the ground, met from the eye: what light falls on it with the shapes there, and what would
/// without them. The ground's own colour times their ratio is what is seen.
struct Caught {
    Vec3 ground{0};  ///< its colour; black when the plain was not met
    Vec3 before{0};  ///< light that was gathered on the way
    Vec3 with{0}, without{0};
    explicit operator bool() const { return ground != Vec3(0); }
};

struct FirstSurface {
    Vec3 albedo{0}, normal{0};
    float depth = 0, cover = 0;
    std::int32_t part = -1, material = 0;
};

class LightPaths {
public:
    LightPaths(const StillScene& scene, const StillOptions& options, const RayScene& rays)
        : scene_(scene),
          options_(options),
          rays_(rays),
          lamps_(scene.lights, scene.sky, rays.shining()),
          camera_(scene.camera, static_cast<double>(options.width) / options.height) {}

    Vec3 light_at(int x, int y, std::uint32_t sample, FirstSurface& first, Caught& caught, std::uint64_t& count) const {
        PathNumbers numbers(static_cast<std::uint32_t>(y * options_.width + x), sample, options_.seed);
        const Vec2 in_pixel = numbers.two();
        const DVec2 side((x + static_cast<double>(in_pixel.x)) / options_.width,
                         (y + static_cast<double>(in_pixel.y)) / options_.height);
        DVec2 on_lens(0);
        if (camera_.blurs()) {
            const Vec2 lens = numbers.two();
            const float r = std::sqrt(lens.x), phi = 6.2831853f * lens.y;
            on_lens = {r * std::cos(phi), r * std::sin(phi)};
        }
        const StillRay ray = camera_.through(side, on_lens);
        const Vec3 behind(glm::mix(scene_.ground.high, scene_.ground.low, side.y));
        const Vec3 light = followed(Vec3(ray.from), Vec3(ray.way), behind, numbers, first, caught, count);
        if (!caught) return light;
        caught.with = light - caught.before;
        return caught.before;
    }

private:
    /// A path from the eye: what light it meets, the lamps by two ways weighed against each other.
    Vec3 followed(Vec3 from, Vec3 way, const Vec3& behind, PathNumbers& numbers, FirstSurface& first, Caught& caught,
                  std::uint64_t& count) const {
        Vec3 light(0), carried(1);
        float density = 0;     // of the last throw; 0 after single ways
        bool straight = true;  // the eye still looks through clear things
        for (int bounce = 0; bounce <= options_.bounces; ++bounce) {
            const RayHit hit = rays_.along(from, way);
            ++count;
            if (!straight)
                lamps_.on_ray(from, way, hit ? hit.distance : 1e30f, [&](const LampHit& lamp) {
                    light += carried * lamp.light * (density > 0 ? power_share(density, lamp.density) : 1.0f);
                });
            if (!hit) {
                if (straight && !scene_.sky.seen) return light + carried * behind;
                if (straight) return light + carried * lamps_.sky(way).light;
                const LampHit sky = lamps_.sky(way);
                return light + carried * sky.light * (density > 0 ? power_share(density, sky.density) : 1.0f);
            }
            const Material& material = *hit.material;
            if (material.alpha < 1 && numbers.one() >= material.alpha) {
                from = started(hit, way);
                continue;
            }
            if (hit.inside && material.tint_depth > 0)
                carried *= glm::pow(material.tint, Vec3(hit.distance / material.tint_depth));
            if (material.emission != Vec3(0) && (!hit.inside || hit.thin))
                light += carried * material.emission * weight_of_glow(hit, way, density);
            const Frame frame(hit.normal);
            const Vec3 out = frame.in(-way);
            const bool catches = straight && hit.part == scene_.catcher && !caught;
            if (catches) caught = {carried * behind, light, Vec3(0), Vec3(0)};
            if (first.cover == 0 && !catches) note(first, hit, material, bounce);
            const Surface surface(material, hit.colour, out, hit.inside, hit.thin);
            if (!surface.single()) light += carried * from_lamps(hit, surface, frame, numbers, count);
            const ThrownLight next = surface.thrown(numbers);
            if (catches) caught.without = open_light(hit, surface, frame, next, numbers) * carried;
            if (next.weight == Vec3(0)) return light;
            const Vec3 before = way;
            way = frame.out(next.way);
            // A smooth normal may throw to the wrong side of the triangle.
            if ((glm::dot(way, hit.flat) > 0) == next.through) return light;
            straight = straight && next.through && next.single && hit.thin && before == way;
            carried *= next.weight;
            density = next.single ? 0 : next.density;
            from = started(hit, way);
            if (bounce >= sure_bounces) {
                const float stays = std::min(0.95f, std::max({carried.x, carried.y, carried.z}));
                if (numbers.one() >= stays) return light;
                carried /= stays;
            }
        }
        return light;
    }

    /// How much of a glowing surface's light counts on a path that met it by chance.
    float weight_of_glow(const RayHit& hit, const Vec3& way, float density) const {
        if (density <= 0) return 1;
        const float other = lamps_.shining_density(hit.material->emission, hit.distance, -glm::dot(hit.flat, way));
        return power_share(density, other);
    }

    /// What falls on a place without the shapes, and so without what glows of them: a lamp, and the way that was
    /// thrown.
    Vec3 open_light(const RayHit& hit, const Surface& surface, const Frame& frame, const ThrownLight& next,
                    PathNumbers& numbers) const {
        Vec3 light(0);
        if (const auto lamp = lamps_.sampled(hit.at, numbers); lamp && !lamp->of_shape) {
            const Surface::Answer answer = surface.to(frame.in(lamp->way));
            light += answer.value * lamp->light *
                     (lamp->density > 0 ? power_share(lamp->density, answer.density) / lamp->density : 1.0f);
        }
        if (next.weight == Vec3(0) || next.through) return light;
        const Vec3 way = frame.out(next.way);
        const LampHit sky = lamps_.sky(way);
        light += next.weight * sky.light * power_share(next.density, sky.density);
        lamps_.on_ray(hit.at, way, 1e30f, [&](const LampHit& lamp) {
            light += next.weight * lamp.light * power_share(next.density, lamp.density);
        });
        return light;
    }

    static void note(FirstSurface& first, const RayHit& hit, const Material& material, int bounce) {
        first.cover = 1;
        first.albedo = material.transmission > 0.5f ? Vec3(1) : hit.colour;
        first.normal = hit.normal;
        first.depth = bounce == 0 ? hit.distance : 0;
        first.part = hit.part;
        first.material = hit.material_number;
    }

    Vec3 from_lamps(const RayHit& hit, const Surface& surface, const Frame& frame, PathNumbers& numbers,
                    std::uint64_t& count) const {
        const auto lamp = lamps_.sampled(hit.at, numbers);
        if (!lamp) return Vec3(0);
        const Vec3 in = frame.in(lamp->way);
        if ((glm::dot(lamp->way, hit.flat) > 0) != (in.z > 0)) return Vec3(0);
        const Surface::Answer answer = surface.to(in);
        if (answer.value == Vec3(0)) return Vec3(0);
        ++count;
        const Vec3 from = started(hit, lamp->way);
        if (rays_.blocked(from, lamp->way, lamp->distance * 0.9999f)) return Vec3(0);
        if (lamp->density <= 0) return answer.value * lamp->light;
        return answer.value * lamp->light * (power_share(lamp->density, answer.density) / lamp->density);
    }

    const StillScene& scene_;
    const StillOptions& options_;
    const RayScene& rays_;
    Lamps lamps_;
    CameraRays camera_;
};

/// Sums over the samples of every pixel, each pixel's side by side.
struct Sums {
    struct Pixel {
        Vec3 light{0}, albedo{0}, normal{0};
        float square = 0, cover = 0, depth = 0;
        std::uint32_t samples = 0;
    };
    struct Ground {  // of the plain that catches light
        Vec3 colour{0}, with{0}, without{0};
        float square = 0;
    };
    std::vector<Pixel> pixels;
    std::vector<Ground> ground;  // empty without one
    Sums(std::size_t count, bool catches) : pixels(count), ground(catches ? count : 0) {}

    /// The ground under its share of the light that would fall on it, summed over the samples.
    Vec3 ground_seen(std::size_t i) const {
        if (ground.empty()) return Vec3(0);
        const Ground& g = ground[i];
        Vec3 seen(0);
        for (int c = 0; c < 3; ++c)  // without any light but what glows: as it is
            seen[c] = g.without[c] > 0 ? g.colour[c] * g.with[c] / g.without[c] : g.with[c];
        return seen;
    }
    /// Square of the standard error of a pixel's mean brightness; of the ground that of the light it catches.
    double variance(std::size_t i) const {
        const auto n = static_cast<double>(pixels[i].samples);
        const auto of_mean = [n](double square_sum, double mean) {
            return std::max(0.0, square_sum / n - mean * mean) / std::max(n - 1, 1.0);
        };
        double sum =
            of_mean(static_cast<double>(pixels[i].square), static_cast<double>(brightness(pixels[i].light)) / n);
        if (ground.empty()) return sum;
        if (const double caught = static_cast<double>(brightness(ground[i].with)) / n; caught > 0) {
            const double seen = static_cast<double>(brightness(ground_seen(i))) / n;
            sum += of_mean(static_cast<double>(ground[i].square), caught) * (seen / caught) * (seen / caught);
        }
        return sum;
    }
    /// Standard error of the mean brightness, over the picture's mean brightness.
    double noise() const {
        double error = 0, bright = 0;
        for (std::size_t i = 0; i < pixels.size(); ++i) {
            const Pixel& p = pixels[i];
            if (p.samples < 2) return 1;
            error += variance(i);
            bright += static_cast<double>(brightness(p.light + ground_seen(i))) / static_cast<double>(p.samples);
        }
        const auto count = static_cast<double>(pixels.size());
        return bright > 0 ? std::sqrt(error / count) / (bright / count) : 0;
    }
};

void one_pass(const LightPaths& paths, const StillOptions& o, Sums& sums, StillPicture& picture,
              std::atomic<std::uint64_t>& rays) {
    const int across = (o.width + tile - 1) / tile, down = (o.height + tile - 1) / tile;
    parallel::each(parallel::Numbers<int>(0, across * down, 1), [&](const auto& range) {
        std::uint64_t count = 0;
        for (int t = range.begin(); t != range.end(); ++t) {
            const int left = t % across * tile, top = t / across * tile;
            for (int y = top; y < std::min(top + tile, o.height); ++y) {
                stop_point();
                for (int x = left; x < std::min(left + tile, o.width); ++x) {
                    const auto i =
                        static_cast<std::size_t>(y) * static_cast<std::size_t>(o.width) + static_cast<std::size_t>(x);
                    Sums::Pixel& pixel = sums.pixels[i];
                    FirstSurface first;
                    Caught caught;
                    const Vec3 light = paths.light_at(x, y, pixel.samples, first, caught, count);
                    const float bright = brightness(light);
                    if (!std::isfinite(bright + brightness(caught.with))) continue;
                    if (caught) {
                        Sums::Ground& ground = sums.ground[i];
                        ground.colour += caught.ground, ground.with += caught.with, ground.without += caught.without;
                        ground.square += brightness(caught.with) * brightness(caught.with);
                    }
                    if (pixel.samples == 0) picture.part[i] = first.part, picture.material[i] = first.material;
                    pixel.depth += first.depth;
                    pixel.light += light;
                    pixel.square += bright * bright;
                    pixel.albedo += first.albedo;
                    pixel.normal += first.normal;
                    pixel.cover += first.cover;
                    ++pixel.samples;
                }
            }
        }
        rays += count;
    });
}

void write_out(const StillScene& scene, const Sums& sums, StillPicture& picture) {
    const auto exposure = static_cast<float>(std::exp2(scene.camera.exposure));
    const std::size_t pixels = sums.pixels.size();
    picture.colour.resize(pixels), picture.albedo.resize(pixels), picture.normal.resize(pixels);
    picture.depth.resize(pixels), picture.cover.resize(pixels), picture.error.resize(pixels);
    picture.clear = scene.ground.clear;
    for (std::size_t i = 0; i < pixels; ++i) {
        const Sums::Pixel& p = sums.pixels[i];
        const float n = std::max(1.0f, static_cast<float>(p.samples));
        picture.colour[i] = (p.light + sums.ground_seen(i)) * (exposure / n);
        picture.albedo[i] = p.albedo / n;
        const float length = glm::length(p.normal);
        picture.normal[i] = length > 0 ? p.normal / length : Vec3(0);
        picture.cover[i] = p.cover / n;
        picture.depth[i] = p.cover > 0 ? p.depth / p.cover : 0;
        picture.error[i] = exposure * static_cast<float>(std::sqrt(sums.variance(i)));
    }
}

}  // namespace light_paths

struct StillRun::Inside {
    StillScene scene;
    StillOptions options;
    std::shared_ptr<const RayScene> rays;
    light_paths::LightPaths paths;
    light_paths::Sums sums;
    StillPicture numbers;  // of the first surfaces, filled in while the paths are followed
    std::atomic<std::uint64_t> count = 0;

    Inside(StillScene&& s, StillOptions&& o, std::shared_ptr<const RayScene> known)
        : scene(std::move(s)),
          options(std::move(o)),
          rays(known ? std::move(known)
                     : std::make_shared<const RayScene>(scene.shapes, scene.plain_colour, RayTrees::one)),
          paths(scene, options, *rays),
          sums(static_cast<std::size_t>(options.width) * static_cast<std::size_t>(options.height), scene.catcher >= 0) {
        numbers.width = options.width, numbers.height = options.height;
        numbers.part.assign(sums.pixels.size(), -1), numbers.material.assign(sums.pixels.size(), 0);
    }
};

StillRun::StillRun(StillScene scene, StillOptions options, std::shared_ptr<const RayScene> rays)
    : inside_(std::make_unique<Inside>(std::move(scene), std::move(options), std::move(rays))) {}
StillRun::~StillRun() = default;

void StillRun::pass() {
    light_paths::one_pass(inside_->paths, inside_->options, inside_->sums, inside_->numbers, inside_->count);
    ++inside_->numbers.samples;
}
int StillRun::samples() const { return inside_->numbers.samples; }
double StillRun::noise() const { return inside_->sums.noise(); }
const std::shared_ptr<const RayScene>& StillRun::rays() const { return inside_->rays; }

StillPicture StillRun::picture() const {
    StillPicture picture = inside_->numbers;
    picture.rays = inside_->count;
    picture.noise = noise();
    light_paths::write_out(inside_->scene, inside_->sums, picture);
    return picture;
}

double still_memory(double pixels, double triangles) { return 190 * pixels + 160 * triangles; }

StillPicture still_of(const StillScene& scene, const StillOptions& o, std::shared_ptr<const RayScene> rays) {
    StillRun run(scene, o, std::move(rays));
    const auto start = std::chrono::steady_clock::now();
    bool stopped = false;
    try {
        while (run.samples() < o.samples) {
            run.pass();
            if (run.samples() % light_paths::passes_between_looks != 0 && run.samples() < o.samples) continue;
            const double noise = run.noise();
            if (o.progress) o.progress(static_cast<double>(run.samples()) / o.samples, noise);
            const double taken = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
            if ((o.seconds > 0 && taken >= o.seconds) || (o.wanted_noise > 0 && noise <= o.wanted_noise)) break;
        }
    } catch (const Stopped&) {
        stopped = true;
    }
    StillPicture picture = run.picture();
    picture.stopped = stopped;
    return picture;
}

}  // namespace bricol
