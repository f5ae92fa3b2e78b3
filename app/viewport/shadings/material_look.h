// SPDX-License-Identifier: GPL-3.0-or-later
// Materials as they are drawn at once; two shadings share it.
#pragma once

namespace bricol {

// Metallic-roughness after glTF 2.0 appendix B, lit by a made-up room with a bright window at the key light's place;
// glass is drawn afterwards, its colour multiplied over what lies behind it.
inline constexpr const char* material_look = R"(
    Material own = materials[look];
    bool glass = own.values.z > 0.5;
    if (glass != (glass_pass > 0)) discard;
    vec3 base = look == 0u ? linear(clay) : own.base.rgb;
    base *= linear(tint);
    float metallic = own.values.x, roughness = clamp(own.values.y, 0.03, 1.0);
    if (!gl_FrontFacing && !glass) base *= 0.5;
    // Interpolated normals look away from the viewer along an outline of few facets; they are met halfway.
    float facing = clamp(glass ? dot(m, v) : abs(dot(m, v)), glass ? 0.0 : 0.06, 1.0);
    float f0 = pow((own.values.w - 1.0) / (own.values.w + 1.0), 2.0);
    vec3 reflectance = mix(vec3(f0), base, metallic);
    float grazing = pow(1.0 - facing, 5.0);
    vec3 fresnel = reflectance + (max(vec3(1.0 - roughness), reflectance) - reflectance) * grazing * (glass ? 1.0 : 1.0 - 0.8 * roughness);
    vec3 mirrored = reflect(-v, m);
    vec3 shine = fresnel * room(mirrored, roughness);
    if (glass) {
        float share = glass_pass == 1 ? 0.35 : 1.0;  // the far wall reflects through the near one
        vec3 tint = pow(base, vec3((0.55 + 1.5 * (1.0 - facing)) / 2.2));  // the picture below holds screen colours
        float rim = smoothstep(0.62, 1.0, 1.0 - facing);
        vec3 added = shine * share + base * 0.02 * rim;
        color = vec4(added / (added + 0.6), 0);  // what light adds to a picture that holds screen colours: little where it is bright
        keep = vec4(tint * (1.0 - 0.9 * grazing * share) * (1.0 - 0.28 * rim), 1);
        return;
    }
    float wrap = max((dot(m, key) + 0.3) / 1.3, 0.0);
    vec3 around = mix(vec3(0.25, 0.235, 0.22), vec3(0.62, 0.65, 0.68), 0.5 + 0.5 * m.z);
    vec3 diffuse = base * (1.0 - metallic) * (around + 0.85 * wrap * vec3(1.0, 0.98, 0.94));
    float coat = own.glow.w * (0.04 + 0.96 * grazing);
    vec3 light = mix(diffuse * (1.0 - fresnel) + shine, room(mirrored, 0.1), coat) + own.glow.rgb;
    color = vec4(screen(light), alpha * own.base.a);
    keep = vec4(vec3(1.0 - color.a), 1);
    color.rgb *= color.a;
)";

}  // namespace bricol
