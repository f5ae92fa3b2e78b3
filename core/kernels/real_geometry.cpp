// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/real_geometry.h"

#include "core/kernels/transform.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

/// Every column of the mesh, `times` over.
Attributes repeated_columns(const Attributes& one, std::size_t times) {
    Attributes out;
    for (const Attribute& attribute : one.all()) {
        if (attribute.domain == Domain::whole) {
            out.set(attribute);
            continue;
        }
        out.set(attribute.domain, attribute.name,
                std::visit(
                    [&](const auto& values) -> Column {
                        std::decay_t<decltype(values)> all(values.size() * times);
                        for (std::size_t k = 0; k < times; ++k)
                            std::copy(values.begin(), values.end(),
                                      all.begin() + static_cast<std::ptrdiff_t>(k * values.size()));
                        return all;
                    },
                    *attribute.values));
    }
    return out;
}

/// Copies with a colour of their own hand it to their points, which it tints.
void colour_copies(Mesh& mesh, const Instances& group, std::size_t points_each) {
    const auto* colours = group.attributes.values<Vec4>(Domain::instance, attribute_name::colour);
    if (!colours || points_each == 0) return;
    if (const auto* corners = mesh.attributes.values<Vec4>(Domain::corner, attribute_name::colour)) {
        Array<Vec4> tinted = *corners;
        for (std::size_t c = 0; c < tinted.size(); ++c)
            tinted[c] *= (*colours)[mesh.topology->corner_vertex[c] / points_each];
        mesh.attributes.set(Domain::corner, attribute_name::colour, std::move(tinted));
        return;
    }
    const auto* own = mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour);
    Array<Vec4> tinted(mesh.vertex_count());
    for (std::size_t v = 0; v < tinted.size(); ++v)
        tinted[v] = (own ? (*own)[v] : Vec4(1)) * (*colours)[v / points_each];
    mesh.attributes.set(Domain::vertex, attribute_name::colour, std::move(tinted));
}

}  // namespace

Mesh repeated(const Mesh& mesh, std::span<const glm::mat4> places) {
    const auto mirrors = [](const glm::mat4& m) { return glm::determinant(glm::mat3(m)) < 0; };
    bool any_mirror = false;
    for (const glm::mat4& place : places) any_mirror |= mirrors(place);
    if (any_mirror || places.size() == 1) {
        std::vector<Mesh> copies;
        Shape one;
        one.mesh = mesh;
        for (const glm::mat4& place : places) copies.push_back(transformed(one, glm::dmat4(place)).mesh);
        return joined_meshes(copies);
    }
    const Topology& t = *mesh.topology;
    const std::size_t times = places.size(), vertices = t.vertex_count, edges = t.edge_count(), faces = t.face_count(),
                      corners = t.corner_count();
    auto topology = std::make_shared<Topology>();
    topology->vertex_count = static_cast<Index>(vertices * times);
    topology->edges.resize(edges * times);
    topology->face_offsets.resize(faces * times + 1);
    topology->face_offsets[0] = 0;
    topology->corner_vertex.resize(corners * times);
    topology->corner_edge.resize(corners * times);
    Array<Vec3> points(vertices * times);
    Mesh out;
    out.attributes = repeated_columns(mesh.attributes, times);
    std::array<Array<Vec3>, 2> normals;
    const std::array<Domain, 2> normal_domains = {Domain::vertex, Domain::corner};
    for (int d = 0; d < 2; ++d)
        if (const auto* given = out.attributes.values<Vec3>(normal_domains[d], attribute_name::normal))
            normals[d] = *given;
    parallel::each(std::size_t(0), times, [&](std::size_t k) {
        const glm::mat4& place = places[k];
        const auto base = static_cast<Index>(k * vertices), edge_base = static_cast<Index>(k * edges),
                   corner_base = static_cast<Index>(k * corners);
        for (std::size_t v = 0; v < vertices; ++v) points[base + v] = Vec3(place * Vec4((*mesh.positions)[v], 1));
        for (std::size_t e = 0; e < edges; ++e)
            topology->edges[edge_base + e] = {t.edges[e][0] + base, t.edges[e][1] + base};
        for (std::size_t f = 0; f < faces; ++f)
            topology->face_offsets[k * faces + f + 1] = corner_base + t.face_offsets[f + 1];
        for (std::size_t c = 0; c < corners; ++c) {
            topology->corner_vertex[corner_base + c] = t.corner_vertex[c] + base;
            topology->corner_edge[corner_base + c] = t.corner_edge[c] + edge_base;
        }
        const glm::mat3 turn = glm::transpose(glm::inverse(glm::mat3(place)));
        for (Array<Vec3>& list : normals) {
            const std::size_t each = list.size() / times;
            for (std::size_t i = k * each; i < (k + 1) * each; ++i) {
                const Vec3 n = turn * list[i];
                const float length = glm::length(n);
                list[i] = length > 0 ? n / length : Vec3(0, 0, 1);
            }
        }
    });
    out.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    out.topology = std::move(topology);
    out.materials = mesh.materials;
    out.skeleton = mesh.skeleton;
    for (int d = 0; d < 2; ++d)
        if (!normals[d].empty()) out.attributes.set(normal_domains[d], attribute_name::normal, std::move(normals[d]));
    return out;
}

