// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading attribute_shading({.id = "attribute",
                                           .text = "Attribute as colours",
                                           .chip = "attribute",
                                           .key = "Ctrl+7",
                                           .tip = "A value on the elements as colours, with its scale",
                                           .place = 7,
                                           .glsl = R"(
    vec3 base = gl_FrontFacing ? tint : tint * vec3(0.62, 0.58, 0.56);
    color = inked(drawn(base, v, m), edge_cover(edges >> 3, line_width * 0.6) * 0.5);
)",
                                           .paints_attribute = true});

}  // namespace

}  // namespace bricol
