// SPDX-License-Identifier: GPL-3.0-or-later
// Finished parts to files other programs read.
#pragma once

#include <span>

#include "core/files/files.h"
#include "core/shape/shape.h"

namespace bricol {

struct NamedShape {
    std::string name;
    ShapePtr shape;
};

enum class UpAxis : std::uint8_t { z, y };

struct ExportOptions {
    double scale = 0;          ///< file units per metre; 0 for the format's own custom
    std::optional<UpAxis> up;  ///< nothing for the format's own custom
};

/// Suffixes that can be written: "glb", "obj", "ply", "stl".
std::span<const std::string_view> export_suffixes();

/// Writes every shape that has faces; kind by suffix. Customs (common practice, but glTF's, which the standard sets):
/// GLB metres, y up; OBJ metres, y up; PLY metres, z up; STL millimetres, z up. The same shapes give the same bytes.
std::optional<Problem> export_shapes(std::span<const NamedShape> shapes, const std::string& path,
                                     const ExportOptions& options = {});

/// glTF 2.0 binary: a node per part, copies as nodes that share a mesh, materials, UVs with the origin at the top as
/// glTF wants, bounds on positions.
void write_glb(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink);
/// Wavefront OBJ: an object per part, polygons kept.
void write_obj(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink);
/// Binary little-endian PLY, polygons kept.
void write_ply(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink);
/// Binary STL, triangles with their flat normals.
void write_stl(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink);

/// Position or normal in the file's directions.
inline Vec3 directed(const Vec3& v, UpAxis up) { return up == UpAxis::y ? Vec3(v.x, v.z, -v.y) : v; }

}  // namespace bricol
