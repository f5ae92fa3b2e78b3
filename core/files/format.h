// SPDX-License-Identifier: GPL-3.0-or-later
// File formats that shapes are written to. Each stands in a file of its own in files/formats/ and registers itself;
// export, the command line and the window's dialog read what it says.
#pragma once

#include <map>
#include <span>

#include "core/files/files.h"
#include "core/shape/shape.h"

namespace bricol {

struct PartMotion;

/// A shape that is written; what stands after the first two is for hand-overs.
struct NamedShape {
    std::string name;
    ShapePtr shape;
    /// Where the shape's origin stands (metres). Formats that know places keep it as one, others move the points.
    Vec3 at{0};
    int level = 0;                               ///< how often it was made lighter; 0 for the whole form
    bool collision = false;                      ///< stands for what bodies bump into and is not seen
    std::shared_ptr<const PartMotion> motion{};  ///< null when it stands still
};

/// What is written, under one preset of its recipe.
struct PresetShapes {
    std::string name;
    std::vector<NamedShape> shapes;
};

/// Names of shapes that stand in others as copies. Holds them, so that no address is used twice.
using ShapeNames = std::map<ShapePtr, std::string>;

enum class UpAxis : std::uint8_t { z, y };

struct ExportOptions {
    double scale = 0;          ///< file units per metre; 0 for the format's own custom
    std::optional<UpAxis> up;  ///< nothing for the format's own custom
    std::string stem;          ///< the file's name without its ending; settled by who writes
    bool attributes = false;   ///< also what the artist has written on points: values, sets (where the format has room)
    bool joined_copies = false;          ///< glTF: all copies of a shape in one node (EXT_mesh_gpu_instancing)
    bool cages = false;                  ///< USD: meshes with creases are cages to be smoothed, instead of flat faces
    const ShapeNames* copied = nullptr;  ///< null for numbers instead of names
    std::span<const PresetShapes> presets = {};  ///< for formats that keep them
};

/// Faces of one shape's copies when they are written out one by one.
inline constexpr double most_faces_written_out = 4e6;

/// What a format may have a place for.
namespace Keep {
inline constexpr unsigned copies = 1,  ///< instances and places as such; else they are written out
    motion = 2,                        ///< what `frame` moves
    presets = 4,                       ///< what the presets make of it
    levels = 8,     ///< lighter levels and shapes to collide with, told from what is seen; else they stay out
    values = 16,    ///< the artist's own values and sets on points
    on_faces = 32,  ///< and those on faces
    colours = 64,   ///< of points and copies
    materials = 128, light_uvs = 256,
                          skins = 512,  ///< joints, and how points follow them
    on_copies = 1024;                   ///< the artist's own values on copies
}

struct FormatInfo {
    std::string_view suffix;   ///< "glb"
    std::string_view name;     ///< what people call it
    std::string_view customs;  ///< unit and up axis in words, and where they come from
    double scale = 1;          ///< file units per metre
    UpAxis up = UpAxis::z;
    unsigned keeps = 0;                        ///< `Keep` bits: what it has a place for besides faces
    std::size_t most_bytes = ~std::size_t(0);  ///< what its own lengths can count to
    /// Writes every shape; scale and up are settled, every shape has faces. The same shapes give the same bytes.
    /// Throws std::length_error, in words, for what would be too much to write out.
    void (*write)(std::span<const NamedShape>, const ExportOptions&, const Sink&) = nullptr;
    /// A second file under the same name with this ending, for shapes with materials; none when it is empty.
    std::string_view beside{};
    void (*write_beside)(std::span<const NamedShape>, const Sink&) = nullptr;
};

/// Every format, by suffix.
std::span<const FormatInfo* const> all_formats();
/// The format of a file by its suffix, whatever its case; null for none.
const FormatInfo* find_format(std::string_view path);
/// ".glb, .obj, .ply or .stl"
std::string suffix_words();

/// A format's file holds one of these at namespace scope.
struct RegisteredFormat {
    explicit RegisteredFormat(const FormatInfo& info);
};

/// Position or normal in the file's directions.
inline Vec3 directed(const Vec3& v, UpAxis up) { return up == UpAxis::y ? Vec3(v.x, v.z, -v.y) : v; }
/// A place in the file's directions and units; scale and up are settled.
glm::mat4 directed_place(const glm::mat4& place, const ExportOptions& options);

}  // namespace bricol
