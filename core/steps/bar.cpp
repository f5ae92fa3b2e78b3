// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bar.h"

#include <fmt/format.h>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_bar(StepRun& run) {
    BarOptions options;
    options.round = run.word("section") == "round";
    options.width = run.number("width");
    options.height = run.number("height");
    options.sides = run.integer("sides");
    options.caps = run.toggle("caps");
    std::vector<Polyline> lines;
    for (const Curve& curve : run.shape().curves) lines.push_back(flatten(curve));
    for (Polyline& line : loose_edge_lines(run.shape().mesh)) lines.push_back(std::move(line));
    double points = 0;
    for (const Polyline& line : lines) points += static_cast<double>(line.points.size());
    if (run.too_many(points * (options.round ? options.sides : 4), most_faces, "faces",
                     "Use fewer sides or pieces per bend."))
        return;
    std::vector<Mesh> bars;
    std::vector<Vec3> tight;
    std::size_t empty = 0;
    for (const Polyline& line : lines) {
        if (run.stopped()) return;
        BarResult one = bar_along(line, options);
        empty += one.mesh.empty();
        tight.insert(tight.end(), one.too_tight.begin(), one.too_tight.end());
        bars.push_back(std::move(one.mesh));
    }
    if (empty == lines.size()) {
        run.tell(Severity::error, "empty-line", "The line has no length, so there is nothing to lay a bar along.");
        return;
    }
    if (!tight.empty()) {
        Finding& finding = run.tell(
            Severity::caution, "too-tight",
            fmt::format(
                "The line turns tighter than the bar is wide at {} place{}. Make the bar thinner or the bend wider.",
                tight.size(), tight.size() == 1 ? "" : "s"));
        tight.resize(std::min<std::size_t>(tight.size(), 64));
        finding.places = std::move(tight);
    }
    run.give(joined_meshes(bars));
}

const Registered bar_step(StepInfo{
    .key = "bar",
    .name = "Bar",
    .family = Family::surface,
    .purpose = "A round or rectangular bar along lines.",
    .words = "stroke rod wire pipe rail profile thickness line rope",
    .help = "Lays one section along curves or loose edges. Corners are mitred, so the bar keeps its width; ends are "
            "closed.",
    .glyph = "M3 17 L10 10 L17 14 M5 20 L11 14 L19 18.5 M17 14a2 2.6 20 0 1 2 4.5 M3 17a1.5 2 0 0 0 2 3",
    .inputs = {{"shape", "Lines", content_curves | content_edges, true}},
    .parameters = {choice_of("section", "Section", {{"round", "round"}, {"rectangle", "rectangle"}},
                             "The form of the cut end."),
                   length_of("width", "Width", 0.02, 1e-6, 0.5, "Diameter of a round bar; across a rectangular one."),
                   when(length_of("height", "Height", 0.02, 1e-6, 0.5, "Of a rectangular bar."), "section=rectangle"),
                   when(count_of("sides", "Sides", 8, 3, 1000, 32, "Faces round a round bar."), "section=round"),
                   toggle_of("caps", "Ends closed", true, "Closes both ends of open lines.")},
    .telling = "{width}",
    .make = run_bar});

}  // namespace

}  // namespace bricol
