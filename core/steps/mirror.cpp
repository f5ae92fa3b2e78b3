// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/mirror.h"

#include <fmt/format.h>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_mirror(StepRun& run) {
    MirrorOptions options;
    options.axis = run.axis("axis");
    options.at = run.number("at");
    options.cut = run.toggle("cut");
    options.keep_high = run.word("keep") == "high";
    options.weld = run.number("weld");
    options.hold = run.toggle("hold");
    MirrorResult result = mirrored(run.shape(), options);
    const auto length = [](double metres) { return format_value(metres, Quantity::length, "m"); };
    if (result.near_misses > 0) {
        const double close = result.widest_miss * 1.01;
        Finding& finding = run.tell(
            Severity::caution, "near-miss-seam",
            fmt::format("{} points miss the seam; the smallest gap is {}. A weld distance of {} closes them all.",
                        result.near_misses, length(result.smallest_gap), length(close)));
        finding.remedy = Remedy{"Weld within " + length(close), {{"", "weld", close}}, {}};
        finding.places = result.places;
    }
    if (result.far_welds > 0)
        run.tell(Severity::caution, "welded-middle",
                 fmt::format("{} points inside the shape were pulled onto the seam. If the middle should stay open, "
                             "weld within less than {}.",
                             result.far_welds, length(options.weld)));
    run.give(std::move(result.shape));
}

const Registered mirror_step(StepInfo{
    .key = "mirror",
    .name = "Mirror",
    .family = Family::copies,
    .purpose = "A shape and its reflection, welded along the middle.",
    .words = "reflect symmetry symmetrical half",
    .help = "Reflects about a plane across an axis. Points near the plane are shared by both halves; faces lying in it "
            "are dropped. "
            "Open curves that end on the plane are joined to their reflection.",
    .glyph = "M12 3v3 M12 8v3 M12 13v3 M12 18v3 M9 6 L3 18 H9z M15 6 L21 18 H15z",
    .gives = 0,
    .inputs = {{"shape", "Shape", content_any, true}},
    .parameters = {axis_of("axis", "Across", "x", "The plane stands across this axis."),
                   pulled(offset_of("at", "At", 0, "Where the plane crosses the axis."), HandleKind::along, "axis"),
                   toggle_of("cut", "Cut first", false, "Takes away what lies beyond the plane before reflecting."),
                   when(choice_of("keep", "Keep", {{"high", "the far side"}, {"low", "the near side"}},
                                  "The side that is kept: high or low values of the axis."),
                        "cut"),
                   length_of("weld", "Weld within", 0.0001, 0, 0.05,
                             "Points nearer to the plane than this are shared by both halves."),
                   toggle_of("hold", "Hold the seam", true, "Sets shared points exactly onto the plane.")},
    .telling = "across {axis}",
    .make = run_mirror});

}  // namespace

}  // namespace bricol
