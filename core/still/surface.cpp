// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/still/surface.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace bricol {

namespace {

constexpr float mirror_rough = 1e-3f;  // below it glass is clear: one direction
constexpr float least_rough = 2e-4f;
constexpr float over_pi = 1 / float_pi;
constexpr float coat_front = 0.04f;  // of varnish, index 1.5 (KHR_materials_clearcoat)

float square(float x) { return x * x; }
float fifth(float x) { return square(square(x)) * x; }
/// GGX's density of facets, E. Heitz' Lambda and shares seen.
float facets(float cosine, float rough) {
    const float t = square(cosine) * (square(rough) - 1) + 1;
    return square(rough) * over_pi / (t * t);
}
float lambda(float cosine, float rough) {
    const float c2 = std::max(square(cosine), 1e-12f);
    return (std::sqrt(1 + square(rough) * (1 - c2) / c2) - 1) / 2;
}
float seen_one(float cosine, float rough) { return 1 / (1 + lambda(cosine, rough)); }
float seen_both(float a, float b, float rough) { return 1 / (1 + lambda(a, rough) + lambda(b, rough)); }

/// A facet's normal among those seen from `out`: E. Heitz, "Sampling the GGX distribution of visible normals", JCGT
/// 7(4), 2018.
Vec3 seen_facet(const Vec3& out, float rough, const Vec2& two) {
    const Vec3 v = glm::normalize(Vec3(rough * out.x, rough * out.y, out.z));
    const float across2 = square(v.x) + square(v.y);
    const Vec3 a = across2 > 1e-12f ? Vec3(-v.y, v.x, 0) / std::sqrt(across2) : Vec3(1, 0, 0), b = glm::cross(v, a);
    const float r = std::sqrt(two.x), phi = 2 * float_pi * two.y, s = 0.5f * (1 + v.z);
    const float x = r * std::cos(phi), y = (1 - s) * std::sqrt(std::max(0.0f, 1 - x * x)) + s * r * std::sin(phi);
    const Vec3 h = x * a + y * b + std::sqrt(std::max(0.0f, 1 - x * x - y * y)) * v;
    return glm::normalize(Vec3(rough * h.x, rough * h.y, std::max(1e-6f, h.z)));
}
/// What a bounce gives back, split for C. Schlick's reflectance f0 (1 - w) + w: all of it is f0 * plain + grazing.
struct Albedo {
    float plain, grazing;
};
class AlbedoTable {
public:
    AlbedoTable() {
        for (std::size_t r = 0; r < size; ++r)
            for (std::size_t m = 0; m < size; ++m) at_[r][m] = integral(cosine_of(m), rough_of(r));
    }
    Albedo at(float cosine, float rough) const {
        const float m = std::sqrt(std::clamp(cosine, 0.0f, 1.0f)) * (size - 1),
                    r = std::sqrt(std::clamp(rough, 0.0f, 1.0f)) * (size - 1);
        const auto i = std::min<std::size_t>(static_cast<std::size_t>(m), size - 2),
                   j = std::min<std::size_t>(static_cast<std::size_t>(r), size - 2);
        const float u = m - static_cast<float>(i), v = r - static_cast<float>(j);
        const auto mix = [&](float Albedo::*of) {
            return (1 - v) * ((1 - u) * at_[j][i].*of + u * at_[j][i + 1].*of) +
                   v * ((1 - u) * at_[j + 1][i].*of + u * at_[j + 1][i + 1].*of);
        };
        return {mix(&Albedo::plain), mix(&Albedo::grazing)};
    }

private:
    static constexpr std::size_t size = 33;
    static float cosine_of(std::size_t i) { return std::max(1e-3f, square(static_cast<float>(i) / (size - 1))); }
    static float rough_of(std::size_t i) { return std::max(least_rough, square(static_cast<float>(i) / (size - 1))); }
    static Albedo integral(float cosine, float rough) {
        constexpr std::uint32_t count = 1024;
        const Vec3 out(std::sqrt(std::max(0.0f, 1 - square(cosine))), 0, cosine);
        double plain = 0, grazing = 0;
        for (std::uint32_t s = 0; s < count; ++s) {
            PathNumbers numbers(17, s, 5);
            const Vec3 h = seen_facet(out, rough, numbers.two()), in = 2 * glm::dot(out, h) * h - out;
            if (in.z <= 0) continue;
            const double weight = seen_both(out.z, in.z, rough) / seen_one(out.z, rough),
                         fading = std::pow(1 - std::clamp(glm::dot(out, h), 0.0f, 1.0f), 5.0f);
            plain += weight * (1 - fading), grazing += weight * fading;
        }
        return {static_cast<float>(plain / count), static_cast<float>(grazing / count)};
    }
    std::array<std::array<Albedo, size>, size> at_{};
};
const AlbedoTable& albedo_table() {
    static const AlbedoTable table;
    return table;
}

/// What rough glass throws back and lets through in one bounce, of all light, over the cosine, the roughness and the
/// logarithm of the index.
class GlassTable {
public:
    GlassTable() : at_(across * rows * rows) {
        for (std::size_t i = 0; i < across; ++i)
            for (std::size_t r = 0; r < rows; ++r)
                for (std::size_t m = 0; m < rows; ++m)
                    at_[place(i, r, m)] = integral(cosine_of(m), rough_of(r), index_of(i));
    }
    float at(float cosine, float rough, float index) const {
        std::size_t i = 0, r = 0, m = 0;
        const float u = split((std::log(index) / largest + 1) / 2, across, i), v = split(std::sqrt(rough), rows, r),
                    w = split(std::sqrt(cosine), rows, m);
        float sum = 0;
        for (const std::size_t a : {0, 1})
            for (const std::size_t b : {0, 1})
                for (const std::size_t c : {0, 1})
                    sum += (a ? u : 1 - u) * (b ? v : 1 - v) * (c ? w : 1 - w) * at_[place(i + a, r + b, m + c)];
        return std::max(sum, 0.05f);
    }

private:
    static constexpr std::size_t across = 33, rows = 25;
    static constexpr float largest = 0.91629073f;  // log of 2.5
    static std::size_t place(std::size_t i, std::size_t r, std::size_t m) { return (i * rows + r) * rows + m; }
    static float split(float share, std::size_t count, std::size_t& low) {
        const float at = std::clamp(share, 0.0f, 1.0f) * static_cast<float>(count - 1);
        low = std::min(static_cast<std::size_t>(at), count - 2);
        return at - static_cast<float>(low);
    }
    static float cosine_of(std::size_t m) { return std::max(1e-3f, square(static_cast<float>(m) / (rows - 1))); }
    static float rough_of(std::size_t r) { return std::max(least_rough, square(static_cast<float>(r) / (rows - 1))); }
    static float index_of(std::size_t i) { return std::exp(largest * (2 * static_cast<float>(i) / (across - 1) - 1)); }
    static float integral(float cosine, float rough, float index) {
        constexpr std::uint32_t count = 256;
        const Vec3 out(std::sqrt(std::max(0.0f, 1 - square(cosine))), 0, cosine);
        const float own = 1 + lambda(cosine, rough);
        double sum = 0;
        for (std::uint32_t s = 0; s < count; ++s) {
            PathNumbers numbers(23, s, 7);
            const Vec3 h = seen_facet(out, rough, numbers.two());
            const float to = std::max(glm::dot(out, h), 1e-6f), back = fresnel_dielectric(to, index);
            const Vec3 mirrored = 2 * to * h - out;
            if (mirrored.z > 0) sum += static_cast<double>(back * own / (own + lambda(mirrored.z, rough)));
            const float sine2 = (1 - square(to)) / square(index);
            if (sine2 >= 1) continue;
            const Vec3 passed = glm::normalize(-out / index + (to / index - std::sqrt(1 - sine2)) * h);
            if (passed.z < 0) sum += static_cast<double>((1 - back) * seen_one(-passed.z, rough));
        }
        return static_cast<float>(sum / count);
    }
    std::vector<float> at_;
};
const GlassTable& glass_table() {
    static const GlassTable table;
    return table;
}

/// Light that leaves rough metal after more than one bounce, as a factor on the first (E. Turquin, "Practical multiple
/// scattering compensation for microfacet models", 2019).
template <class Number>
Number more_bounces(const Number& at_front, const Albedo& a) {
    const float all = std::max(a.plain + a.grazing, 1e-3f);
    return Number(1) + at_front * ((1 - all) / all);
}
float shine_albedo(float at_front, const Albedo& a) {
    return (at_front * a.plain + a.grazing) * more_bounces(at_front, a);
}
float front_of(float index) { return square((index - 1) / (index + 1)); }

/// A number that chose among parts, as one over the part it chose: drawing another costs more (P. Shirley and others,
/// "Monte Carlo techniques for direct lighting calculations", 1996).
float share_of(float number, float begin, float size) {
    return std::clamp((number - begin) / std::max(size, 1e-7f), 0.0f, 0x1.fffffep-1f);
}

Vec3 over_cosine(const Vec2& two) {
    const float r = std::sqrt(two.x), phi = 2 * float_pi * two.y;
    return {r * std::cos(phi), r * std::sin(phi), std::sqrt(std::max(0.0f, 1 - two.x))};
}

/// The facet that leads light from `in` to `out` by passing through it.
Vec3 passing_facet(const Vec3& out, const Vec3& in, float index) {
    const Vec3 h = glm::normalize(out + index * in);
    return h.z < 0 ? -h : h;
}

}  // namespace

