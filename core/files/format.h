// SPDX-License-Identifier: GPL-3.0-or-later
// File formats that shapes are written to. Each stands in a file of its own in files/formats/ and registers itself;
// export, the command line and the window's dialog read what it says.
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
    std::string stem;          ///< the file's name without its ending; settled by who writes
};

/// Faces of one shape's copies when they are written out one by one.
inline constexpr double most_faces_written_out = 4e6;

struct FormatInfo {
    std::string_view suffix;   ///< "glb"
    std::string_view name;     ///< what people call it
    std::string_view customs;  ///< unit and up axis in words, and where they come from
    double scale = 1;          ///< file units per metre
    UpAxis up = UpAxis::z;
    bool keeps_copies = false;                 ///< writes instances as such; else they are written out
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

}  // namespace bricol
