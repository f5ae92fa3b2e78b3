// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/stop.h"
#include "core/kernels/bar.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Bar {
    enum class Section { round, rectangle };
    Section section = Section::round;
    double width = 0.02;
    double height = 0.02;
    int sides = 8;
    bool caps = true;
};

void run_bar(const Bar& s, StepRun& run) {
    BarOptions options;
    options.round = s.section == Bar::Section::round;
    options.width = s.width;
    options.height = s.height;
    options.sides = s.sides;
    options.caps = s.caps;
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
        stop_point();
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

const StepOf<Bar> bar_step(
    StepInfo{
        .key = "bar",
        .name = "Bar",
        .family = Family::surface,
        .purpose = "A round or rectangular bar along lines.",
        .words = "stroke rod wire pipe rail profile thickness line rope",
        .help =
            "Lays one section along curves or loose edges. Corners are mitred, so the bar keeps its width; ends are "
            "closed.",
        .glyph = "M3 17 L10 10 L17 14 M5 20 L11 14 L19 18.5 M17 14a2 2.6 20 0 1 2 4.5 M3 17a1.5 2 0 0 0 2 3",
        .inputs = {{"shape", "Lines", content_curves | content_edges, true}},
        .telling = "{width}"},
    {choice_of(&Bar::section, "section", "Section",
               {{Bar::Section::round, "round", "round"}, {Bar::Section::rectangle, "rectangle", "rectangle"}},
               "The form of the cut end."),
     length_of(&Bar::width, "width", "Width", 1e-6, 0.5, "Diameter of a round bar; across a rectangular one."),
     when(length_of(&Bar::height, "height", "Height", 1e-6, 0.5, "Of a rectangular bar."), "section=rectangle"),
     when(count_of(&Bar::sides, "sides", "Sides", 3, 1000, 32, "Faces round a round bar."), "section=round"),
     toggle_of(&Bar::caps, "caps", "Ends closed", "Closes both ends of open lines.")},
    run_bar);

}  // namespace

}  // namespace bricol
