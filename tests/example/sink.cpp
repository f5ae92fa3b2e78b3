// SPDX-License-Identifier: GPL-3.0-or-later
// Sink: lowers a shape into the ground by a share of its own height.
#include "core/catalogue/settings.h"
#include "core/kernels/transform.h"

namespace bricol {

namespace {

struct Sink {
    double share = 0.25;
};

void run_sink(const Sink& s, StepRun& run) {
    const auto box = box_of(run.shape());
    if (!box) return;  // nothing given: the input passes through
    const double depth = s.share * box->size().z;
    if (depth == 0) run.tell(Severity::note, "unchanged", "A share of 0 leaves the shape where it is.");
    run.give(transformed(run.shape(), placement({0, 0, -depth}, DVec3(0), DVec3(1), DVec3(0))));
}

const StepOf<Sink> sink_step(StepInfo{.key = "example_sink",
                                      .name = "Sink",
                                      .family = Family::bend,
                                      .purpose = "Lowers a shape into the ground by a share of its own height.",
                                      .words = "bury lower settle",
                                      .help = "Measures the shape, so it stays as deep when an earlier number changes.",
                                      .glyph = "M4 14h16 M8 14V6h8v8 M12 17v4 M10 19 L12 21 L14 19",
                                      .gives = 0,
                                      .inputs = {{"shape", "Shape", content_faces | content_curves, true}},
                                      .telling = "{share} deep"},
                             {number_of(&Sink::share, "share", "Share", 0, 1,
                                        "Part of the height that goes below the ground.")},
                             run_sink);

}  // namespace

}  // namespace bricol
