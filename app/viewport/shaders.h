// SPDX-License-Identifier: GPL-3.0-or-later
// The shader programs of the viewport, GLSL 4.5.
#pragma once

namespace bricol::shaders {

// Every mesh is drawn as instances: one place for a plain shape, many for copies. The low bits of `mask` are edge
// marks, the byte above them the number of the face's material in its table.
inline constexpr const char* mesh_vertex = R"(#version 450 core
layout(location=0) in vec3 position; layout(location=1) in vec4 normal; layout(location=2) in uint mask; layout(location=3) in mat4 place; layout(location=7) in vec4 copy_tint; layout(location=8) in vec4 own_tint;
uniform mat4 matrix;
out vec3 at; out vec3 n; out vec2 sides; out vec3 tint; out float coloured; flat out uint marks;
void main() {
    vec4 world = place * vec4(position, 1);
    gl_Position = matrix * world; at = world.xyz;
    mat3 p = mat3(place);
    mat3 cofactor = mat3(cross(p[1], p[2]), cross(p[2], p[0]), cross(p[0], p[1]));
    n = cofactor * normal.xyz * (dot(p[0], cofactor[0]) < 0.0 ? -1.0 : 1.0);
    tint = own_tint.rgb * copy_tint.rgb;
    coloured = max(own_tint.a, copy_tint.a);
    marks = mask;
    int corner = gl_VertexID % 3; sides = vec2(corner == 0, corner == 1);
})";

// Light of the drawing shades: a soft sky, a key light over the viewer's left shoulder, a thin rim that lifts the
// outline from the ground. What shadings may use stands here; the own function of one follows (viewport/shadings/),
// then main.
inline constexpr const char* mesh_fragment_head = R"(#version 450 core
in vec3 at; in vec3 n; in vec2 sides; in vec3 tint; in float coloured; flat in uint marks;
#define edges (marks & 63u)
#define look (marks >> 8)
uniform vec3 clay, ink, front_tint, back_tint, eye, toward_eye, key; uniform int flat_view, glass_pass; uniform float alpha, line_width, sharp_only;
// values: metallic, roughness, transmission, index of refraction; glow: light given out, and the share of a clear coat
struct Material { vec4 base; vec4 values; vec4 glow; };
layout(std140, binding=0) uniform Materials { Material materials[64]; };
layout(location=0, index=0) out vec4 color; layout(location=0, index=1) out vec4 keep;
float edge_cover(uint bits, float width) {
    vec3 own = vec3(sides, 1.0 - sides.x - sides.y), d = own / max(fwidth(own), vec3(1e-6));
    vec3 far = vec3(1e6);
    if ((bits & 1u) == 0u) d.x = far.x; if ((bits & 2u) == 0u) d.y = far.y; if ((bits & 4u) == 0u) d.z = far.z;
    return 1.0 - smoothstep(width - 0.5, width + 0.5, min(d.x, min(d.y, d.z)));
}
vec3 linear(vec3 c) { return mix(c / 12.92, pow((c + 0.055) / 1.055, vec3(2.4)), step(0.04045, c)); }
vec3 screen(vec3 c) {
    c = c * (1.0 + c * 0.18) / (1.0 + c * 0.62);  // a soft shoulder
    return mix(c * 12.92, 1.055 * pow(max(c, vec3(0)), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, c));
}
/// What a direction sees of the room: floor, walls, sky, a window of `blur`red edges and a smaller one behind.
vec3 room(vec3 d, float blur) {
    float rise = d.z;
    vec3 floor_light = vec3(0.30, 0.275, 0.25), wall = vec3(0.52, 0.54, 0.56), sky = vec3(1.02, 1.06, 1.12);
    vec3 c = mix(floor_light, wall, smoothstep(-0.12 - blur, 0.08 + blur, rise));
    c = mix(c, sky, smoothstep(0.15 - blur * 0.5, 0.85 + blur * 0.5, rise));
    c *= 1.0 - 0.45 * (1.0 - blur) * smoothstep(0.16, 0.0, abs(rise + 0.02));  // a dark line at the horizon gives metal its edge
    float edge = 0.02 + 0.55 * blur;
    float window = smoothstep(0.86 - edge, 0.86 + edge, dot(d, key));
    vec3 other = normalize(vec3(-key.x, -key.y, 0.25));
    float small = smoothstep(0.93 - edge, 0.93 + edge, dot(d, other));
    return c + window * mix(3.6, 0.9, blur) * vec3(1.0, 0.98, 0.94) + small * mix(1.3, 0.25, blur) * vec3(0.9, 0.95, 1.0);
}
/// The shape's own colour takes the place of clay. Insides are darker.
vec3 own_base() {
    vec3 base = coloured < 0.5 ? clay : tint;
    return gl_FrontFacing ? base : base * vec3(0.62, 0.58, 0.56);
}
float rim_of(vec3 v, vec3 m) { return pow(1.0 - max(dot(m, v), 0.0), 3.0); }
/// A colour in the light of the drawing shades.
vec3 drawn(vec3 base, vec3 v, vec3 m) {
    float sky = 0.5 + 0.5 * m.z;
    float lit = max(dot(m, key), 0.0);
    float wrap = max((dot(m, key) + 0.35) / 1.35, 0.0);
    vec3 h = normalize(key + v);
    float gloss = pow(max(dot(m, h), 0.0), 28.0) * 0.06;
    vec3 shade = base * (mix(vec3(0.34, 0.33, 0.33), vec3(0.50, 0.52, 0.54), sky) + 0.50 * wrap * vec3(1.0, 0.985, 0.95) + 0.10 * lit) + gloss;
    return shade * (1.0 - 0.30 * rim_of(v, m));
}
vec4 inked(vec3 shade, float wire) { return vec4(mix(shade, ink, wire), alpha); }
)";
inline constexpr const char* mesh_fragment_main = R"(
void main() {
    vec3 v = flat_view == 1 ? toward_eye : normalize(eye - at);
    vec3 m = length(n) > 0.000001 ? normalize(n) : vec3(0, 0, 1);
    if (!gl_FrontFacing) m = -m;
    keep = vec4(0);
    shade(v, m);
})";

