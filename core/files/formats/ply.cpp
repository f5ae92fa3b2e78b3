// SPDX-License-Identifier: GPL-3.0-or-later
// Binary little-endian PLY (G. Turk, "The PLY polygon file format", 1994): polygons kept, each point once. What stands
// on corners has no place on a point: UVs go along the faces (common practice), and where an edge is hard there are no
// normals at all rather than wrong ones.
#include <algorithm>
#include <array>
#include <fmt/format.h>

#include "core/files/format.h"
#include "core/files/formats/text_rows.h"
#include "core/files/own_values.h"
#include "core/ground/colour.h"
#include "core/kernels/normals.h"

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

/// A normal for every point; empty where corners of one point have different ones.
Array<Vec3> point_normals(const Mesh& mesh) {
    const Array<Vec3> corners = corner_normals(mesh);
    Array<Vec3> out(mesh.vertex_count(), Vec3(0));
    for (std::size_t c = 0; c < corners.size(); ++c) {
        Vec3& here = out[mesh.topology->corner_vertex[c]];
        if (here == Vec3(0)) here = corners[c];
        if (here != corners[c]) return {};
    }
    return out;
}

/// A column of the file: the artist's values under one name, a number each.
struct Property {
    std::string name;  ///< in the file
    std::string from;  ///< the attribute
    std::size_t component = 0;
};

/// Every value any of the shapes has; one that a shape lacks is 0 there.
std::vector<Property> properties(std::span<const NamedShape> shapes, Domain domain) {
    constexpr std::array<std::string_view, 15> taken = {
        "x",       "y", "z", "nx", "ny", "nz", "red", "green", "blue", "alpha", "s", "t", "texcoord", "vertex_indices",
        "material"};
    std::vector<Property> out;
    for (const NamedShape& named : shapes) {
        const std::vector<const Attribute*> values = own_values(named.shape->mesh, domain);
        const std::vector<std::string> names = plain_names(values, false);
        for (std::size_t i = 0; i < values.size(); ++i) {
            const std::size_t width = value_width(*values[i]->values);
            if (std::ranges::any_of(out, [&](const Property& p) { return p.from == values[i]->name; })) continue;
            const std::string name = std::ranges::find(taken, names[i]) == taken.end() ? names[i] : names[i] + "_";
            for (std::size_t k = 0; k < width; ++k)
                out.push_back({width == 1 ? name : fmt::format("{}_{}", name, "xyzw"[k]), values[i]->name, k});
        }
    }
    return out;
}

float property_of(const Mesh& mesh, Domain domain, const Property& property, std::size_t element) {
    const Attribute* found = mesh.attributes.find(domain, property.from);
    return found && property.component < value_width(*found->values)
               ? value_at(*found->values, element, property.component)
               : 0.0f;
}

class Ply {
public:
    Ply(std::span<const NamedShape> shapes, const ExportOptions& options) : shapes_(shapes), options_(options) {
        for (const NamedShape& named : shapes) {
            const Mesh& mesh = named.shape->mesh;
            normals_.push_back(point_normals(mesh));
            colours_.push_back(point_colours(mesh));
            hard_ |= normals_.back().empty();
            coloured_ |= !colours_.back().empty();
            mapped_ |= mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv) != nullptr;
        }
        if (!options.attributes) return;
        on_points_ = properties(shapes, Domain::vertex);
        on_faces_ = properties(shapes, Domain::face);
    }

    void write(const Sink& sink) const {
        sink(head());
        for (std::size_t s = 0; s < shapes_.size(); ++s) points(s, sink);
        Index base = 0;
        for (const NamedShape& named : shapes_) {
            faces(named.shape->mesh, base, sink);
            base += static_cast<Index>(named.shape->mesh.vertex_count());
        }
    }

private:
    std::string head() const {
        std::size_t vertices = 0, faces = 0;
        for (const NamedShape& named : shapes_) {
            vertices += named.shape->mesh.vertex_count();
            faces += named.shape->mesh.face_count();
        }
        std::string out = "ply\nformat binary_little_endian 1.0\ncomment Bricol\n";
        out += fmt::format("comment {} units a metre, {} up\n", options_.scale, *options_.up == UpAxis::y ? "y" : "z");
        out += fmt::format("element vertex {}\n", vertices);
        for (const char* name : {"x", "y", "z"}) out += fmt::format("property float {}\n", name);
        if (!hard_)
            for (const char* name : {"nx", "ny", "nz"}) out += fmt::format("property float {}\n", name);
        if (coloured_)
            for (const char* name : {"red", "green", "blue", "alpha"}) out += fmt::format("property uchar {}\n", name);
        for (const Property& property : on_points_) out += fmt::format("property float {}\n", property.name);
        out += fmt::format("element face {}\nproperty list uint uint vertex_indices\n", faces);
        if (mapped_) out += "property list uint float texcoord\n";
        for (const Property& property : on_faces_) out += fmt::format("property float {}\n", property.name);
        return out + "end_header\n";
    }

    void points(std::size_t s, const Sink& sink) const {
        const Mesh& mesh = shapes_[s].shape->mesh;
        const float scale = static_cast<float>(options_.scale);
        write_rows(mesh.vertex_count(), sink, [&](RowBuffer& out, std::size_t i) {
            const Vec3 p = directed((*mesh.positions)[i], *options_.up) * scale;
            out.room(28 + 4 * on_points_.size());
            out.add_bytes(&p, 12);
            if (!hard_) {
                const Vec3 n = directed(normals_[s][i], *options_.up);
                out.add_bytes(&n, 12);
            }
            if (coloured_) {
                const auto bytes = screen_bytes(colours_[s].empty() ? Vec4(1) : colours_[s][i]);
                out.add_bytes(bytes.data(), 4);
            }
            for (const Property& property : on_points_) {
                const float value = property_of(mesh, Domain::vertex, property, i);
                out.add_bytes(&value, 4);
            }
        });
    }

    void faces(const Mesh& mesh, Index base, const Sink& sink) const {
        const Topology& t = *mesh.topology;
        const auto* uvs = mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
        write_rows(t.face_count(), sink, [&](RowBuffer& out, std::size_t f) {
            const Index count = t.face_offsets[f + 1] - t.face_offsets[f];
            out.room(8 + 12 * count + 4 * on_faces_.size());
            out.add_bytes(&count, 4);
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                const Index v = base + t.corner_vertex[c];
                out.add_bytes(&v, 4);
            }
            if (mapped_) {
                const Index numbers = uvs ? 2 * count : 0;
                out.add_bytes(&numbers, 4);
                for (Index c = t.face_offsets[f]; uvs && c < t.face_offsets[f + 1]; ++c) out.add_bytes(&(*uvs)[c], 8);
            }
            for (const Property& property : on_faces_) {
                const float value = property_of(mesh, Domain::face, property, f);
                out.add_bytes(&value, 4);
            }
        });
    }

    std::span<const NamedShape> shapes_;
    const ExportOptions& options_;
    std::vector<Array<Vec3>> normals_;
    std::vector<Array<Vec4>> colours_;
    std::vector<Property> on_points_, on_faces_;
    bool hard_ = false, coloured_ = false, mapped_ = false;
};

void write_ply(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    Ply(shapes, options).write(sink);
}

const RegisteredFormat ply_format({.suffix = "ply",
                                   .name = "PLY",
                                   .customs = "metres, z up (common practice)",
                                   .scale = 1,
                                   .up = UpAxis::z,
                                   .keeps = Keep::values | Keep::on_faces | Keep::colours,
                                   .write = write_ply});

}  // namespace

}  // namespace bricol
