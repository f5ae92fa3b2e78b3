// SPDX-License-Identifier: GPL-3.0-or-later
// Wavefront OBJ: an object per part, polygons kept.
#include <fmt/format.h>

#include "core/files/format.h"
#include "core/files/formats/text_rows.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

namespace {

void write_obj(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    sink(fmt::format("# Bricol\n# {} units a metre, {} up\n", options.scale, *options.up == UpAxis::y ? "y" : "z"));
    const float scale = static_cast<float>(options.scale);
    std::size_t vertex_base = 1, variant_base = 1, uv_base = 1;
    for (const NamedShape& named : shapes) {
        const Mesh& mesh = named.shape->mesh;
        const Topology& t = *mesh.topology;
        const SplitMesh split = split_vertices(mesh);
        sink(fmt::format("o {}\n", named.name));
        const auto vector_row = [](RowBuffer& out, std::string_view key, const Vec3& v) {
            out.room(80);
            out.add(key);
            out.add(v.x), out.add(' ');
            out.add(v.y), out.add(' ');
            out.add(v.z), out.add('\n');
        };
        write_rows(mesh.vertex_count(), sink, [&](RowBuffer& out, std::size_t i) {
            vector_row(out, "v ", directed((*mesh.positions)[i], *options.up) * scale);
        });
        write_rows(split.uvs.size(), sink, [&](RowBuffer& out, std::size_t i) {
            out.room(60);
            out.add("vt ");
            out.add(split.uvs[i].x), out.add(' ');
            out.add(split.uvs[i].y), out.add('\n');
        });
        write_rows(split.normals.size(), sink, [&](RowBuffer& out, std::size_t i) {
            vector_row(out, "vn ", directed(split.normals[i], *options.up));
        });
        write_rows(t.face_count(), sink, [&](RowBuffer& out, std::size_t f) {
            out.room(4 + (t.face_offsets[f + 1] - t.face_offsets[f]) * 64);
            out.add('f');
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                out.add(' ');
                out.add(vertex_base + t.corner_vertex[c]);
                out.add('/');
                if (!split.uvs.empty()) out.add(uv_base + split.corner[c]);
                out.add('/');
                out.add(variant_base + split.corner[c]);
            }
            out.add('\n');
        });
        vertex_base += mesh.vertex_count();
        variant_base += split.normals.size();
        uv_base += split.uvs.size();
    }
}

const RegisteredFormat obj_format({.suffix = "obj",
                                   .name = "Wavefront OBJ",
                                   .customs = "metres, y up (common practice)",
                                   .scale = 1,
                                   .up = UpAxis::y,
                                   .keeps_copies = false,
                                   .write = write_obj});

}  // namespace

}  // namespace bricol
