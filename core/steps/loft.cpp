// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/loft.h"

#include <fmt/format.h>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_loft(StepRun& run) {
    LoftOptions options;
    const std::string& match = run.word("match");
    using Match = LoftOptions::Match;
    options.match = match == "points" ? Match::points : match == "length" ? Match::length : Match::corners;
    options.columns = run.integer("columns");
    options.smooth = run.word("through") == "smooth";
    options.rows = run.integer("rows");
    options.closed = run.toggle("closed");
    options.align = run.toggle("align");
    options.seam = run.integer("seam");
    const std::string& caps = run.word("caps");
    options.cap_start = caps == "both" || caps == "start";
    options.cap_end = caps == "both" || caps == "end";
    options.smooth_angle = run.real("smooth");
    options.stop = run.stop;
    const std::vector<Polyline> lines = lines_of(run.shape());
    std::size_t most = 0, open = 0;
    for (const Polyline& line : lines) most = std::max(most, line.points.size()), open += !line.closed;
    const double columns = options.columns > 0 ? options.columns : static_cast<double>(most);
    if (run.too_many(columns * static_cast<double>(lines.size()) * options.rows, most_faces, "faces",
                     "Use fewer rows or columns."))
        return;
    LoftResult result = loft(lines, options);
    if (run.stopped()) return;
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
            run.tell(Severity::caution, "seam-twists",
                     fmt::format("The seam runs round by {:.0f}° from one outline to the next, so the skin twists.",
                                 result.twist));
        if (!options.align)
            finding.remedy = Remedy{"Let the outlines start where they twist least", {{"", "align", true}}, {}};
    }
    if (result.turned > 0 && options.align)
        run.tell(Severity::note, "outline-turned",
                 fmt::format("{} outline{} the other way and {} turned.", result.turned,
                             result.turned == 1 ? " ran" : "s ran", result.turned == 1 ? "was" : "were"));
    if (open > 0 && caps != "none")
        run.tell(Severity::note, "open-section",
                 "Open outlines give a sheet without caps. Close the curves for a solid.");
    Shape shape;
    shape.mesh = std::move(result.mesh);
    run.name_set(shape.mesh, Domain::face, "start_set", std::move(result.start));
    run.name_set(shape.mesh, Domain::face, "end_set", std::move(result.end));
    run.give(std::move(shape));
}

const Registered loft_step(StepInfo{
    .key = "loft",
    .name = "Loft",
    .family = Family::surface,
    .purpose = "A skin through two or more outlines.",
    .words = "skin blend sections bridge curves surface hull",
    .help = "Outlines are taken in their order. Their points are matched one by one, by length, or corner by corner; "
            "closed outlines are turned so that the skin twists least. The skin goes straight from one to the next or "
            "smoothly through them.",
    .glyph = "M6 4h12 M4 12h16 M7 20h10 M6 4 L4 12 L7 20 M18 4 L20 12 L17 20",
    .inputs = {{"shape", "Outlines", content_curves | content_edges, true}},
    .parameters =
        {choice_of("match", "Matched by", {{"points", "their points"}, {"length", "length"}, {"corners", "corners"}},
                   "Which point of one outline leads to which of the next."),
         when(count_of("columns", "Pieces round", 0, 0, 100000, 128, "0 for as many as the richest outline has."),
              "match=length|corners"),
         choice_of("through", "Goes", {{"straight", "straight"}, {"smooth", "smoothly"}},
                   "From one outline to the next."),
         count_of("rows", "Rows", 1, 1, 10000, 32, "Rows of faces between two outlines."),
         toggle_of("closed", "Close the loop", false, "The last outline leads back to the first."),
         toggle_of("align", "Twist least", true,
                   "Turns closed outlines, and those that run the other way, to lie best beside the one before."),
         count_of("seam", "Move seam", 0, -100000, 100000, 32,
                  "Columns that the start of closed outlines is moved by."),
         choice_of("caps", "Caps", {{"both", "both ends"}, {"none", "none"}, {"start", "start"}, {"end", "end"}},
                   "Closes the ends of closed outlines."),
         angle_of("smooth", "Sharp over", 40, 0, 180, "Edges that turn by more than this look sharp."),
         new_set_of("start_set", "Start as set", "", "A name for the face that closes the start."),
         new_set_of("end_set", "End as set", "", "A name for the one that closes the end.")},
    .telling = "{through}",
    .make = run_loft});

}  // namespace

}  // namespace bricol
