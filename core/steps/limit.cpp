// SPDX-License-Identifier: GPL-3.0-or-later
// Limit: a number held between bounds, which says so when it holds.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Limit {
    enum class Hold { least, most, both };
    enum class As { number, length, angle };
    double wanted = 1;
    Hold hold = Hold::both;
    double least = 0, most = 1;
    As as = As::number;
};

/// Bounds that contradict one another leave the lower one.
double limited(const Limit& s) {
    double held = s.wanted;
    if (s.hold != Limit::Hold::least) held = std::min(held, s.most);
    if (s.hold != Limit::Hold::most) held = std::max(held, s.least);
    return held;
}

std::string written(const Limit& s, double value) {
    return s.as == Limit::As::length  ? format_value(value, Quantity::length, "m")
           : s.as == Limit::As::angle ? format_value(value, Quantity::angle, "")
                                      : fmt::format("{:.6g}", value);
}

/// Three digits of a bound, no finer than it is written, rounded to the side on which it holds: the number to ask for
/// instead.
double within(const Limit& s, double bound, bool below) {
    if (bound == 0) return 0;
    const double written_to = s.as == Limit::As::length ? 1e-6 : s.as == Limit::As::angle ? 1e-3 : 0;
    const double digit = std::max(written_to, std::pow(10.0, std::floor(std::log10(std::abs(bound))) - 2));
    return (below ? std::floor(bound / digit + 1e-9) : std::ceil(bound / digit - 1e-9)) * digit;
}

void tell_limit(const Limit& s, StepRun& run) {
    if (s.hold == Limit::Hold::both && s.least > s.most)
        run.tell(Severity::caution, "crossed-limits",
                 fmt::format("At least {} and at most {} cannot both hold; {} is given. Swap them.",
                             written(s, s.least), written(s, s.most), written(s, s.least)));
    const double held = limited(s);
    if (held == s.wanted) return;
    // By so little no drawing tells them apart: 1e-9 of the number itself.
    if (std::abs(held - s.wanted) <= 1e-9 * std::max(std::abs(held), std::abs(s.wanted))) return;
    const bool below = held < s.wanted;
    run.tell(Severity::caution, "held-back",
             fmt::format("{} is asked for and {} is the {} there is room for, so that is taken. Ask for {} or {}.",
                         written(s, s.wanted), written(s, held), below ? "most" : "least",
                         written(s, within(s, held, below)), below ? "less" : "more"));
}

const BlockOf<Limit> limit_step(
    StepInfo{.key = "limit",
             .name = "Limit",
             .family = Family::look,
             .purpose = "A number held between bounds, which says so when it holds.",
             .words = "clamp clip bound range minimum maximum least most hold",
             .help = "A dial turned too far would tear a shape. Ask for this block's number in its place, "
                     "`= bore_held.value`: it goes along as far as the bounds let it, and what was held back is "
                     "reported with the number that fits, also when the recipe is used inside another.",
             .glyph = "M4 5v14 M20 5v14 M4 12h16 M7 9 L4 12 L7 15 M17 9 L20 12 L17 15",
             .telling = "{wanted}"},
    {number_of(&Limit::wanted, "wanted", "Wanted", -1e9, 1e9, "The number that is asked for."),
     choice_of(&Limit::hold, "hold", "Held",
               {{Limit::Hold::least, "least", "at least"},
                {Limit::Hold::most, "most", "at most"},
                {Limit::Hold::both, "both", "between both"}},
               "Which bounds hold."),
     when(number_of(&Limit::least, "least", "At least", -1e9, 1e9, "Below this the bound is given."),
          "hold=least|both"),
     when(number_of(&Limit::most, "most", "At most", -1e9, 1e9, "Above this the bound is given."), "hold=most|both"),
     choice_of(&Limit::as, "as", "Told as",
               {{Limit::As::number, "number", "a number"},
                {Limit::As::length, "length", "a length"},
                {Limit::As::angle, "angle", "an angle"}},
               "How the number is written when it is held back: lengths are in metres.")},
    {{"value", "Value", "The number within its bounds.", limited}}, tell_limit);

}  // namespace

}  // namespace bricol
