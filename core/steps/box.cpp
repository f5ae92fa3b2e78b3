// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/solid.h"

namespace bricol {

namespace {

void run_box(StepRun& run) {
    const DVec3 size = run.vector("size");
    if (size.x <= 0 || size.y <= 0 || size.z <= 0) {
        run.tell(Severity::error, "no-size", "Every side of the box must be longer than 0.");
        return;
    }
    const std::array<int, 3> n = {run.integer("along_x"), run.integer("along_y"), run.integer("along_z")};
    if (run.too_many(2.0 * (n[0] * 1.0 * n[1] + n[1] * 1.0 * n[2] + n[0] * 1.0 * n[2]), most_faces, "faces",
                     "Use fewer segments."))
        return;
    give_seated(run, make_box(size, n), size.z);
}

const Registered box_step(StepInfo{
    .key = "box",
    .name = "Box",
    .family = Family::make,
    .purpose = "A box of real size, with segments on every axis.",
    .words = "cube block cuboid",
    .help = "Six sides of quads that share their edges. UVs run 0 to 1 on each side.",
    .glyph = "M4 8 L12 4 L20 8 V16 L12 20 L4 16z M4 8 L12 12 L20 8 M12 12 V20",
    .inputs = {},
    .parameters = {vector_of("size", "Size", Quantity::length, {0.5, 0.5, 0.5},
                             "Length of the sides along x, y and z."),
                   count_of("along_x", "Segments x", 1, 1, 10000, 32, "Quads along x."),
                   count_of("along_y", "Segments y", 1, 1, 10000, 32, "Quads along y."),
                   count_of("along_z", "Segments z", 1, 1, 10000, 32, "Quads along z."), origin_choice()},
    .telling = "{size}",
    .make = run_box});

}  // namespace

}  // namespace bricol
