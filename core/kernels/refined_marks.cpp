// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/refined_marks.h"

#include <algorithm>

namespace bricol {

void keep_vertex_marks(const RefinedMarks& marks, const Mesh& mesh, Mesh& fine_mesh) {
    const auto now = fine_mesh.vertex_count();
    const auto moved = [&](const auto& values) {
        std::decay_t<decltype(values)> fine(now, 0);
        for (std::size_t v = 0; v < values.size(); ++v) fine[marks.vertex_child[v]] = values[v];
        return fine;
    };
    for (const Attribute& a : mesh.attributes.all()) {
        if (a.domain != Domain::vertex) continue;
        if (const auto* set = std::get_if<Array<std::uint8_t>>(a.values.get()))
            fine_mesh.attributes.set(a.domain, a.name, moved(*set));
        const auto* numbers = std::get_if<Array<std::int32_t>>(a.values.get());
        if (!numbers) continue;
        Array<std::int32_t> fine = moved(*numbers);
        if (a.name == attribute_name::id) {
            std::vector<std::uint8_t> old(now, 0);
            for (const Index v : marks.vertex_child) old[v] = 1;
            std::int32_t next = 0;
            for (const std::int32_t id : *numbers) next = std::max(next, id + 1);
            for (std::size_t v = 0; v < now; ++v)
                if (!old[v]) fine[v] = next++;
        }
        fine_mesh.attributes.set(a.domain, a.name, std::move(fine));
    }
}

void keep_edge_values(const RefinedMarks& marks, const Mesh& mesh, Mesh& fine_mesh) {
    for (const Attribute& a : mesh.attributes.all()) {
        if (a.domain == Domain::vertex && a.name == attribute_name::corner) {
            const auto& before = std::get<Array<float>>(*a.values);
            Array<float> left(fine_mesh.vertex_count(), 0.0f);
            for (std::size_t v = 0; v < before.size(); ++v)
                if (before[v] > 0) left[marks.vertex_child[v]] = marks.vertex_sharpness[v];
            fine_mesh.attributes.set(a.domain, a.name, std::move(left));
        }
        if (a.domain != Domain::edge) continue;
        const bool crease = a.name == attribute_name::crease && std::holds_alternative<Array<float>>(*a.values);
        fine_mesh.attributes.set(a.domain, a.name,
                                 std::visit(
                                     [&](const auto& values) -> Column {
                                         using T = typename std::decay_t<decltype(values)>::value_type;
                                         std::decay_t<decltype(values)> fine(marks.edge_source.size(), T(0));
                                         for (std::size_t e = 0; e < fine.size(); ++e) {
                                             if (marks.edge_source[e] == no_index) continue;
                                             fine[e] = values[marks.edge_source[e]];
                                             if constexpr (std::is_same_v<T, float>)
                                                 if (crease && fine[e] > 0) fine[e] = marks.edge_sharpness[e];
                                         }
                                         return fine;
                                     },
                                     *a.values));
    }
}

}  // namespace bricol
