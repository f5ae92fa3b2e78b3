// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/material.h"

#include <array>
#include <xxhash.h>

namespace bricol {

std::int32_t material_number(const Material& m) {
    const std::array<float, 9> values = {m.colour.x, m.colour.y,  m.colour.z,
                                         m.metallic, m.roughness, m.transmission,
                                         m.ior,      m.alpha,     m.double_sided ? 1.0f : 0.0f};
    const std::uint64_t name = XXH3_64bits(m.name.data(), m.name.size());
    std::uint64_t hash = XXH3_64bits_withSeed(values.data(), sizeof values, name);
    // What came later counts where it is used alone: the numbers of older materials stay.
    const std::array<float, 16> more = {
        m.emission.x, m.emission.y, m.emission.z,  m.coat,        m.coat_roughness, m.tint.x,   m.tint.y, m.tint.z,
        m.tint_depth, m.bump,       m.bump_size.x, m.bump_size.y, m.bump_size.z,    m.rounding, 0.0f,     0.0f};
    if (m.emission != Vec3(0) || m.coat > 0 || m.tint_depth > 0 || m.bump > 0 || m.rounding > 0)
        hash = XXH3_64bits_withSeed(more.data(), sizeof more, hash);
    const auto number = static_cast<std::int32_t>(hash & 0x7fffffff);
    return number == 0 ? 1 : number;
}

const Material* find_material(const MaterialList* list, std::int32_t number) {
    if (list && number != 0)
        for (const NumberedMaterial& entry : *list)
            if (entry.number == number) return &entry.material;
    return nullptr;
}

std::shared_ptr<const MaterialList> united(const std::shared_ptr<const MaterialList>& a,
                                           const std::shared_ptr<const MaterialList>& b) {
    if (!b || a == b) return a;
    if (!a) return b;
    std::shared_ptr<MaterialList> both;
    for (const NumberedMaterial& entry : *b) {
        if (find_material(a.get(), entry.number)) continue;
        if (!both) both = std::make_shared<MaterialList>(*a);
        both->push_back(entry);
    }
    return both ? both : a;
}

}  // namespace bricol
