// SPDX-License-Identifier: GPL-3.0-or-later
// How a surface throws light on: glTF 2.0's metallic-roughness model, with glass and
// a clear coat.
#pragma once

#include "core/shape/material.h"
#include "core/still/numbers.h"

namespace bricol {

/// Directions are unit vectors in the frame of the surface, z along the normal on the side the light came from or, for
/// `out`, the side it is seen from.
struct ThrownLight {
    Vec3 way{0};        ///< where it goes
    Vec3 weight{0};     ///< value times cosine over density
    float density = 0;  ///< per steradian; 0 for a mirror's single direction
    bool through = false;
    bool single = false;  ///< one direction only: no lamp can be aimed at through it
};

class Surface {
public:
    /// Seen from `out`. `inside`: the ray runs in the material. `thin`: an open sheet, which does not bend what passes.
    Surface(const Material& material, const Vec3& colour, const Vec3& out, bool inside, bool thin);

    struct Answer {
        Vec3 value{0};      ///< value times cosine
        float density = 0;  ///< of thrown() giving the way
    };
    /// For light from `in`, which points away from the surface; its z is negative for light that passes.
    Answer to(const Vec3& in) const;
    Vec3 value(const Vec3& in) const { return to(in).value; }
    float density(const Vec3& in) const { return to(in).density; }
    ThrownLight thrown(PathNumbers& numbers) const;
    /// All of it goes one way: mirrors and clear glass.
    bool single() const { return clear_ && glass_ >= 1; }

private:
    void add_coat(Answer& answer, const Vec3& in, const Vec3& h) const;
    Answer under(const Vec3& in, const Vec3& h) const;
    Answer glass(const Vec3& in, const Vec3& h) const;
    ThrownLight under_thrown(PathNumbers& numbers) const;
    float front_of_glass(float cosine) const;
    ThrownLight through_glass(PathNumbers& numbers) const;

    Vec3 colour_, out_;  ///< base colour; where it is seen from
    float rough_;        ///< GGX's alpha, roughness squared
    float glass_;        ///< share
    float index_;        ///< of the side light goes to over that it comes from
    bool clear_, thin_;
    float glass_gain_ = 1;  ///< for what rough glass loses to further bounces
    float lambda_ = 0;      ///< of `out`
    float seen_out_ = 0;    ///< share of facets seen from there, 1 / (1 + lambda_)
    float over_out_ = 0;    ///< 1 / (4 cosine of `out`)
    /// What is reflected, of light that meets a facet squarely and of light that grazes it; further bounces counted.
    Vec3 square_on_{0}, grazing_{0};
    float chance_shine_ = 0, chance_matt_ = 0;  ///< of ways to throw; the rest is glass
    Vec3 matt_{0};                              ///< colour that is thrown in all directions
    /// A clear layer over all of it: its facets, what it throws back of light that meets it squarely or grazes it, and
    /// the share of light that gets under it.
    float coat_rough_ = 0, coat_lambda_ = 0, coat_square_on_ = 0, coat_grazing_ = 0, under_ = 1;
};

/// Reflectance of a smooth dielectric: A. Fresnel's equations for light that is not polarised. `cosine` on the side the
/// light comes from; `index` of the other side over this. 1 where all is reflected.
float fresnel_dielectric(float cosine, float index);

/// Share of white light that GGX microfacets (B. Walter and others, 2007; heights correlated, E. Heitz, 2014) of
/// alpha `rough` throw back in one bounce when every facet is a perfect mirror.
float microfacet_albedo(float cosine, float rough);

}  // namespace bricol
