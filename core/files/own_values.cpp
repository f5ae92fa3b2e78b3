// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/own_values.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/shape/skeleton.h"

namespace bricol {

std::vector<const Attribute*> own_values(const Attributes& attributes, Domain domain) {
    constexpr std::string_view known[] = {attribute_name::normal,   attribute_name::uv, attribute_name::light_uv,
                                          attribute_name::material, attribute_name::id, attribute_name::colour};
    std::vector<const Attribute*> out;
    for (const Attribute& attribute : attributes.all())
        if (attribute.domain == domain && std::ranges::find(known, attribute.name) == std::end(known))
            out.push_back(&attribute);
    return out;
}

std::vector<const Attribute*> own_values(const Mesh& mesh, Domain domain) {
    std::vector<const Attribute*> out = own_values(mesh.attributes, domain);
    if (!mesh.skeleton) return out;
    std::erase_if(out, [&](const Attribute* one) {
        return std::ranges::any_of(mesh.skeleton->joints, [&](const Joint& joint) { return joint.name == one->name; });
    });
    return out;
}

std::vector<std::string> plain_names(const std::vector<const Attribute*>& values, bool capitals) {
    std::vector<std::string> out;
    for (const Attribute* one : values) {
        std::string name;
        for (const char c : one->name) {
            const bool letter = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
            name += !letter ? '_' : capitals && c >= 'a' && c <= 'z' ? static_cast<char>(c - 'a' + 'A') : c;
        }
        const std::string first = name;
        for (int n = 2; std::ranges::find(out, name) != out.end(); ++n) name = fmt::format("{}_{}", first, n);
        out.push_back(name);
    }
    return out;
}

std::size_t value_width(const Column& column) {
    return std::visit(
        [](const auto& values) -> std::size_t {
            using T = typename std::decay_t<decltype(values)>::value_type;
            if constexpr (std::is_arithmetic_v<T>)
                return 1;
            else
                return static_cast<std::size_t>(T::length());
        },
        column);
}

float value_at(const Column& column, std::size_t element, std::size_t component) {
    return std::visit(
        [&](const auto& values) -> float {
            using T = typename std::decay_t<decltype(values)>::value_type;
            if constexpr (std::is_arithmetic_v<T>)
                return static_cast<float>(values[element]);
            else
                return values[element][static_cast<int>(component)];
        },
        column);
}

Array<Vec4> point_colours(const Mesh& mesh) {
    if (const auto* own = mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour)) return *own;
    const auto* corners = mesh.attributes.values<Vec4>(Domain::corner, attribute_name::colour);
    if (!corners) return {};
    Array<Vec4> sum(mesh.vertex_count(), Vec4(0));
    std::vector<float> count(mesh.vertex_count(), 0);
    for (std::size_t c = 0; c < corners->size(); ++c) {
        sum[mesh.topology->corner_vertex[c]] += (*corners)[c];
        ++count[mesh.topology->corner_vertex[c]];
    }
    for (std::size_t v = 0; v < sum.size(); ++v) sum[v] /= std::max(count[v], 1.f);
    return sum;
}

}  // namespace bricol
