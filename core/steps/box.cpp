// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/primitives.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct BoxSettings {
    DVec3 size{0.5, 0.5, 0.5};
    int along_x = 1;
    int along_y = 1;
    int along_z = 1;
    SolidOrigin origin = SolidOrigin::base;
};

void run_box(const BoxSettings& s, StepRun& run) {
    const DVec3 size = s.size;
    if (size.x <= 0 || size.y <= 0 || size.z <= 0) {
        run.tell(Severity::error, "no-size", "Every side of the box must be longer than 0.");
        return;
    }
    const std::array<int, 3> n = {s.along_x, s.along_y, s.along_z};
    if (run.too_many(2.0 * (n[0] * 1.0 * n[1] + n[1] * 1.0 * n[2] + n[0] * 1.0 * n[2]), most_faces, "faces",
                     "Use fewer segments."))
        return;
    give_seated(run, s.origin, make_box(size, n), size.z);
}

const StepOf<BoxSettings> box_step(
    StepInfo{.key = "box",
             .name = "Box",
             .family = Family::make,
             .purpose = "A box of real size, with segments on every axis.",
             .words = "cube block cuboid",
             .help = "Six sides of quads that share their edges. UVs run 0 to 1 on each side.",
             .glyph = "M4 8 L12 4 L20 8 V16 L12 20 L4 16z M4 8 L12 12 L20 8 M12 12 V20",
             .inputs = {},
             .telling = "{size}"},
    {vector_of(&BoxSettings::size, "size", "Size", Quantity::length, "Length of the sides along x, y and z."),
     count_of(&BoxSettings::along_x, "along_x", "Segments x", 1, 10000, 32, "Quads along x."),
     count_of(&BoxSettings::along_y, "along_y", "Segments y", 1, 10000, 32, "Quads along y."),
     count_of(&BoxSettings::along_z, "along_z", "Segments z", 1, 10000, 32, "Quads along z."),
     origin_choice(&BoxSettings::origin)},
    run_box);

}  // namespace

}  // namespace bricol
