// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/export.h"

#include <algorithm>
#include <array>

#include "core/kernels/real_geometry.h"

namespace bricol {

namespace {

struct Format {
    std::string_view suffix;
    double scale;
    UpAxis up;
    void (*write)(std::span<const NamedShape>, const ExportOptions&, const Sink&);
    bool keeps_instances = false;
};

constexpr std::array<Format, 4> formats = {{{"glb", 1, UpAxis::y, write_glb, true},
                                            {"obj", 1, UpAxis::y, write_obj},
                                            {"ply", 1, UpAxis::z, write_ply},
                                            {"stl", 1000, UpAxis::z, write_stl}}};

}  // namespace

std::span<const std::string_view> export_suffixes() {
    static constexpr std::array<std::string_view, 4> suffixes = {"glb", "obj", "ply", "stl"};
    return suffixes;
}

std::optional<Problem> export_shapes(std::span<const NamedShape> shapes, const std::string& path,
                                     const ExportOptions& options) {
    const std::size_t dot = path.find_last_of('.');
    std::string suffix = dot == std::string::npos ? "" : path.substr(dot + 1);
    std::ranges::transform(suffix, suffix.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const auto format = std::ranges::find(formats, suffix, &Format::suffix);
    if (format == formats.end())
        return Problem{"Bricol writes .glb, .obj, .ply and .stl files.", path, "Give the file one of these endings."};
    std::vector<NamedShape> solid;
    for (const NamedShape& named : shapes)
        if (named.shape && named.shape->face_count() > 0)
            solid.push_back({named.name, format->keeps_instances ? named.shape : real_geometry(named.shape)});
    if (solid.empty())
        return Problem{"There is nothing to write: no part has faces.", path,
                       "Add a step that makes faces, such as Lathe."};
    ExportOptions settled = options;
    if (settled.scale <= 0) settled.scale = format->scale;
    if (!settled.up) settled.up = format->up;
    return write_file(path, [&](const Sink& sink) { format->write(solid, settled, sink); });
}

}  // namespace bricol
