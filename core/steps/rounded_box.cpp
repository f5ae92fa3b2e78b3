// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>

#include "core/kernels/solids.h"
#include "core/steps/shared/solid.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct RoundedBox {
    DVec3 size{0.5, 0.5, 0.5};
    double radius = 0.08;
    int round_segments = 4;
    DVec3 segments{1, 1, 1};
    SolidOrigin origin = SolidOrigin::base;
};

void run_rounded_box(const RoundedBox& s, StepRun& run) {
    RoundedBoxOptions options;
    options.size = s.size;
    options.radius = s.radius;
    options.round_segments = s.round_segments;
    const DVec3 segments = s.segments;
    for (int i = 0; i < 3; ++i)
        options.segments[i] = static_cast<int>(std::clamp(std::round(segments[i]), 1.0, 2000.0));
    if (std::min({options.size.x, options.size.y, options.size.z}) <= 0) {
        run.tell(Severity::error, "no-size", "A side is 0 or less. Give all three a size.");
        return;
    }
    const double half = std::min({options.size.x, options.size.y, options.size.z}) / 2;
    if (options.radius > half)
        run.tell(Severity::caution, "held",
                 "The rounding is wider than half the shortest side and was held to " +
                     format_value(half, Quantity::length, "m") + ".");
    const double side =
        2.0 * options.round_segments + std::max({options.segments[0], options.segments[1], options.segments[2]});
    if (run.too_many(6 * side * side, most_faces, "faces", "Use fewer segments.")) return;
    give_seated(run, s.origin, make_rounded_box(options), options.size.z);
}

const StepOf<RoundedBox> rounded_box_step(
    StepInfo{.key = "rounded_box",
             .name = "Rounded box",
             .family = Family::make,
             .purpose = "A box with round edges, all quads, no poles.",
             .words = "pillow cushion quad sphere cube",
             .help = "A radius of half the side makes a ball of six quad fields.",
             .glyph = "M8 4h8a4 4 0 0 1 4 4v8a4 4 0 0 1 -4 4h-8a4 4 0 0 1 -4 -4v-8a4 4 0 0 1 4 -4 M8 4v16 M16 4v16 M4 "
                      "8h16 M4 16h16",
             .inputs = {},
             .telling = "r {radius}"},
    {vector_of(&RoundedBox::size, "size", "Size", Quantity::length, "Along x, y and z."),
     length_of(&RoundedBox::radius, "radius", "Rounding", 1e-6, 0.5, "Radius of edges and corners."),
     count_of(&RoundedBox::round_segments, "round_segments", "Segments of the rounding", 1, 512, 16,
              "Faces across half a rounding."),
     vector_of(&RoundedBox::segments, "segments", "Segments", Quantity::count, "Faces along the straight runs."),
     origin_choice(&RoundedBox::origin)},
    run_rounded_box);

}  // namespace

}  // namespace bricol
