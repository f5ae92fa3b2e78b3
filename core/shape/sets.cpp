// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/sets.h"

#include <algorithm>

#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr std::array<Domain, 3> set_domains = {Domain::vertex, Domain::edge, Domain::face};

/// 1 for elements of which every part is in the mask.
Mask filled(std::size_t count, const auto& parts_of, const Mask& mask) {
    Mask out(count);
    for (std::size_t i = 0; i < count; ++i) {
        const auto parts = parts_of(i);
        out[i] = !parts.empty() && std::ranges::all_of(parts, [&](Index part) { return mask[part] != 0; });
    }
    return out;
}

}  // namespace

std::size_t count_of(const Mask& mask) {
    return static_cast<std::size_t>(std::ranges::count_if(mask, [](std::uint8_t b) { return b != 0; }));
}

std::vector<SetInfo> sets_of(const Mesh& mesh) {
    std::vector<SetInfo> list;
    for (const Attribute& attribute : mesh.attributes.all())
        if (std::ranges::find(set_domains, attribute.domain) != set_domains.end())
            if (const auto* mask = std::get_if<Mask>(attribute.values.get()))
                list.push_back({attribute.name, attribute.domain, count_of(*mask)});
    return list;
}

Mask turned_over(const Mesh& mesh, const Mask& mask, Domain from, Domain to) {
    if (from == to) return mask;
    const Topology& t = *mesh.topology;
    const auto face_edges = [&](std::size_t f) {
        return std::span<const Index>(t.corner_edge.data() + t.face_offsets[f],
                                      t.corner_edge.data() + t.face_offsets[f + 1]);
    };
    const auto edge_ends = [&](std::size_t e) { return std::span<const Index>(t.edges[e]); };
    if (to == Domain::face) {
        if (from == Domain::vertex)
            return filled(
                t.face_count(), [&](std::size_t f) { return t.face(f); }, mask);
        return filled(t.face_count(), face_edges, mask);
    }
    if (to == Domain::edge) {
        if (from == Domain::vertex) return filled(t.edge_count(), edge_ends, mask);
        Mask out(t.edge_count(), 0);
        for (std::size_t f = 0; f < t.face_count(); ++f)
            if (mask[f])
                for (Index e : face_edges(f)) out[e] = 1;
        return out;
    }
    Mask out(t.vertex_count, 0);
    if (from == Domain::edge) {
        for (std::size_t e = 0; e < t.edge_count(); ++e)
            if (mask[e]) out[t.edges[e][0]] = out[t.edges[e][1]] = 1;
    } else {
        for (std::size_t f = 0; f < t.face_count(); ++f)
            if (mask[f])
                for (Index v : t.face(f)) out[v] = 1;
    }
    return out;
}

std::optional<Mask> set_members(const Mesh& mesh, Domain domain, std::string_view name) {
    if (const auto* mask = mesh.attributes.values<std::uint8_t>(domain, name)) return *mask;
    for (const Domain other : set_domains)
        if (const auto* mask = mesh.attributes.values<std::uint8_t>(other, name))
            return turned_over(mesh, *mask, other, domain);
    return std::nullopt;
}

void keep_set(Mesh& mesh, Domain domain, std::string_view name, Mask mask) {
    for (const Domain other : set_domains)
        if (mesh.attributes.values<std::uint8_t>(other, name)) mesh.attributes.remove(other, name);
    mesh.attributes.set(domain, name, std::move(mask));
}

std::string nearest_set(const Mesh& mesh, std::string_view name) {
    std::vector<std::string_view> names;
    const auto sets = sets_of(mesh);
    for (const SetInfo& set : sets) names.push_back(set.name);
    return std::string(nearest_word(names, name));
}

}  // namespace bricol
