// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/curve_edit.h"
#include "core/kernels/resample.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_resample(StepRun& run) {
    ResampleOptions options;
    const std::string& by = run.word("by");
    options.by = by == "length"      ? ResampleOptions::By::length
                 : by == "tolerance" ? ResampleOptions::By::tolerance
                                     : ResampleOptions::By::count;
    options.count = run.integer("count");
    options.longest = run.number("longest");
    options.tolerance = run.number("tolerance");
    options.keep_angle = run.number("keep");
    options.smoothed = run.toggle("smoothed");
    Shape shape = run.shape();
    double pieces = 0;
    for (const Curve& curve : shape.curves) pieces += length_of(flatten(curve)) / options.longest;
    if (options.by == ResampleOptions::By::length && run.too_many(pieces, 1e6, "pieces", "Use longer pieces.")) return;
    const std::string& ends = run.word("ends");
    for (Curve& curve : shape.curves) {
        curve = resampled(curve, options);
        if (ends != "free") hold_ends(curve, ends[0] - 'x');
    }
    run.give(std::move(shape));
}

const Registered resample_step(StepInfo{
    .key = "resample",
    .name = "Resample",
    .family = Family::curves,
    .purpose = "Even knots along a curve.",
    .words = "divide respace redistribute points segments",
    .help = "New knots by count, by longest piece, or as few as a tolerance allows. Corners sharper than an angle stay "
            "where they are.",
    .glyph = "M3 17 C8 4 16 22 21 7 M5 10.5h2.4v2.4h-2.4z M10.8 11.6h2.4v2.4h-2.4z M16.6 12.2h2.4v2.4h-2.4z",
    .gives = content_curves,
    .inputs = {{"shape", "Curves", content_curves, true}},
    .parameters =
        {choice_of("by", "By", {{"count", "count"}, {"length", "longest piece"}, {"tolerance", "tolerance"}},
                   "What decides how many pieces there are."),
         when(count_of("count", "Pieces", 16, 1, 100000, 128, "Pieces along the whole curve."), "by=count"),
         when(length_of("longest", "Longest piece", 0.05, 1e-5, 1, "No piece is longer than this."), "by=length"),
         when(length_of("tolerance", "Tolerance", 0.001, 1e-6, 0.05, "No piece leaves the curve by more than this."),
              "by=tolerance"),
         angle_of("keep", "Keep corners over", 30, 0, 180, "Corners that turn by more than this stay knots."),
         toggle_of("smoothed", "Smoothed", false, "Gives smooth knots instead of straight pieces."),
         choice_of("ends", "Ends leave", {{"free", "as they do"}, {"x", "along x"}, {"y", "along y"}, {"z", "along z"}},
                   "Holds the ends of open curves along an axis, so that end rings swept on them stand level.")},
    .telling = "by {by}",
    .make = run_resample});

}  // namespace

}  // namespace bricol
