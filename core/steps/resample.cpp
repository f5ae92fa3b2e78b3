// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/curve_edit.h"
#include "core/kernels/resample.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Resample {
    enum class By { count, length, tolerance };
    enum class Ends { x, y, z, free };
    By by = By::count;
    int count = 16;
    double longest = 0.05;
    double tolerance = 0.001;
    double keep = 30;
    bool smoothed = false;
    Ends ends = Ends::free;
};

void run_resample(const Resample& s, StepRun& run) {
    ResampleOptions options;
    const Resample::By by = s.by;
    options.by = by == Resample::By::length      ? ResampleOptions::By::length
                 : by == Resample::By::tolerance ? ResampleOptions::By::tolerance
                                                 : ResampleOptions::By::count;
    options.count = s.count;
    options.longest = s.longest;
    options.tolerance = s.tolerance;
    options.keep_angle = s.keep;
    options.smoothed = s.smoothed;
    Shape shape = run.shape();
    double pieces = 0;
    for (const Curve& curve : shape.curves) pieces += length_of(flatten(curve)) / options.longest;
    if (options.by == ResampleOptions::By::length && run.too_many(pieces, 1e6, "pieces", "Use longer pieces.")) return;
    const Resample::Ends ends = s.ends;
    for (Curve& curve : shape.curves) {
        curve = resampled(curve, options);
        if (ends != Resample::Ends::free) hold_ends(curve, static_cast<int>(ends));
    }
    run.give(std::move(shape));
}

const StepOf<Resample> resample_step(
    StepInfo{
        .key = "resample",
        .name = "Resample",
        .family = Family::curves,
        .purpose = "Even knots along a curve.",
        .words = "divide respace redistribute points segments",
        .help =
            "New knots by count, by longest piece, or as few as a tolerance allows. Corners sharper than an angle stay "
            "where they are.",
        .glyph = "M3 17 C8 4 16 22 21 7 M5 10.5h2.4v2.4h-2.4z M10.8 11.6h2.4v2.4h-2.4z M16.6 12.2h2.4v2.4h-2.4z",
        .gives = content_curves,
        .inputs = {{"shape", "Curves", content_curves, true}},
        .telling = "by {by}"},
    {choice_of(&Resample::by, "by", "By",
               {{Resample::By::count, "count", "count"},
                {Resample::By::length, "length", "longest piece"},
                {Resample::By::tolerance, "tolerance", "tolerance"}},
               "What decides how many pieces there are."),
     when(count_of(&Resample::count, "count", "Pieces", 1, 100000, 128, "Pieces along the whole curve."), "by=count"),
     when(length_of(&Resample::longest, "longest", "Longest piece", 1e-5, 1, "No piece is longer than this."),
          "by=length"),
     when(length_of(&Resample::tolerance, "tolerance", "Tolerance", 1e-6, 0.05,
                    "No piece leaves the curve by more than this."),
          "by=tolerance"),
     angle_of(&Resample::keep, "keep", "Keep corners over", 0, 180, "Corners that turn by more than this stay knots."),
     toggle_of(&Resample::smoothed, "smoothed", "Smoothed", "Gives smooth knots instead of straight pieces."),
     choice_of(&Resample::ends, "ends", "Ends leave",
               {{Resample::Ends::free, "free", "as they do"},
                {Resample::Ends::x, "x", "along x"},
                {Resample::Ends::y, "y", "along y"},
                {Resample::Ends::z, "z", "along z"}},
               "Holds the ends of open curves along an axis, so that end rings swept on them stand level.")},
    run_resample);

}  // namespace

}  // namespace bricol