ShapePtr real_geometry(const ShapePtr& shape) {
    if (!shape || shape->instances.empty()) return shape;
    auto out = std::make_shared<Shape>();
    out->curves = shape->curves;
    std::vector<Mesh> meshes{shape->mesh};
    for (const Instances& group : shape->instances) {
        const ShapePtr one = real_geometry(group.shape);
        if (!one->mesh.empty()) {
            Mesh mesh = repeated(one->mesh, group.places);
            colour_copies(mesh, group, one->mesh.vertex_count());
            meshes.push_back(std::move(mesh));
        }
        if (!one->curves.empty()) {
            Shape curves;
            curves.curves = one->curves;
            for (const glm::mat4& place : group.places) {
                const Shape moved = transformed(curves, glm::dmat4(place));
                out->curves.insert(out->curves.end(), moved.curves.begin(), moved.curves.end());
            }
        }
    }
    out->mesh = joined_meshes(meshes);
    return out;
}

std::vector<PlacedMesh> placed_meshes(const ShapePtr& shape) {
    std::vector<PlacedMesh> list;
    if (!shape) return list;
    if (!shape->mesh.empty()) list.push_back({shape, Array<glm::mat4>(1, glm::mat4(1)), {}});
    for (const Instances& group : shape->instances) {
        const auto* colours = group.attributes.values<Vec4>(Domain::instance, attribute_name::colour);
        for (PlacedMesh& inner : placed_meshes(group.shape)) {
            Array<glm::mat4> places;
            Array<Vec4> tints;
            Array<Index> outer, within;
            places.reserve(group.places.size() * inner.places.size());
            for (std::size_t o = 0; o < group.places.size(); ++o)
                for (std::size_t i = 0; i < inner.places.size(); ++i) {
                    places.push_back(group.places[o] * inner.places[i]);
                    outer.push_back(static_cast<Index>(o)), within.push_back(static_cast<Index>(i));
                    if (colours || !inner.tints.empty())
                        tints.push_back((colours ? (*colours)[o] : Vec4(1)) *
                                        (inner.tints.empty() ? Vec4(1) : inner.tints[i]));
                }
            Attributes values;
            group.attributes.gather_into(values, Domain::instance, outer);
            inner.values.gather_into(values, Domain::instance, within);
            values.remove(Domain::instance, attribute_name::colour);
            list.push_back({inner.shape, std::move(places), std::move(tints), std::move(values)});
        }
    }
    return list;
}

ShapePtr written_out(const PlacedMesh& placed) {
    auto alone = std::make_shared<Shape>();
    alone->mesh = placed.shape->mesh;
    Attributes colours;
    if (!placed.tints.empty()) colours.set(Domain::instance, attribute_name::colour, placed.tints);
    auto copies = std::make_shared<Shape>();
    copies->instances.emplace_back(std::move(alone), placed.places, std::move(colours));
    const ShapePtr real = real_geometry(copies);
    if (placed.values.all().empty() || placed.shape->mesh.vertex_count() == 0) return real;
    auto out = std::make_shared<Shape>(*real);
    Array<Index> copy(out->mesh.vertex_count());
    for (std::size_t v = 0; v < copy.size(); ++v) copy[v] = static_cast<Index>(v / placed.shape->mesh.vertex_count());
    Attributes on_points;
    placed.values.gather_into(on_points, Domain::instance, copy);
    for (const Attribute& one : on_points.all())
        if (!out->mesh.attributes.find(Domain::vertex, one.name) &&
            !out->mesh.attributes.find(Domain::corner, one.name))
            out->mesh.attributes.set(Domain::vertex, one.name, *one.values);
    return out;
}

}  // namespace bricol
