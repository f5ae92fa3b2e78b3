// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/curve_edit.h"
#include "core/kernels/path.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Trim {
    enum class By { length, share, to };
    enum class Keep { start, middle, end };
    By by = By::length;
    double start = 0;
    double end = 0;
    double start_share = 0;
    double end_share = 0;
    double to = 1;
    Keep keep = Keep::start;
};

void run_trim(const Trim& s, StepRun& run) {
    Shape shape = run.shape();
    const bool shares = s.by == Trim::By::share;
    std::vector<Curve> out;
    std::size_t gone = 0;
    for (const Curve& curve : shape.curves) {
        const double whole = length_of(flatten(finer(curve)));
        double start = shares ? s.start_share * whole : s.start, end = shares ? s.end_share * whole : s.end;
        if (s.by == Trim::By::to) {
            // What is too much goes, what is missing is led on: all of it at the end that is not kept.
            const double off = whole - s.to;
            start = s.keep == Trim::Keep::start ? 0 : s.keep == Trim::Keep::end ? off : off / 2;
            end = off - start;
        }
        if (whole <= 0 || whole - start - end <= 1e-9) {
            ++gone;
            continue;
        }
        if (start == 0 && end == 0)
            out.push_back(curve);
        else
            out.push_back(trimmed(curve, start, whole - end));
    }
    if (gone > 0)
        run.tell(Severity::caution, "nothing-left",
                 fmt::format("Nothing is left of {} curve{}. Take less away.", gone, gone == 1 ? "" : "s"));
    shape.curves = std::move(out);
    run.give(std::move(shape));
}

const StepOf<Trim> trim_step(StepInfo{.key = "trim",
                                      .name = "Trim or extend",
                                      .family = Family::curves,
                                      .purpose = "Takes length off the ends of curves, or leads them straight on.",
                                      .words = "cut shorten lengthen extend",
                                      .help = "By length, by share of the whole, or all to one length. Bends keep "
                                              "their exact form. Negative numbers lead the end straight "
                                              "on. A closed curve opens.",
                                      .glyph = "M3 16 C8 8 16 8 21 16 M7 6v12 M17 6v12",
                                      .gives = 0,
                                      .inputs = {{"shape", "Curves", content_curves, true}},
                                      .telling = "by {by}"},
                             {choice_of(&Trim::by, "by", "By",
                                        {{Trim::By::length, "length", "length"},
                                         {Trim::By::share, "share", "share"},
                                         {Trim::By::to, "to", "to a length"}},
                                        "What the numbers mean."),
                              when(offset_of(&Trim::start, "start", "Off the start", "Negative leads it on."),
                                   "by=length"),
                              when(offset_of(&Trim::end, "end", "Off the end", "Negative leads it on."), "by=length"),
                              when(number_of(&Trim::start_share, "start_share", "Off the start", -100, 1,
                                             "Share of the whole length; negative leads it on."),
                                   "by=share"),
                              when(number_of(&Trim::end_share, "end_share", "Off the end", -100, 1,
                                             "Share of the whole length; negative leads it on."),
                                   "by=share"),
                              when(length_of(&Trim::to, "to", "Length", 1e-6, 2, "That every curve gets."), "by=to"),
                              when(choice_of(&Trim::keep, "keep", "Keeps",
                                             {{Trim::Keep::start, "start", "its start"},
                                              {Trim::Keep::middle, "middle", "its middle"},
                                              {Trim::Keep::end, "end", "its end"}},
                                             "What stays where it is."),
                                   "by=to")},
                             run_trim);

}  // namespace

}  // namespace bricol
