// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/material_kit.h"

#include <array>

namespace bricol {

std::span<const KitMaterial> material_kit() {
    // Colours are linear. Metals carry theirs as reflectance; all values are made up for the demo kit.
    static const std::array<KitMaterial, 12> kit = {{
        {"steel", {"painted steel", {0.07f, 0.16f, 0.19f}, 0, 0.42f, 0, 1.5f, 1, false}},
        {"bare_steel", {"bare steel", {0.46f, 0.47f, 0.48f}, 1, 0.36f, 0, 1.5f, 1, false}},
        {"zinc", {"galvanised zinc", {0.58f, 0.60f, 0.62f}, 1, 0.52f, 0, 1.5f, 1, false}},
        {"brass", {"brass", {0.78f, 0.52f, 0.18f}, 1, 0.28f, 0, 1.5f, 1, false}},
        {"bronze", {"old bronze", {0.36f, 0.25f, 0.13f}, 1, 0.5f, 0, 1.5f, 1, false}},
        {"oak", {"salt-bleached oak", {0.42f, 0.33f, 0.23f}, 0, 0.82f, 0, 1.5f, 1, false}},
        {"teak", {"oiled teak", {0.26f, 0.12f, 0.05f}, 0, 0.5f, 0, 1.5f, 1, false}},
        {"rope", {"tarred rope", {0.035f, 0.025f, 0.018f}, 0, 0.9f, 0, 1.5f, 1, false}},
        {"rubber", {"fender rubber", {0.02f, 0.02f, 0.022f}, 0, 0.72f, 0, 1.5f, 1, false}},
        {"red_lead", {"red lead paint", {0.44f, 0.07f, 0.035f}, 0, 0.5f, 0, 1.5f, 1, false}},
        {"granite", {"quay granite", {0.25f, 0.25f, 0.26f}, 0, 0.88f, 0, 1.5f, 1, false}},
        {"glass", {"lantern glass", {0.82f, 0.94f, 0.91f}, 0, 0.04f, 0.94f, 1.52f, 1, false}},
    }};
    return kit;
}

const Material* kit_material(std::string_view key) {
    for (const KitMaterial& entry : material_kit())
        if (entry.key == key) return &entry.material;
    return nullptr;
}

}  // namespace bricol
