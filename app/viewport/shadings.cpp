// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/shadings.h"

#include <algorithm>
#include <fmt/format.h>
#include <stdexcept>
#include <vector>

namespace bricol {

namespace {

std::vector<const ShadingInfo*>& shadings() {
    static std::vector<const ShadingInfo*> all;
    return all;
}

}  // namespace

RegisteredShading::RegisteredShading(const ShadingInfo& info) {
    auto& all = shadings();
    all.insert(std::ranges::upper_bound(all, info.place, {}, &ShadingInfo::place), new ShadingInfo(info));
}

std::span<const ShadingInfo* const> all_shadings() { return shadings(); }

const ShadingInfo* find_shading(std::string_view id) {
    const auto found = std::ranges::find(shadings(), id, &ShadingInfo::id);
    return found == shadings().end() ? nullptr : *found;
}

const ShadingInfo& shading_named(std::string_view id) {
    const ShadingInfo* found = find_shading(id);
    if (!found) throw std::logic_error(fmt::format("no shading “{}”", id));
    return *found;
}

int shading_number(const ShadingInfo& shading) {
    return static_cast<int>(std::ranges::find(shadings(), &shading) - shadings().begin());
}

std::string shading_function(const ShadingInfo& shading) {
    return fmt::format("void shade(vec3 v, vec3 m) {{\n{}\n}}\n", shading.glsl);
}

}  // namespace bricol
