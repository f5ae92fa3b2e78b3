// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/line_values.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/ground/stop.h"
#include "core/shape/knot_values.h"

namespace bricol {

void give_line_values(Mesh& mesh, std::span<const Polyline> lines) {
    std::vector<KnotValues> rows(1);  // the first for vertices where no line has a point
    std::map<std::array<float, 3>, Index> row_at;
    for (const Polyline& line : lines)
        for (std::size_t i = 0; i < line.values.size(); ++i) {
            const Vec3& p = line.points[i];
            if (row_at.try_emplace({p.x, p.y, p.z}, static_cast<Index>(rows.size())).second)
                rows.push_back(line.values[i]);
        }
    if (rows.size() == 1) return;
    std::vector<Index> source(mesh.vertex_count(), 0);
    for (std::size_t v = 0; v < source.size(); ++v) {
        const Vec3& p = (*mesh.positions)[v];
        if (const auto found = row_at.find({p.x, p.y, p.z}); found != row_at.end()) source[v] = found->second;
    }
    columns_of(rows, Domain::vertex).gather_into(mesh.attributes, Domain::vertex, source);
}

void give_path_values(Mesh& mesh, const Path& path) {
    const auto* along = mesh.attributes.values<float>(Domain::vertex, "along");
    if (path.values.empty() || !along) return;
    std::vector<Index> first(along->size()), second(along->size());
    std::vector<float> share(along->size());
    for (std::size_t v = 0; v < along->size(); ++v) {
        stop_point(v);
        double t = 0;
        const std::size_t i = path.piece_at(static_cast<double>((*along)[v]) * path.whole, t);
        first[v] = static_cast<Index>(i);
        second[v] = static_cast<Index>((i + 1) % path.size());
        share[v] = static_cast<float>(t);
    }
    const Attributes blended_values = between_rows(path.values, first, second, share, Domain::vertex);
    for (const Attribute& a : blended_values.all()) mesh.attributes.set(a);
}

}  // namespace bricol