float fresnel_dielectric(float cosine, float index) {
    const float sine2 = (1 - square(cosine)) / square(index);
    if (sine2 >= 1) return 1;
    const float other = std::sqrt(1 - sine2);
    const float across = (cosine - index * other) / (cosine + index * other),
                along = (index * cosine - other) / (index * cosine + other);
    return 0.5f * (square(across) + square(along));
}

float microfacet_albedo(float cosine, float rough) {
    const Albedo a = albedo_table().at(cosine, rough);
    return a.plain + a.grazing;
}

Surface::Surface(const Material& m, const Vec3& colour, const Vec3& out, bool inside, bool thin)
    : colour_(colour),
      out_(out),
      rough_(std::max(square(m.roughness), least_rough)),
      glass_(std::clamp(m.transmission, 0.0f, 1.0f) * (1 - std::clamp(m.metallic, 0.0f, 1.0f))),
      index_(inside ? 1 / std::max(m.ior, 1.0f) : std::max(m.ior, 1.0f)),
      clear_(rough_ < mirror_rough),
      thin_(thin) {
    const float metal = std::clamp(m.metallic, 0.0f, 1.0f);
    if (out.z <= 0) return;
    over_out_ = 1 / (4 * std::max(out.z, 1e-6f));
    if (m.coat > 0 && !inside) {
        coat_rough_ = std::max(square(m.coat_roughness), least_rough);
        coat_lambda_ = lambda(out.z, coat_rough_);
        const Albedo a = albedo_table().at(out.z, coat_rough_);
        const float share = std::min(m.coat, 1.0f), gain = share * more_bounces(coat_front, a);
        coat_square_on_ = coat_front * gain, coat_grazing_ = gain;
        // What the coat throws back does not reach what is under it, so that white under a coat stays white.
        under_ = 1 - share * shine_albedo(coat_front, a);
    }
    lambda_ = lambda(out.z, rough_);
    seen_out_ = 1 / (1 + lambda_);
    // What is lost to further bounces is given back in proportion (E. Turquin, 2019), as for metal.
    if (glass_ > 0 && !clear_ && !thin_) glass_gain_ = 1 / glass_table().at(out.z, rough_, index_);
    if (glass_ >= 1) return;
    const Albedo a = albedo_table().at(out.z, rough_);
    // Paint and metal each with the bounces of its own, so that white of any mixture loses nothing.
    const float coat = front_of(m.ior), coat_gain = more_bounces(coat, a);
    square_on_ = Vec3(coat * coat_gain), grazing_ = Vec3(coat_gain);
    if (metal > 0) {
        const Vec3 metal_gain = more_bounces(colour_, a);
        square_on_ = glm::mix(square_on_, colour_ * metal_gain, metal);
        grazing_ = glm::mix(grazing_, metal_gain, metal);
    }
    matt_ = colour_ * ((1 - metal) * (1 - shine_albedo(coat, a)));
    const float shine = brightness(square_on_ * a.plain + grazing_ * a.grazing), matt = brightness(matt_),
                sum = std::max(shine + matt, 1e-6f);
    chance_shine_ = (1 - glass_) * shine / sum;
    chance_matt_ = (1 - glass_) * matt / sum;
}

