// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"
#include "app/viewport/shadings/material_look.h"

namespace bricol {

namespace {

const RegisteredShading materials_shading(
    {.id = "materials",
     .text = "Materials",
     .chip = "materials",
     .key = "Ctrl+6",
     .tip = "Metal, paint, glass and the rest as the recipe says, in a made-up room",
     .place = 6,
     .glsl = material_look,
     .glass = true});

}  // namespace

}  // namespace bricol
