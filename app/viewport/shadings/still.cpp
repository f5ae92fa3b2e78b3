// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"
#include "app/viewport/shadings/material_look.h"

namespace bricol {

namespace {

const RegisteredShading still_shading(
    {.id = "still",
     .text = "Still",
     .chip = "still",
     .key = "Ctrl+8",
     .tip = "A finished picture under the recipe's lights, that refines while the hand rests",
     .place = 8,
     .glsl = material_look,
     .still = true,
     .glass = true});

}  // namespace

}  // namespace bricol
