// SPDX-License-Identifier: GPL-3.0-or-later
// Binary STL, triangles with their flat normals.
#include "core/files/format.h"
#include "core/files/formats/text_rows.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

void write_stl(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    std::vector<Triangles> all;
    std::uint32_t count = 0;
    for (const NamedShape& named : shapes) {
        all.push_back(triangulated(named.shape->mesh));
        count += static_cast<std::uint32_t>(all.back().count());
    }
    std::string head = "Bricol";  // 80 bytes that must not begin with "solid", which would mean text
    head.resize(80, ' ');
    head.append(reinterpret_cast<const char*>(&count), 4);
    sink(head);
    const float scale = static_cast<float>(options.scale);
    for (std::size_t s = 0; s < all.size(); ++s) {
        const Mesh& mesh = shapes[s].shape->mesh;
        write_rows(all[s].count(), sink, [&](RowBuffer& out, std::size_t i) {
            Vec3 p[3];
            for (int k = 0; k < 3; ++k)
                p[k] =
                    directed((*mesh.positions)[mesh.topology->corner_vertex[all[s].corners[3 * i + k]]], *options.up) *
                    scale;
            Vec3 normal = glm::cross(p[1] - p[0], p[2] - p[0]);
            const float length = glm::length(normal);
            normal = length > 0 ? normal / length : Vec3(0);
            const std::uint16_t nothing = 0;
            out.room(50);
            out.add_bytes(&normal, 12);
            out.add_bytes(p, 36);
            out.add_bytes(&nothing, 2);
        });
    }
}

const RegisteredFormat stl_format({.suffix = "stl",
                                   .name = "STL",
                                   .customs = "millimetres, z up (common practice)",
                                   .scale = 1000,
                                   .up = UpAxis::z,
                                   .write = write_stl});

}  // namespace

}  // namespace bricol
