// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

namespace bricol {

namespace {

const RegisteredShading clay_shading({.id = "clay",
                                      .text = "Clay",
                                      .chip = "clay",
                                      .key = "Ctrl+1",
                                      .tip = "The form alone, its sharp edges drawn thin",
                                      .place = 1,
                                      .glsl = R"(
    color = inked(drawn(own_base(), v, m), edge_cover(edges >> 3, line_width * 0.6) * 0.5);
)"});

}  // namespace

}  // namespace bricol
