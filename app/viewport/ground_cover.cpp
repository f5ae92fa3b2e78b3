// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/ground_cover.h"

#include <algorithm>
#include <array>
#include <glm/mat4x4.hpp>
#include <limits>

#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

/// A copy of more triangles than this and than sixteen to a pixel is thrown by some of its points.
constexpr double few = 4096;

/// A point on its way to the ground: x and y in pixels times w, and how high it was (metres).
struct Thrown {
    float x, y, w, z;
    glm::vec2 flat() const { return {x / w, y / w}; }
};

Thrown between(const Thrown& a, const Thrown& b, float t) {
    return {a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t, a.w + (b.w - a.w) * t, a.z + (b.z - a.z) * t};
}

/// How points of a caster in one of its places come to pixels: linear, but for the division by w.
struct Way {
    std::array<glm::vec4, 4> rows{};  ///< of x, y, w and z
    float top = std::numeric_limits<float>::max();
    bool bounded = false;  ///< what is below the ground or above `top` does not count

    Way(const glm::mat4& place, const std::optional<ShadowSource>& source, const GroundSquare& square) {
        const glm::dmat4 m(place);
        const auto row = [&](int k) { return glm::dvec4(m[0][k], m[1][k], m[2][k], m[3][k]); };
        const glm::dvec4 one(0, 0, 0, 1);
        glm::dvec4 x = row(0), y = row(1), w = one;
        const glm::dvec4 z = row(2);
        if (source && source->far) {
            x -= source->at.x / source->at.z * z;
            y -= source->at.y / source->at.z * z;
        } else if (source) {
            x = source->at.z * x - source->at.x * z;
            y = source->at.z * y - source->at.y * z;
            w = source->at.z * one - z;
            top = static_cast<float>(source->at.z * (1 - 1e-3));
        }
        bounded = source.has_value();
        const double scale = square.pixels / square.side;
        rows = {glm::vec4(scale * (x - square.corner.x * w)), glm::vec4(scale * (y - square.corner.y * w)),
                glm::vec4(w), glm::vec4(z)};
    }
    Thrown operator()(const Vec3& p) const {
        const auto along = [&](const glm::vec4& r) { return r.x * p.x + r.y * p.y + r.z * p.z + r.w; };
        return {along(rows[0]), along(rows[1]), along(rows[2]), along(rows[3])};
    }
    bool counts(const Thrown& p) const { return !bounded || (p.z >= 0 && p.z <= top); }
};

/// Pixels of the square that triangles are laid on.
class Cover {
public:
    explicit Cover(int pixels) : pixels_(pixels), covered_(std::size_t(pixels) * pixels, 0) {}

    void triangle(const glm::vec2& p, const glm::vec2& q, const glm::vec2& r) {
        const glm::vec2 low = glm::min(p, glm::min(q, r)), high = glm::max(p, glm::max(q, r));
        const auto bound = static_cast<float>(pixels_);
        // Asked so that a number that is none leaves the triangle out.
        if (!(low.x < bound && low.y < bound && high.x > 0 && high.y > 0)) return;
        // The first and the last middles between them; of numbers from 0 on a cast is the floor.
        const auto from = [](float v) { return static_cast<int>(std::max(v, 0.0f) + 0.5f); };
        const auto to = [&](float v) { return static_cast<int>(std::min(v, bound) + 0.5f) - 1; };
        const int x0 = from(low.x), x1 = to(high.x), y0 = from(low.y), y1 = to(high.y);
        if (x0 > x1 || y0 > y1) return;
        const auto side = [](const glm::vec2& s, const glm::vec2& t, float x, float y) {
            return (t.x - s.x) * (y - s.y) - (t.y - s.y) * (x - s.x);
        };
        const float turn = side(p, q, r.x, r.y) < 0 ? -1.0f : 1.0f;
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const float u = static_cast<float>(x) + 0.5f, v = static_cast<float>(y) + 0.5f;
                if (turn * side(p, q, u, v) >= 0 && turn * side(q, r, u, v) >= 0 && turn * side(r, p, u, v) >= 0)
                    covered_[at(x, y)] = 1;
            }
    }
    void point(const Thrown& p) {
        const glm::vec2 at_ground = p.flat();
        const float x = at_ground.x, y = at_ground.y;
        const auto bound = static_cast<float>(pixels_);
        if (x >= 0 && y >= 0 && x < bound && y < bound) covered_[at(static_cast<int>(x), static_cast<int>(y))] = 1;
    }
    /// The part of a triangle between the ground and the top.
    void part(const Way& way, const std::array<Thrown, 3>& corners) {
        std::array<Thrown, 8> polygon{corners[0], corners[1], corners[2]}, cut{};
        std::size_t count = 3;
        for (const bool ground : {true, false}) {
            const auto inside = [&](const Thrown& p) { return ground ? p.z : way.top - p.z; };
            std::size_t kept = 0;
            for (std::size_t i = 0; i < count; ++i) {
                const Thrown &a = polygon[i], &b = polygon[(i + 1) % count];
                const float from = inside(a), to = inside(b);
                if (from >= 0) cut[kept++] = a;
                if ((from >= 0) != (to >= 0)) cut[kept++] = between(a, b, from / (from - to));
            }
            polygon = cut;
            count = kept;
        }
        for (std::size_t i = 1; i + 1 < count; ++i)
            triangle(polygon[0].flat(), polygon[i].flat(), polygon[i + 1].flat());
    }
    std::vector<std::uint8_t> taken() { return std::move(covered_); }

