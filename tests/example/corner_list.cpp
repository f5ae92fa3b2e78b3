// SPDX-License-Identifier: GPL-3.0-or-later
// Corner list: a line "name x y z" for every vertex, for spreadsheets.
#include <fmt/format.h>

#include "core/files/format.h"

namespace bricol {

namespace {

void write_corner_list(std::span<const NamedShape> shapes, const ExportOptions& options, const Sink& sink) {
    for (const NamedShape& named : shapes)
        for (const Vec3& p : *named.shape->mesh.positions) {
            const DVec3 q = DVec3(directed(p, *options.up)) * options.scale;
            sink(fmt::format("{} {} {} {}\n", named.name, q.x, q.y, q.z));
        }
}

const RegisteredFormat corner_list({.suffix = "corners",
                                    .name = "Corner list",
                                    .customs = "millimetres, z up (an example's own)",
                                    .scale = 1000,
                                    .up = UpAxis::z,
                                    .write = write_corner_list});

}  // namespace

}  // namespace bricol
