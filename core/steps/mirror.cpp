// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/mirror.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct MirrorSettings {
    enum class Keep { high, low };
    Axis axis = Axis::x;
    double at = 0;
    bool cut = false;
    Keep keep = Keep::high;
    double weld = 0.0001;
    bool hold = true;
};

void run_mirror(const MirrorSettings& s, StepRun& run) {
    MirrorOptions options;
    options.axis = index_of(s.axis);
    options.at = s.at;
    options.cut = s.cut;
    options.keep_high = s.keep == MirrorSettings::Keep::high;
    options.weld = s.weld;
    options.hold = s.hold;
    MirrorResult result = mirrored(run.shape(), options);
    const auto length = [](double metres) { return format_value(metres, Quantity::length, "m"); };
    if (result.near_misses > 0) {
        const double close = result.widest_miss * 1.01;
        Finding& finding = run.tell(
            Severity::caution, "near-miss-seam",
            fmt::format("{} points miss the seam; the smallest gap is {}. A weld distance of {} closes them all.",
                        result.near_misses, length(result.smallest_gap), length(close)));
        finding.remedy = Remedy{"Weld within " + length(close), {{"", run.key_of(s.weld), close}}, {}};
        finding.places = result.places;
    }
    if (result.far_welds > 0)
        run.tell(Severity::caution, "welded-middle",
                 fmt::format("{} points inside the shape were pulled onto the seam. If the middle should stay open, "
                             "weld within less than {}.",
                             result.far_welds, length(options.weld)));
    run.give(std::move(result.shape));
}

const StepOf<MirrorSettings> mirror_step(
    StepInfo{
        .key = "mirror",
        .name = "Mirror",
        .family = Family::copies,
        .purpose = "A shape and its reflection, welded along the middle.",
        .words = "reflect symmetry symmetrical half",
        .help =
            "Reflects about a plane across an axis. Points near the plane are shared by both halves; faces lying in it "
            "are dropped. "
            "Open curves that end on the plane are joined to their reflection.",
        .glyph = "M12 3v3 M12 8v3 M12 13v3 M12 18v3 M9 6 L3 18 H9z M15 6 L21 18 H15z",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "across {axis}"},
    {axis_of(&MirrorSettings::axis, "axis", "Across", "The plane stands across this axis."),
     pulled(offset_of(&MirrorSettings::at, "at", "At", "Where the plane crosses the axis."), HandleKind::along, "axis"),
     toggle_of(&MirrorSettings::cut, "cut", "Cut first", "Takes away what lies beyond the plane before reflecting."),
     when(choice_of(&MirrorSettings::keep, "keep", "Keep",
                    {{MirrorSettings::Keep::high, "high", "the far side"},
                     {MirrorSettings::Keep::low, "low", "the near side"}},
                    "The side that is kept: high or low values of the axis."),
          "cut"),
     length_of(&MirrorSettings::weld, "weld", "Weld within", 0, 0.05,
               "Points nearer to the plane than this are shared by both halves."),
     toggle_of(&MirrorSettings::hold, "hold", "Hold the seam", "Sets shared points exactly onto the plane.")},
    run_mirror);

}  // namespace

}  // namespace bricol