private:
    std::size_t at(int x, int y) const { return std::size_t(y) * pixels_ + std::size_t(x); }

    int pixels_;
    std::vector<std::uint8_t> covered_;
};

/// Pixels that points cover at most: the area of the box round them.
double pixels_of(std::span<const Thrown> points) {
    glm::vec2 low(std::numeric_limits<float>::max()), high(std::numeric_limits<float>::lowest());
    for (const Thrown& p : points) {
        const glm::vec2 at = p.flat();
        low = glm::min(low, at), high = glm::max(high, at);
    }
    const glm::vec2 size = glm::max(high - low, glm::vec2(0));
    return static_cast<double>(size.x) * static_cast<double>(size.y);
}

/// A point where it comes to the ground, and whether it counts.
struct Landed {
    glm::vec2 at;
    bool counts;
};

void throw_caster(const ShadowCaster& caster, const Way& way, Cover& cover, std::vector<Landed>& landed) {
    const Array<Vec3>& points = *caster.points;
    const Array<Index>& triangles = *caster.triangles;
    const auto count = static_cast<double>(triangles.size()) / 3;
    if (caster.places->size() > 1 && count > few) {
        std::vector<Thrown> some;
        for (std::size_t i = 0; i < points.size(); i += points.size() / 64 + 1) some.push_back(way(points[i]));
        if (const double enough = few + 16 * pixels_of(some); count > enough) {
            const auto step = 3 * static_cast<std::size_t>(count / enough);
            for (std::size_t i = 0; i < triangles.size(); i += step)
                if (const Thrown p = way(points[triangles[i]]); way.counts(p)) cover.point(p);
            return;
        }
    }
    landed.resize(points.size());
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Thrown p = way(points[i]);
        landed[i] = {p.flat(), way.counts(p)};
    }
    for (std::size_t i = 0; i + 2 < triangles.size(); i += 3) {
        const Index* corner = &triangles[i];
        const Landed &a = landed[corner[0]], &b = landed[corner[1]], &c = landed[corner[2]];
        if (a.counts && b.counts && c.counts)
            cover.triangle(a.at, b.at, c.at);
        else if (a.counts || b.counts || c.counts || way.top < 1e30f)
            cover.part(way, {way(points[corner[0]]), way(points[corner[1]]), way(points[corner[2]])});
    }
}

}  // namespace

double ShadowCaster::work() const {
    const auto count = static_cast<double>(triangles->size()) / 3, copies = static_cast<double>(places->size());
    return copies * (copies > 1 ? std::min(count, 2 * few) : count);
}

std::shared_ptr<const Array<Index>> opaque_triangles(const Mesh& mesh) {
    const Triangles triangles = triangulated(mesh);
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    auto out = std::make_shared<Array<Index>>();
    out->reserve(triangles.corners.size());
    std::int32_t last = 0;
    bool glass = false;
    for (std::size_t t = 0; t < triangles.count(); ++t) {
        if (numbers && (*numbers)[triangles.face[t]] != last) {
            last = (*numbers)[triangles.face[t]];
            const Material* own = find_material(mesh.materials.get(), last);
            glass = own && own->transmission > 0.5f;
        }
        for (std::size_t k = 0; k < 3 && !glass; ++k)
            out->push_back(mesh.topology->corner_vertex[triangles.corners[3 * t + k]]);
    }
    return out;
}

std::vector<std::uint8_t> ground_cover(std::span<const ShadowCaster> casters, const std::optional<ShadowSource>& source,
                                       const GroundSquare& square) {
    Cover cover(square.pixels);
    std::vector<Landed> landed;
    for (const ShadowCaster& caster : casters)
        for (const glm::mat4& place : *caster.places) throw_caster(caster, Way(place, source, square), cover, landed);
    return cover.taken();
}

}  // namespace bricol
