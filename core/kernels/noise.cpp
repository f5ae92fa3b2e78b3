// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/noise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/ground/parallel.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

constexpr std::size_t block = 256;

#pragma GCC diagnostic ignored "-Wpsabi"  // the vectors below never leave this file

// Eight places at a time as GCC's vectors: the compiler spells them out for whatever the machine has, and the order of
// the arithmetic in each lane stays as written.
using Reals = float __attribute__((vector_size(32)));
using Words = std::uint32_t __attribute__((vector_size(32)));
using Wholes = std::int32_t __attribute__((vector_size(32)));
constexpr std::size_t lanes = 8;
#define BRICOL_INLINE [[gnu::always_inline]] inline

/// One gradient's share: its scalar product with the way to the corner. Perlin's twelve edges of a cube, four of them
/// twice.
BRICOL_INLINE Reals lean(const Words& h, const Reals& x, const Reals& y, const Reals& z) {
    const Words g = h >> 28;
    const Reals u = g < 8 ? x : y;
    const Reals v = g < 4 ? y : (g & 13u) == 12u ? x : z;
    const Words sign_u = (h << 3) & 0x80000000u, sign_v = (h << 2) & 0x80000000u;
    return reinterpret_cast<Reals>(reinterpret_cast<Words>(u) ^ sign_u) +
           reinterpret_cast<Reals>(reinterpret_cast<Words>(v) ^ sign_v);
}

BRICOL_INLINE Words corner(const Words& x, const Words& y, const Words& z) {
    Words h = x ^ y ^ z;
    h ^= h >> 15, h *= 0x2c1b3c6du, h ^= h >> 12, h *= 0x297a2d39u;
    return h;
}

BRICOL_INLINE Reals fade(const Reals& t) { return t * t * t * (t * (t * 6.0f - 15.0f) + 10.0f); }
BRICOL_INLINE Reals blend(const Reals& a, const Reals& b, const Reals& t) { return a + (b - a) * t; }
BRICOL_INLINE Reals held(const Reals& x) {
    constexpr float far = 4.0e6f;  // beyond this a float no longer tells places within a bump
    const Reals low = x > -far ? x : Reals{} - far;
    return low < far ? low : Reals{} + far;
}
BRICOL_INLINE Wholes floor_of(const Reals& x) {
    const Wholes cut = __builtin_convertvector(x, Wholes);
    return cut + (__builtin_convertvector(cut, Reals) > x);  // a true comparison is -1
}

BRICOL_INLINE void noise_loop(const float* xs, const float* ys, const float* zs, std::uint32_t seed, float scale,
                              float strength, std::size_t n, float* out) {
    constexpr std::uint32_t px = 0x8da6b343u, py = 0xd8163841u, pz = 0xcb1ab31fu;
    const std::uint32_t salt = mixed(seed + 0x51ed270bu);
    for (std::size_t i = 0; i < n; i += lanes) {
        Reals x{}, y{}, z{};
        const std::size_t count = std::min(lanes, n - i);
        __builtin_memcpy(&x, xs + i, count * sizeof(float));
        __builtin_memcpy(&y, ys + i, count * sizeof(float));
        __builtin_memcpy(&z, zs + i, count * sizeof(float));
        x = held(x * scale), y = held(y * scale), z = held(z * scale);
        const Wholes ix = floor_of(x), iy = floor_of(y), iz = floor_of(z);
        const Reals fx = x - __builtin_convertvector(ix, Reals), fy = y - __builtin_convertvector(iy, Reals),
                    fz = z - __builtin_convertvector(iz, Reals);
        const Words x0 = reinterpret_cast<Words>(ix) * px + salt, y0 = reinterpret_cast<Words>(iy) * py,
                    z0 = reinterpret_cast<Words>(iz) * pz;
        const Words x1 = x0 + px, y1 = y0 + py, z1 = z0 + pz;
        const Reals u = fade(fx), v = fade(fy), w = fade(fz);
        const Reals gx = fx - 1.0f, gy = fy - 1.0f, gz = fz - 1.0f;
        const Reals a = blend(lean(corner(x0, y0, z0), fx, fy, fz), lean(corner(x1, y0, z0), gx, fy, fz), u);
        const Reals b = blend(lean(corner(x0, y1, z0), fx, gy, fz), lean(corner(x1, y1, z0), gx, gy, fz), u);
        const Reals c = blend(lean(corner(x0, y0, z1), fx, fy, gz), lean(corner(x1, y0, z1), gx, fy, gz), u);
        const Reals d = blend(lean(corner(x0, y1, z1), fx, gy, gz), lean(corner(x1, y1, z1), gx, gy, gz), u);
        Reals sum{};
        __builtin_memcpy(&sum, out + i, count * sizeof(float));
        sum += strength * blend(blend(a, b, v), blend(c, d, v), w);
        __builtin_memcpy(out + i, &sum, count * sizeof(float));
    }
}

using Loop = void (*)(const float*, const float*, const float*, std::uint32_t, float, float, std::size_t, float*);
void plain_loop(const float* x, const float* y, const float* z, std::uint32_t seed, float scale, float strength,
                std::size_t n, float* out) {
    noise_loop(x, y, z, seed, scale, strength, n, out);
}
#if defined(__x86_64__)
[[gnu::target("avx2")]] void wide_loop(const float* x, const float* y, const float* z, std::uint32_t seed, float scale,
                                       float strength, std::size_t n, float* out) {
    noise_loop(x, y, z, seed, scale, strength, n, out);
}
#endif

Loop loop_for([[maybe_unused]] Instructions instructions) {
#if defined(__x86_64__)
    static const bool wide = __builtin_cpu_supports("avx2");
    if (wide && instructions == Instructions::widest) return wide_loop;
#endif
    return plain_loop;
}

}  // namespace

void gradient_noise(std::span<const float> x, std::span<const float> y, std::span<const float> z, std::uint32_t seed,
                    std::span<float> out, Instructions instructions) {
    std::fill(out.begin(), out.end(), 0.0f);
    loop_for(instructions)(x.data(), y.data(), z.data(), seed, 1, 1, out.size(), out.data());
}

float gradient_noise(float x, float y, float z, std::uint32_t seed) {
    float out = 0;
    plain_loop(&x, &y, &z, seed, 1, 1, 1, &out);
    return out;
}

void fractal_noise(std::span<const Vec3> points, const NoiseOptions& options, std::span<float> out,
                   Instructions instructions) {
    const Loop loop = loop_for(instructions);
    const double per_metre = 1 / std::max(options.size, 1e-9);
    double sum = 0, strength = 1;
    for (int o = 0; o < options.octaves; ++o, strength *= options.roughness) sum += strength;
    parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 16 * block), [&](const auto& range) {
        stop_point();
        std::array<float, block> x, y, z;
        for (std::size_t begin = range.begin(); begin < range.end(); begin += block) {
            const std::size_t n = std::min(block, range.end() - begin);
            for (std::size_t i = 0; i < n; ++i) {
                const DVec3 p = (DVec3(points[begin + i]) + options.offset) * per_metre;
                x[i] = static_cast<float>(p.x), y[i] = static_cast<float>(p.y), z[i] = static_cast<float>(p.z);
                out[begin + i] = 0;
            }
            double scale = 1, share = 1 / sum;
            for (int o = 0; o < options.octaves; ++o, scale *= 2, share *= options.roughness)
                loop(x.data(), y.data(), z.data(), options.seed * 31 + static_cast<std::uint32_t>(o),
                     static_cast<float>(scale), static_cast<float>(share), n, out.data() + begin);
        }
    });
}

}  // namespace bricol
