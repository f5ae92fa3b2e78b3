// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading see_through_shading({.id = "see_through",
                                             .text = "See-through",
                                             .chip = "see-through",
                                             .key = "Ctrl+4",
                                             .tip = "The form as if of thin paper, and what lies behind it",
                                             .place = 4,
                                             .glsl = R"(
    float wire = max(edge_cover(edges, line_width * 0.5) * 0.35, edge_cover(edges >> 3, line_width * 0.7) * 0.8);
    color = vec4(mix(drawn(own_base(), v, m), ink, wire), mix(0.16 + 0.45 * rim_of(v, m), 0.85, wire) * alpha);
)",
                                             .through = true});

}  // namespace

}  // namespace bricol
