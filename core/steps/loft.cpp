// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/line_values.h"
#include "core/kernels/loft.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct LoftSettings {
    enum class MatchChoice { points, length, corners };
    enum class Through { straight, smooth };
    enum class Caps { both, none, start, end };
    MatchChoice match = MatchChoice::points;
    int columns = 0;
    Through through = Through::straight;
    int rows = 1;
    bool closed = false;
    bool align = true;
    int seam = 0;
    Caps caps = Caps::both;
    double smooth = 40;
    std::string start_set;
    std::string end_set;
};

void run_loft(const LoftSettings& s, StepRun& run) {
    LoftOptions options;
    const LoftSettings::MatchChoice match = s.match;
    using Match = LoftOptions::Match;
    options.match = match == LoftSettings::MatchChoice::points   ? Match::points
                    : match == LoftSettings::MatchChoice::length ? Match::length
                                                                 : Match::corners;
    options.columns = s.columns;
    options.smooth = s.through == LoftSettings::Through::smooth;
    options.rows = s.rows;
    options.closed = s.closed;
    options.align = s.align;
    options.seam = s.seam;
    const LoftSettings::Caps caps = s.caps;
    options.cap_start = caps == LoftSettings::Caps::both || caps == LoftSettings::Caps::start;
    options.cap_end = caps == LoftSettings::Caps::both || caps == LoftSettings::Caps::end;
    options.smooth_angle = static_cast<float>(s.smooth);
    const std::vector<Polyline> lines = lines_of(run.shape());
    std::size_t most = 0, open = 0;
    for (const Polyline& line : lines) most = std::max(most, line.points.size()), open += !line.closed;
    const double columns = options.columns > 0 ? options.columns : static_cast<double>(most);
    if (run.too_many(columns * static_cast<double>(lines.size()) * options.rows, most_faces, "faces",
                     "Use fewer rows or columns."))
        return;
    LoftResult result = loft(lines, options);
    give_line_values(result.mesh, lines);
    if (!result.refused.empty()) {
        run.tell(Severity::error, "no-outlines",
                 result.refused + " Put them all in this step's input, in order: Merge joins curves of several steps.");
        return;
    }
    if (result.corners_differ)
        run.tell(Severity::note, "corners-differ",
                 "The outlines have unlike numbers of corners, so they were matched by length.");
    if (result.counts_differ)
        run.tell(Severity::note, "counts-differ",
                 "The outlines have unlike numbers of points, so they were matched by length.");
    if (result.twist > 25) {
        Finding& finding =
            run.tell(Severity::note, "seam-twists",
                     fmt::format("The seam runs round by {:.0f}° from one outline to the next, so the skin twists.",
                                 result.twist));
        if (!options.align)
            finding.remedy =
                Remedy{"Let the outlines start where they twist least", {{"", run.key_of(s.align), true}}, {}};
    }
    if (result.turned > 0 && options.align)
        run.tell(Severity::note, "outline-turned",
                 fmt::format("{} outline{} the other way and {} turned.", result.turned,
                             result.turned == 1 ? " ran" : "s ran", result.turned == 1 ? "was" : "were"));
    if (open > 0 && caps != LoftSettings::Caps::none)
        run.tell(Severity::note, "open-section",
                 "Open outlines give a sheet without caps. Close the curves for a solid.");
    Shape shape;
    shape.mesh = std::move(result.mesh);
    run.name_set(shape.mesh, Domain::face, s.start_set, std::move(result.start));
    run.name_set(shape.mesh, Domain::face, s.end_set, std::move(result.end));
    run.give(std::move(shape));
}

const StepOf<LoftSettings> loft_step(
    StepInfo{
        .key = "loft",
        .name = "Loft",
        .family = Family::surface,
        .purpose = "A skin through two or more outlines.",
        .words = "skin blend sections bridge curves surface hull",
        .help =
            "Outlines are taken in their order. Their points are matched one by one, by length, or corner by corner; "
            "closed outlines are turned so that the skin twists least. The skin goes straight from one to the next or "
            "smoothly through them.",
        .glyph = "M6 4h12 M4 12h16 M7 20h10 M6 4 L4 12 L7 20 M18 4 L20 12 L17 20",
        .inputs = {{"shape", "Outlines", content_curves | content_edges, true}},
        .telling = "{through}"},
    {choice_of(&LoftSettings::match, "match", "Matched by",
               {{LoftSettings::MatchChoice::points, "points", "their points"},
                {LoftSettings::MatchChoice::length, "length", "length"},
                {LoftSettings::MatchChoice::corners, "corners", "corners"}},
               "Which point of one outline leads to which of the next."),
     when(count_of(&LoftSettings::columns, "columns", "Pieces round", 0, 100000, 128,
                   "0 for as many as the richest outline has."),
          "match=length|corners"),
     choice_of(&LoftSettings::through, "through", "Goes",
               {{LoftSettings::Through::straight, "straight", "straight"},
                {LoftSettings::Through::smooth, "smooth", "smoothly"}},
               "From one outline to the next."),
     count_of(&LoftSettings::rows, "rows", "Rows", 1, 10000, 32, "Rows of faces between two outlines."),
     toggle_of(&LoftSettings::closed, "closed", "Close the loop", "The last outline leads back to the first."),
     toggle_of(&LoftSettings::align, "align", "Twist least",
               "Turns closed outlines, and those that run the other way, to lie best beside the one before."),
     count_of(&LoftSettings::seam, "seam", "Move seam", -100000, 100000, 32,
              "Columns that the start of closed outlines is moved by."),
     choice_of(&LoftSettings::caps, "caps", "Caps",
               {{LoftSettings::Caps::both, "both", "both ends"},
                {LoftSettings::Caps::none, "none", "none"},
                {LoftSettings::Caps::start, "start", "start"},
                {LoftSettings::Caps::end, "end", "end"}},
               "Closes the ends of closed outlines."),
     angle_of(&LoftSettings::smooth, "smooth", "Sharp over", 0, 180, "Edges that turn by more than this look sharp."),
     new_set_of(&LoftSettings::start_set, "start_set", "Start as set", "A name for the face that closes the start."),
     new_set_of(&LoftSettings::end_set, "end_set", "End as set", "A name for the one that closes the end.")},
    run_loft);

}  // namespace

}  // namespace bricol