/// Which item and which triangle each pixel shows.
inline constexpr const char* pick_vertex = R"(#version 450 core
layout(location=0) in vec3 position; layout(location=3) in mat4 place; uniform mat4 matrix;
void main() { gl_Position = matrix * (place * vec4(position, 1)); })";
inline constexpr const char* pick_fragment = R"(#version 450 core
uniform uint item; out uvec2 found; void main() { found = uvec2(item, uint(gl_PrimitiveID)); })";

inline constexpr const char* line_vertex = R"(#version 450 core
layout(location=0) in vec3 position; layout(location=1) in vec4 tint; uniform mat4 matrix; out vec4 ink;
void main() { gl_Position = matrix * vec4(position, 1); ink = tint; })";
inline constexpr const char* line_fragment = R"(#version 450 core
in vec4 ink; out vec4 color; void main() { color = ink; })";

inline constexpr const char* sky_vertex = R"(#version 450 core
out float height; void main() { vec2 p = vec2(gl_VertexID == 1 ? 3 : -1, gl_VertexID == 2 ? 3 : -1); height = p.y; gl_Position = vec4(p, 0.99999, 1); })";
inline constexpr const char* sky_fragment = R"(#version 450 core
in float height; uniform vec3 high, low; out vec4 color;
void main() { color = vec4(mix(high, low, clamp(height * 0.5 + 0.5, 0.0, 1.0)), 1); })";

inline constexpr const char* picture_vertex = R"(#version 450 core
uniform mat4 matrix; uniform vec3 corner, across, up; out vec2 uv;
void main() { uv = vec2(gl_VertexID & 1, gl_VertexID >> 1); gl_Position = matrix * vec4(corner + across * uv.x + up * uv.y, 1); })";
inline constexpr const char* picture_fragment = R"(#version 450 core
in vec2 uv; uniform sampler2D image; uniform float opacity; uniform vec3 tint; uniform int mask_only; out vec4 color;
void main() {
    vec4 c = texture(image, vec2(uv.x, mask_only == 1 ? uv.y : 1.0 - uv.y));
    color = mask_only == 1 ? vec4(tint, c.r * opacity) : vec4(c.rgb, c.a * opacity);
})";

}  // namespace bricol::shaders
