// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/mesh_buffer.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/kernels/normals.h"
#include "core/kernels/numbers_on.h"
#include "core/kernels/triangulate.h"
#include "core/ground/colour.h"
#include "core/ground/parallel.h"

namespace bricol {

namespace {

std::uint32_t packed(const Vec3& n) {
    const auto part = [](float v) {
        return static_cast<std::uint32_t>(static_cast<std::int32_t>(v * 511 + (v < 0 ? -0.5f : 0.5f))) & 1023u;
    };
    return part(n.x) | part(n.y) << 10 | part(n.z) << 20;
}

std::uint32_t packed_colour(const Vec3& c, float alpha) {
    const auto part = [](float v) { return static_cast<std::uint32_t>(std::lround(std::clamp(v, 0.0f, 1.0f) * 255)); };
    return part(c.x) | part(c.y) << 8 | part(c.z) << 16 | part(alpha) << 24;
}

/// White, and by its alpha no colour of its own: white that was given is another thing.
constexpr std::uint32_t uncoloured = 0x00ffffffu;

/// Colour of every corner; empty when there is none.
Array<std::uint32_t> tints_of(const Mesh& mesh, const Paint& paint) {
    const std::size_t corners = mesh.topology->corner_count();
    Array<std::uint32_t> out;
    if (!paint.attribute.empty()) {
        const auto values = numbers_on(mesh, Domain::corner, paint.attribute);
        out.assign(corners, packed_colour(Vec3(0.62f, 0.62f, 0.62f), 1));
        if (!values) return out;
        const double span = paint.high > paint.low ? paint.high - paint.low : 1;
        parallel::each(std::size_t(0), corners, [&](std::size_t c) {
            out[c] = packed_colour(scale_colour((static_cast<double>((*values)[c]) - paint.low) / span), 1);
        });
        return out;
    }
    const auto* own = mesh.attributes.values<Vec4>(Domain::corner, attribute_name::colour);
    const auto* shared = own ? nullptr : mesh.attributes.values<Vec4>(Domain::vertex, attribute_name::colour);
    if (!own && !shared) return out;
    const auto shown = [](const Vec4& c) {
        return packed_colour(Vec3(to_screen(c.x), to_screen(c.y), to_screen(c.z)), 1);
    };
    out.resize(corners);
    for (std::size_t c = 0; c < corners; ++c)
        out[c] = shown(own ? (*own)[c] : (*shared)[mesh.topology->corner_vertex[c]]);
    return out;
}

/// Place of every face's material in the table of its mesh, 0 for none; shifted to where DrawVertex::mask wants it.
Array<std::uint32_t> looks_of(const Mesh& mesh) {
    Array<std::uint32_t> looks(mesh.face_count(), 0);
    const auto* numbers = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    if (!numbers || !mesh.materials) return looks;
    std::int32_t last = 0;
    std::uint32_t place = 0;
    for (std::size_t f = 0; f < looks.size(); ++f) {
        if ((*numbers)[f] != last) {
            last = (*numbers)[f];
            place = 0;
            for (std::size_t i = 0; i + 1 < most_materials && i < mesh.materials->size(); ++i)
                if ((*mesh.materials)[i].number == last) place = static_cast<std::uint32_t>(i + 1) << 8;
        }
        looks[f] = place;
    }
    return looks;
}

}  // namespace

Vec3 scale_colour(double share) {
    // Deep water to dry sand: lightness rises all the way, so it reads in grey as well.
    static constexpr std::array<std::array<float, 3>, 6> stops = {{{0.10f, 0.13f, 0.27f},
                                                                   {0.11f, 0.33f, 0.45f},
                                                                   {0.16f, 0.53f, 0.49f},
                                                                   {0.47f, 0.69f, 0.44f},
                                                                   {0.84f, 0.78f, 0.42f},
                                                                   {0.98f, 0.92f, 0.74f}}};
    const double at = std::clamp(share, 0.0, 1.0) * (stops.size() - 1);
    const auto i = std::min(static_cast<std::size_t>(at), stops.size() - 2);
    const auto t = static_cast<float>(at - static_cast<double>(i));
    const auto c = [&](std::size_t k) { return stops[i][k] + (stops[i + 1][k] - stops[i][k]) * t; };
    return {c(0), c(1), c(2)};
}

Array<DrawVertex> draw_vertices(const Mesh& mesh, const Paint& paint) {
    const Topology& t = *mesh.topology;
    const Triangles triangles = triangulated(mesh);
    const Array<Vec3> normals = corner_normals(mesh);
    const Array<Vec3> flat = face_normals(mesh);
    const Adjacency& near = t.adjacency();
    const float cosine = std::cos(glm::radians(40.0f));
    Array<std::uint8_t> sharp(t.edge_count());
    parallel::each(parallel::Numbers<Index>(0, static_cast<Index>(t.edge_count()), 8192), [&](const auto& range) {
        for (Index e = range.begin(); e != range.end(); ++e) {
            const auto faces = near.faces_of_edge(e);
            sharp[e] = faces.size() != 2 || glm::dot(flat[faces[0]], flat[faces[1]]) < cosine;
        }
    });
    const Array<std::uint32_t> looks = looks_of(mesh), tints = tints_of(mesh, paint);
    Array<DrawVertex> out(triangles.corners.size());
    parallel::each(parallel::Numbers<std::size_t>(0, triangles.count(), 4096), [&](const auto& range) {
        for (std::size_t i = range.begin(); i != range.end(); ++i) {
            const Index* c = triangles.corners.data() + 3 * i;
            const Index begin = t.face_offsets[triangles.face[i]], end = t.face_offsets[triangles.face[i] + 1];
            std::uint32_t mask = looks[triangles.face[i]];
            for (int k = 0; k < 3; ++k) {
                const Index from = c[(k + 1) % 3], to = c[(k + 2) % 3];
                if (to != (from + 1 == end ? begin : from + 1)) continue;  // a diagonal of the face
                mask |= 1u << k;
                if (sharp[t.corner_edge[from]]) mask |= 8u << k;
            }
            for (int k = 0; k < 3; ++k)
                out[3 * i + k] = {(*mesh.positions)[t.corner_vertex[c[k]]], packed(normals[c[k]]),
                                  tints.empty() ? uncoloured : tints[c[k]], mask};
        }
    });
    return out;
}

}  // namespace bricol