Surface::Answer Surface::to(const Vec3& in) const {
    if (out_.z <= 0) return {};
    const Vec3 h = in.z > 0 ? glm::normalize(out_ + in) : Vec3(0);
    Answer answer = under(in, h);
    if (coat_grazing_ > 0) {
        answer.value *= under_, answer.density *= under_;
        if (in.z > 0) add_coat(answer, in, h);
    }
    return answer;
}

void Surface::add_coat(Answer& answer, const Vec3& in, const Vec3& h) const {
    const float fading = fifth(1 - std::clamp(glm::dot(out_, h), 0.0f, 1.0f)),
                shape = facets(h.z, coat_rough_) * over_out_;
    answer.value += Vec3((coat_square_on_ * (1 - fading) + coat_grazing_ * fading) * shape /
                         (1 + coat_lambda_ + lambda(in.z, coat_rough_)));
    answer.density += (1 - under_) * shape / (1 + coat_lambda_);
}

Surface::Answer Surface::under(const Vec3& in, const Vec3& h) const {
    Answer answer;
    if (in.z > 0 && glass_ < 1) {
        const float fading = fifth(1 - std::clamp(glm::dot(out_, h), 0.0f, 1.0f)),
                    shape = facets(h.z, rough_) * over_out_, matt = in.z * over_pi;
        answer.value = (1 - glass_) * ((square_on_ * (1 - fading) + grazing_ * fading) *
                                           (shape / (1 + lambda_ + lambda(in.z, rough_))) +
                                       matt_ * matt);
        answer.density = chance_shine_ * shape * seen_out_ + chance_matt_ * matt;
    }
    if (clear_ || glass_ <= 0) return answer;
    const Answer through = glass(in, h);
    answer.value += glass_ * glass_gain_ * through.value;
    answer.density += glass_ * through.density;
    return answer;
}

