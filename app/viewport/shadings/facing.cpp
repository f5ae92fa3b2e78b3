// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading facing_shading({.id = "facing",
                                        .text = "Which way faces point",
                                        .chip = "which way faces point",
                                        .key = "Ctrl+5",
                                        .tip = "Outsides in one colour, insides in another",
                                        .place = 5,
                                        .glsl = R"(
    float wire = max(edge_cover(edges, line_width * 0.3) * 0.34, edge_cover(edges >> 3, line_width * 0.5) * 0.72);
    color = inked(drawn(gl_FrontFacing ? front_tint : back_tint, v, m), wire);
)",
                                        .both_sides = true});

}  // namespace

}  // namespace bricol
