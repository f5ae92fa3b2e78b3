// SPDX-License-Identifier: GPL-3.0-or-later
// Ways of drawing a shape, one file each in shadings/; each registers itself.
#pragma once

#include <span>
#include <string>
#include <string_view>

namespace bricol {

struct ShadingInfo {
    std::string_view id;  ///< kept in the settings: "clay"
    const char* text;     ///< in the menu
    const char* chip;     ///< over the picture, short
    const char* key;
    const char* tip;
    int place;  ///< in menus, from the top
    /// GLSL of the body of `void shade(vec3 v, vec3 m)`: sets `color`; `v` is the way to the eye, `m` the normal turned
    /// to it. What there is to use stands at the top of the mesh's fragment shader in viewport/shaders.h.
    const char* glsl;
    bool through = false;           ///< what lies behind is seen: no hidden surface, nothing written into the depth
    bool both_sides = false;        ///< back faces of closed shapes are drawn too
    bool sharp_when_many = false;   ///< copies and moving stand-ins draw their sharp edges only
    bool paints_attribute = false;  ///< shows the attribute chosen in the view
    bool still = false;             ///< at rest a finished picture takes its place
    bool glass = false;             ///< materials: glass is drawn afterwards, over what lies behind it
};

/// Registers a shading: one at file level, in the shading's own file.
class RegisteredShading {
public:
    explicit RegisteredShading(const ShadingInfo& info);
};

/// By `place`.
std::span<const ShadingInfo* const> all_shadings();
/// Null when there is none of this id.
const ShadingInfo* find_shading(std::string_view id);
/// The same for one that is built in; ends the program when it is missing.
const ShadingInfo& shading_named(std::string_view id);
/// Its place among all of them.
int shading_number(const ShadingInfo& shading);
/// `void shade(vec3 v, vec3 m)` as it draws.
std::string shading_function(const ShadingInfo& shading);

}  // namespace bricol
