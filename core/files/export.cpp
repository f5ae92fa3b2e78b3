// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/export.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <new>
#include <stdexcept>

#include "core/kernels/real_geometry.h"
#include "core/kernels/transform.h"

namespace bricol {

std::optional<Problem> export_shapes(std::span<const NamedShape> shapes, const std::string& path,
                                     const ExportOptions& options) {
    const FormatInfo* format = find_format(path);
    if (!format)
        return Problem{fmt::format("Bricol writes {} files.", suffix_words()), path,
                       "Give the file one of these endings."};
    std::vector<NamedShape> solid;
    try {
        const bool copies = format->keeps & Keep::copies;
        for (const NamedShape& named : shapes) {
            if (!named.shape || named.shape->face_count() == 0) continue;
            if (!(format->keeps & Keep::levels) && (named.level > 0 || named.collision)) continue;
            const double faces = weight_of(*named.shape).standing;
            if (!copies && !named.shape->instances.empty() && faces > most_faces_written_out)
                throw std::length_error(
                    fmt::format("{}: {} files hold no copies, and written out they have {:.3g} million "
                                "faces",
                                named.name, format->name, faces / 1e6));
            solid.push_back(named);
            if (copies) continue;
            solid.back().shape = real_geometry(named.shape);
            if (named.at == Vec3(0)) continue;
            solid.back().shape = std::make_shared<const Shape>(
                transformed(*solid.back().shape, placement(DVec3(named.at), DVec3(0), DVec3(1), DVec3(0))));
        }
        if (solid.empty())
            return Problem{"There is nothing to write: no part has faces.", path,
                           "Add a step that makes faces, such as Lathe."};
        ExportOptions settled = options;
        if (settled.scale <= 0) settled.scale = format->scale;
        if (!settled.up) settled.up = format->up;
        const std::filesystem::path place(path);
        settled.stem = place.stem().string();
        const bool materials =
            std::ranges::any_of(solid, [](const NamedShape& named) { return !materials_of(*named.shape).empty(); });
        if (materials && format->write_beside) {
            const std::string beside =
                (place.parent_path() / (settled.stem + "." + std::string(format->beside))).string();
            if (auto problem = write_file(beside, [&](const Sink& sink) { format->write_beside(solid, sink); }))
                return problem;
        }
        return write_file(path, [&](const Sink& sink) {
            std::size_t bytes = 0;
            format->write(solid, settled, [&](std::string_view piece) {
                bytes += piece.size();
                if (bytes > format->most_bytes)
                    throw std::length_error(fmt::format("{} files hold {:.3g} GB at most", format->name,
                                                        static_cast<double>(format->most_bytes) / 1e9));
                return sink(piece);
            });
        });
    } catch (const std::length_error& error) {
        return Problem{fmt::format("This is too much for one file: {}.", error.what()), path,
                       "Nothing was written. Use fewer copies, a lighter shape or fewer parts."};
    } catch (const std::bad_alloc&) {
        return Problem{"There is not enough memory to write this.", path,
                       "Nothing was written. Use fewer copies, a lighter shape or fewer parts."};
    }
}

}  // namespace bricol
