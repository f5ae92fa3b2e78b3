// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading wire_shading({.id = "wire",
                                      .text = "Wire only",
                                      .chip = "wire only",
                                      .key = "Ctrl+3",
                                      .tip = "The edges alone",
                                      .place = 3,
                                      .glsl = R"(
    float wire = max(edge_cover(edges, line_width * 0.5) * 0.75, edge_cover(edges >> 3, line_width * 0.8));
    if (wire < 0.02) discard;
    color = vec4(ink, wire * alpha);
)",
                                      .through = true});

}  // namespace

}  // namespace bricol
