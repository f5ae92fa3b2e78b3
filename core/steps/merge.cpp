// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Merge {};

void run_merge(const Merge&, StepRun& run) {
    // Counted before anything is copied: merges of merges grow fourfold each.
    Weight sum;
    for (const char* key : {"shape", "with", "and", "also"}) {
        const Weight one = weight_of(run.input(key));
        sum.faces += one.faces, sum.points += one.points, sum.copies += one.copies;
    }
    if (run.too_many(sum.faces, most_faces, "faces", "Merge less, or instances.") ||
        run.too_many(sum.points, most_points, "points", "Merge less, or instances.") ||
        run.too_many(sum.copies, most_copies, "copies", "Merge less."))
        return;
    Shape shape = run.shape();
    for (const char* key : {"with", "and", "also"}) {
        const Shape& other = run.input(key);
        shape.mesh = appended(shape.mesh, other.mesh);
        shape.curves.insert(shape.curves.end(), other.curves.begin(), other.curves.end());
        shape.instances.insert(shape.instances.end(), other.instances.begin(), other.instances.end());
    }
    run.give(std::move(shape));
}

const StepOf<Merge> merge_step(
    StepInfo{.key = "merge",
             .name = "Merge",
             .family = Family::look,
             .purpose = "Several shapes as one, side by side.",
             .words = "join combine collect append group",
             .help = "Puts shapes together without changing them. Use Weld behind it to join what touches.",
             .glyph = "M3 5 H9 L14 12 H21 M3 19 H9 L14 12 M3 12 H14",
             .gives = 0,
             .inputs = {{"shape", "Shape", content_any, true},
                        {"with", "With", content_any, false},
                        {"and", "And", content_any, false},
                        {"also", "Also", content_any, false}},
             .telling = ""},
    {}, run_merge);

}  // namespace

}  // namespace bricol
