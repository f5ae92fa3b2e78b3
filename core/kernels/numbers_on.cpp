// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/numbers_on.h"

#include <cmath>

namespace bricol {

namespace {

/// Calls f(element of `domain`, vertex) for every vertex an element touches.
template <class F>
void each_vertex(const Topology& t, Domain domain, F f) {
    if (domain == Domain::vertex)
        for (Index v = 0; v < t.vertex_count; ++v) f(v, v);
    else if (domain == Domain::edge)
        for (Index e = 0; e < t.edge_count(); ++e) f(e, t.edges[e][0]), f(e, t.edges[e][1]);
    else if (domain == Domain::face)
        for (Index i = 0; i < t.face_count(); ++i)
            for (const Index v : t.face(i)) f(i, v);
    else if (domain == Domain::corner)
        for (Index c = 0; c < t.corner_count(); ++c) f(c, t.corner_vertex[c]);
}

struct Means {
    std::vector<double> sum;
    std::vector<std::uint32_t> count;
    explicit Means(std::size_t n) : sum(n, 0), count(n, 0) {}
    void add(std::size_t i, double value) { sum[i] += value, ++count[i]; }
    Array<float> means() const {
        Array<float> out(sum.size());
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] = count[i] > 0 ? static_cast<float>(sum[i] / count[i]) : 0.0f;
        return out;
    }
};

}  // namespace

Array<float> carried(const Mesh& mesh, const Array<float>& values, Domain from, Domain to) {
    if (from == to) return values;
    const Topology& t = *mesh.topology;
    Means at_vertices(t.vertex_count);
    each_vertex(t, from, [&](Index element, Index v) { at_vertices.add(v, static_cast<double>(values[element])); });
    if (from == Domain::face && to == Domain::corner) {  // a corner is of one face only
        Array<float> out(t.corner_count());
        for (Index f = 0; f < t.face_count(); ++f)
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) out[c] = values[f];
        return out;
    }
    if (from == Domain::corner && to == Domain::face) {
        Means at_faces(t.face_count());
        for (Index f = 0; f < t.face_count(); ++f)
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c)
                at_faces.add(f, static_cast<double>(values[c]));
        return at_faces.means();
    }
    const Array<float> vertices = at_vertices.means();
    Means out(mesh.domain_sizes()[static_cast<std::size_t>(to)]);
    each_vertex(t, to, [&](Index element, Index v) { out.add(element, static_cast<double>(vertices[v])); });
    return out.means();
}

std::optional<Array<float>> numbers_on(const Mesh& mesh, Domain domain, std::string_view name) {
    const std::size_t dot = name.find('.');
    const std::string_view base = name.substr(0, dot);
    int component = -1;
    if (dot != std::string_view::npos) {
        const std::string_view letter = name.substr(dot + 1);
        for (const std::string_view letters : {"xyzw", "rgba"})
            if (letter.size() == 1 && letters.find(letter[0]) != std::string_view::npos)
                component = static_cast<int>(letters.find(letter[0]));
        if (component < 0) return std::nullopt;
    }
    for (const Domain from : {domain, Domain::vertex, Domain::face, Domain::corner, Domain::edge}) {
        const Attribute* found = mesh.attributes.find(from, base);
        if (!found) continue;
        Array<float> values = std::visit(
            [&](const auto& list) {
                Array<float> out(list.size());
                using T = typename std::decay_t<decltype(list)>::value_type;
                for (std::size_t i = 0; i < out.size(); ++i) {
                    if constexpr (std::is_arithmetic_v<T>)
                        out[i] = static_cast<float>(list[i]);
                    else
                        out[i] = component >= 0 && component < static_cast<int>(T::length()) ? list[i][component]
                                                                                             : glm::length(list[i]);
                }
                return out;
            },
            *found->values);
        return carried(mesh, values, from, domain);
    }
    return std::nullopt;
}

}  // namespace bricol