float Surface::front_of_glass(float cosine) const {
    if (!thin_) return fresnel_dielectric(cosine, index_);
    // Between the two faces of a sheet light goes to and fro.
    const float once = fresnel_dielectric(cosine, std::max(index_, 1 / index_));
    return 2 * once / (1 + once);
}

Surface::Answer Surface::glass(const Vec3& in, const Vec3& h) const {
    if (in.z > 0) {
        const float shape = front_of_glass(std::max(glm::dot(out_, h), 0.0f)) * facets(h.z, rough_) * over_out_;
        return {Vec3(shape / (1 + lambda_ + lambda(in.z, rough_))), shape * seen_out_};
    }
    if (thin_) return {};
    const Vec3 passing = passing_facet(out_, in, index_);
    const float to = glm::dot(out_, passing), from = glm::dot(in, passing);
    if (to <= 0 || from >= 0) return {};
    const float bent = square(index_) * -from / std::max(square(to + index_ * from), 1e-12f),
                density = (1 - fresnel_dielectric(to, index_)) * to * facets(passing.z, rough_) /
                          ((1 + lambda_) * std::max(out_.z, 1e-6f)) * bent;
    return {glm::sqrt(colour_) * (seen_one(-in.z, rough_) * density), density};
}

ThrownLight Surface::through_glass(PathNumbers& numbers) const {
    ThrownLight t;
    const Vec3 h = clear_ ? Vec3(0, 0, 1) : seen_facet(out_, rough_, numbers.two());
    const float to = std::max(glm::dot(out_, h), 1e-6f);
    t.single = clear_;
    if (numbers.one() < front_of_glass(to)) {
        t.way = 2 * to * h - out_;
        if (t.way.z <= 0) return t;
        t.weight = Vec3(1);
    } else if (thin_) {
        t.way = -out_;
        t.weight = colour_;
        t.through = t.single = true;
    } else {
        const float sine2 = (1 - square(to)) / square(index_), other = std::sqrt(std::max(0.0f, 1 - sine2));
        t.way = glm::normalize(-out_ / index_ + (to / index_ - other) * h);
        if (t.way.z >= 0) return t;
        t.through = true;
        t.weight = glm::sqrt(colour_);  // a body is passed in two places; its colour counts once
    }
    return t;
}

ThrownLight Surface::under_thrown(PathNumbers& numbers) const {
    if (glass_ >= 1) return through_glass(numbers);
    ThrownLight t;
    Vec2 two = numbers.two();
    if (two.x < glass_) return through_glass(numbers);
    if (two.x < glass_ + chance_shine_) {
        two.x = share_of(two.x, glass_, chance_shine_);
        const Vec3 h = seen_facet(out_, rough_, two);
        t.way = 2 * glm::dot(out_, h) * h - out_;
        t.weight = Vec3(t.way.z > 0 ? 1 : 0);
    } else {
        two.x = share_of(two.x, glass_ + chance_shine_, chance_matt_);
        t.way = over_cosine(two);
        t.weight = Vec3(1);
    }
    return t;
}

ThrownLight Surface::thrown(PathNumbers& numbers) const {
    ThrownLight t;
    if (out_.z <= 0) return t;
    if (under_ < 1 && numbers.one() >= under_) {
        const Vec3 h = seen_facet(out_, coat_rough_, numbers.two());
        t.way = 2 * glm::dot(out_, h) * h - out_;
        t.weight = Vec3(t.way.z > 0 ? 1 : 0);
    } else {
        // A single way under the coat is as likely as the light that gets there: nothing more to weigh.
        t = under_thrown(numbers);
        if (t.single) return t;
    }
    if (t.weight == Vec3(0)) return t;
    const Answer answer = to(t.way);
    t.density = answer.density;
    t.weight = t.density > 1e-30f ? answer.value * (1 / t.density) : Vec3(0);
    return t;
}

}  // namespace bricol
