// SPDX-License-Identifier: GPL-3.0-or-later
// What faces look like: glTF 2.0's metallic-roughness model with KHR_materials_transmission, _ior,
// _volume, _clearcoat and _emissive_strength; a relief and rounded edges are for our own pictures alone.
#pragma once

#include "core/ground/types.h"

namespace bricol {

struct Material {
    std::string name;
    Vec3 colour{0.58f, 0.54f, 0.44f};  ///< linear, 0..1
    float metallic = 0, roughness = 0.8f;
    float transmission = 0;  ///< share of the light that passes, 0..1
    float ior = 1.5f;        ///< index of refraction
    float alpha = 1;
    bool double_sided = false;
    Vec3 emission{0};                        ///< radiance it sends out by itself (W / m^2 sr)
    float coat = 0, coat_roughness = 0.05f;  ///< share of a clear layer over all
    Vec3 tint{1};                            ///< what is left of white light after `tint_depth` through it
    float tint_depth = 0;                    ///< metres; 0 for none
    float bump = 0;                          ///< height of a fine relief, in light alone (metres)
    Vec3 bump_size{0.01f};                   ///< of its bumps along x, y and z (metres)
    float rounding = 0;                      ///< radius by which hard edges catch light (metres)
    friend bool operator==(const Material&, const Material&) = default;
};

/// Number of a material, made from all of its values: the same material has the same number in every mesh, so that
/// meshes can be joined without renumbering. Never 0, which means "none".
std::int32_t material_number(const Material& material);

/// The materials that a mesh's faces may refer to, by number.
struct NumberedMaterial {
    std::int32_t number = 0;
    Material material;
};
using MaterialList = std::vector<NumberedMaterial>;

/// Both lists, first come first; an absent list counts as empty.
std::shared_ptr<const MaterialList> united(const std::shared_ptr<const MaterialList>& a,
                                           const std::shared_ptr<const MaterialList>& b);
/// The material of that number, or null.
const Material* find_material(const MaterialList* list, std::int32_t number);

}  // namespace bricol
