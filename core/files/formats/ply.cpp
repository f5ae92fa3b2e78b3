// SPDX-License-Identifier: GPL-3.0-or-later
// Binary little-endian PLY, polygons kept.
#include <algorithm>
#include <array>
#include <fmt/format.h>

#include "core/files/format.h"
#include "core/files/formats/text_rows.h"
#include "core/ground/colour.h"
#include "core/kernels/split_vertices.h"

namespace bricol {

namespace {

/// A colour as a screen shows it: PLY's bytes are sRGB (common practice).
std::array<std::uint8_t, 4> screen_bytes(const Vec4& linear) {
    std::array<std::uint8_t, 4> out{};
    for (int i = 0; i < 4; ++i) {
        const double held = std::clamp(static_cast<double>(linear[i]), 0.0, 1.0);
        out[static_cast<std::size_t>(i)] =
            static_cast<std::uint8_t>(std::lround((i < 3 ? to_screen(held) : held) * 255));
    }
    return out;
}

void write_ply(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    std::vector<SplitMesh> splits;
    std::size_t vertices = 0, faces = 0;
    bool uvs = true, colours = false;
    for (const NamedShape& named : shapes) {
        splits.push_back(split_vertices(named.shape->mesh));
        vertices += splits.back().positions.size();
        faces += named.shape->mesh.face_count();
        uvs &= !splits.back().uvs.empty();
        colours |= !splits.back().colours.empty();
    }
    std::string head = "ply\nformat binary_little_endian 1.0\ncomment Bricol\n";
    head += fmt::format("comment {} units a metre, {} up\n", options.scale, *options.up == UpAxis::y ? "y" : "z");
    head += fmt::format("element vertex {}\n", vertices);
    for (const char* name : {"x", "y", "z", "nx", "ny", "nz"}) head += fmt::format("property float {}\n", name);
    if (uvs) head += "property float s\nproperty float t\n";
    if (colours)
        for (const char* name : {"red", "green", "blue", "alpha"}) head += fmt::format("property uchar {}\n", name);
    head += fmt::format("element face {}\nproperty list uint uint vertex_indices\nend_header\n", faces);
    sink(head);
    const float scale = static_cast<float>(options.scale);
    for (const SplitMesh& split : splits)
        write_rows(split.positions.size(), sink, [&](RowBuffer& out, std::size_t i) {
            const Vec3 p = directed(split.positions[i], *options.up) * scale,
                       n = directed(split.normals[i], *options.up);
            out.room(36);
            out.add_bytes(&p, 12);
            out.add_bytes(&n, 12);
            if (uvs) out.add_bytes(&split.uvs[i], 8);
            if (!colours) return;
            const auto bytes = screen_bytes(split.colours.empty() ? Vec4(1) : split.colours[i]);
            out.add_bytes(bytes.data(), 4);
        });
    Index base = 0;
    for (std::size_t s = 0; s < splits.size(); ++s) {
        const Topology& t = *shapes[s].shape->mesh.topology;
        write_rows(t.face_count(), sink, [&](RowBuffer& out, std::size_t f) {
            const Index count = t.face_offsets[f + 1] - t.face_offsets[f];
            out.room(4 + 4 * count);
            out.add_bytes(&count, 4);
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const Index v = base + splits[s].corner[c];
                out.add_bytes(&v, 4);
            }
        });
        base += static_cast<Index>(splits[s].positions.size());
    }
}

const RegisteredFormat ply_format({.suffix = "ply",
                                   .name = "PLY",
                                   .customs = "metres, z up (common practice)",
                                   .scale = 1,
                                   .up = UpAxis::z,
                                   .keeps_copies = false,
                                   .write = write_ply});

}  // namespace

}  // namespace bricol
