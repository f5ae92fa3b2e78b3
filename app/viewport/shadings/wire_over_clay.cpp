// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading wire_over_clay_shading({.id = "wire_over_clay",
                                                .text = "Wire over clay",
                                                .chip = "wire over clay",
                                                .key = "Ctrl+2",
                                                .tip = "The form with all its edges, sharp ones stronger",
                                                .place = 2,
                                                .glsl = R"(
    float wire = max(edge_cover(edges, line_width * 0.3) * 0.34, edge_cover(edges >> 3, line_width * 0.5) * 0.72);
    if (sharp_only > 0.5) wire = edge_cover(edges >> 3, line_width * 0.6) * 0.5;
    color = inked(drawn(own_base(), v, m), wire);
)",
                                                .sharp_when_many = true});

}  // namespace

}  // namespace bricol
