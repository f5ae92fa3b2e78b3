// SPDX-License-Identifier: GPL-3.0-or-later
// The materials of Skerry Quay, to start from.
#pragma once

#include <span>
#include <string_view>

#include "core/shape/material.h"

namespace bricol {

struct KitMaterial {
    std::string_view key;
    Material material;
};
/// In the order they are offered.
std::span<const KitMaterial> material_kit();
const Material* kit_material(std::string_view key);

}  // namespace bricol
