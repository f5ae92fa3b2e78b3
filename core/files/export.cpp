// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/export.h"

#include <fmt/format.h>

#include "core/kernels/real_geometry.h"

namespace bricol {

std::optional<Problem> export_shapes(std::span<const NamedShape> shapes, const std::string& path,
                                     const ExportOptions& options) {
    const FormatInfo* format = find_format(path);
    if (!format)
        return Problem{fmt::format("Bricol writes {} files.", suffix_words()), path,
                       "Give the file one of these endings."};
    std::vector<NamedShape> solid;
    for (const NamedShape& named : shapes)
        if (named.shape && named.shape->face_count() > 0)
            solid.push_back({named.name, format->keeps_copies ? named.shape : real_geometry(named.shape)});
    if (solid.empty())
        return Problem{"There is nothing to write: no part has faces.", path,
                       "Add a step that makes faces, such as Lathe."};
    ExportOptions settled = options;
    if (settled.scale <= 0) settled.scale = format->scale;
    if (!settled.up) settled.up = format->up;
    return write_file(path, [&](const Sink& sink) { format->write(solid, settled, sink); });
}

}  // namespace bricol
