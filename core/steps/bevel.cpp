// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/bevel.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/steps/shared/width_marks.h"

namespace bricol {

namespace {

struct BevelSettings {
    enum class By { angle, all, weight };
    enum class Measure { width, share };
    Domain what = Domain::edge;
    By by = By::angle;
    double angle = 30;
    Measure measure = Measure::width;
    double width = 0.01;
    double share = 25;
    int segments = 1;
    double profile = 1;
    bool hold = true;
    std::string only;
    std::string set;
};

/// Widths of the edges the step is asked to bevel; 0 for the others.
Array<float> edge_widths(const BevelSettings& s, StepRun& run, const Mesh& mesh) {
    const BevelSettings::By by = s.by;
    const Mask only = run.chosen(mesh, Domain::edge, s.only);
    Array<float> widths(mesh.edge_count(), 0);
    const Array<float> angles = by == BevelSettings::By::angle ? edge_angles(mesh) : Array<float>{};
    const auto* weights = mesh.attributes.values<float>(Domain::edge, attribute_name::bevel);
    if (by == BevelSettings::By::weight && !weights)
        run.tell(Severity::caution, "no-weights",
                 "No edge has a bevel weight here. An Edge weight step in front of this one gives them.");
    const double share = s.share / 100, least = s.angle;
    const bool relative = s.measure == BevelSettings::Measure::share;
    const Adjacency& near = mesh.topology->adjacency();
    for (Index e = 0; e < widths.size(); ++e) {
        if (!only[e] || near.faces_of_edge(e).size() != 2) continue;
        double factor = 1;
        if (by == BevelSettings::By::angle) factor = std::abs(angles[e]) > least ? 1 : 0;
        if (by == BevelSettings::By::weight) factor = weights ? std::clamp((*weights)[e], 0.0f, 1.0f) : 0;
        if (factor == 0) continue;
        double width = s.width;
        if (relative) {  // of the shortest side that the new edges run along
            double shortest = 1e300;
            for (const Index v : mesh.topology->edges[e])
                for (const Index other : near.edges_of_vertex(v))
                    if (other != e)
                        shortest = std::min(shortest, static_cast<double>(glm::distance(
                                                          (*mesh.positions)[mesh.topology->edges[other][0]],
                                                          (*mesh.positions)[mesh.topology->edges[other][1]])));
            width = shortest < 1e300 ? shortest * share : 0;
        }
        widths[e] = static_cast<float>(width * factor);
    }
    return widths;
}

void run_bevel(const BevelSettings& s, StepRun& run) {
    Shape shape = run.shape();
    BevelOptions options;
    options.segments = s.segments;
    options.profile = s.profile;
    options.hold = s.hold;
    const double pieces = static_cast<double>(shape.mesh.edge_count()) * options.segments * (1 + options.segments);
    if (run.too_many(pieces, 4 * most_faces, "faces", "Use fewer segments, or bevel a set.")) return;
    warn_after_smoothing(run, shape.mesh, "bevel");
    note_uneven_size(run, shape.mesh);
    BevelResult result;
    if (s.what == Domain::vertex) {
        const Mask only = run.chosen(shape.mesh, Domain::vertex, s.only);
        Array<float> widths(shape.mesh.vertex_count(), 0);
        for (std::size_t v = 0; v < widths.size(); ++v) widths[v] = only[v] ? static_cast<float>(s.width) : 0;
        result = bevelled_vertices(shape.mesh, widths, options);
    } else {
        result = bevelled_edges(shape.mesh, edge_widths(s, run, shape.mesh), options);
    }
    if (result.edges == 0)
        run.tell(Severity::note, "nothing-bevelled",
                 "No edge meets the rule, so nothing is bevelled. Lower the angle, or check the set.");
    if (result.held > 0) {
        Finding& finding =
            run.tell(Severity::caution, "overlap-held",
                     fmt::format("{} of {} bevels would run into one another and were held, the narrowest to {:.0f} % "
                                 "of the width ({}).",
                                 result.held, result.edges, result.smallest_share * 100,
                                 format_value(result.smallest_share * s.width, Quantity::length, "m")));
        finding.places = result.places;
        if (s.measure == BevelSettings::Measure::width && s.what != Domain::vertex)
            finding.remedy = Remedy{
                "Use a width that fits", {{"", run.key_of(s.width), 0.99 * result.smallest_share * s.width}}, {}};
    }
    run.name_set(result.mesh, Domain::face, s.set, result.made);
    shape.mesh = std::move(result.mesh);
    mark(shape.mesh, attribute_name::even_width);
    run.give(std::move(shape));
}

const StepOf<BevelSettings> bevel_step(
    StepInfo{
        .key = "bevel",
        .name = "Bevel",
        .family = Family::faces,
        .purpose = "Cuts edges or corners off in a strip of even width.",
        .words = "chamfer fillet round edges corners soften",
        .help =
            "Edges are chosen by their angle (30° to 40° catches the corners of a frame and leaves flat edges alone), "
            "by a set, or by their bevel weight. Where "
            "bevels would run into one another they are held and a finding says where. Put bevels in front of a "
            "subdivision.",
        .glyph = "M4 20V10L10 4H20 M4 10 L12 12 L10 4 M12 12 L20 14",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .reads = {attribute_name::bevel},
        .telling = "{width}"},
    {choice_of(&BevelSettings::what, "what", "Bevel",
               {{Domain::edge, "edges", "edges"}, {Domain::vertex, "vertices", "vertices"}}, "What is cut off."),
     when(choice_of(&BevelSettings::by, "by", "Chosen by",
                    {{BevelSettings::By::angle, "angle", "angle"},
                     {BevelSettings::By::all, "all", "the set alone"},
                     {BevelSettings::By::weight, "weight", "bevel weight"}},
                    "Which edges."),
          "what=edges"),
     when(angle_of(&BevelSettings::angle, "angle", "Sharper than", 0, 180, "Edges whose faces turn by more than this."),
          "by=angle"),
     when(choice_of(&BevelSettings::measure, "measure", "Measured as",
                    {{BevelSettings::Measure::width, "width", "width"},
                     {BevelSettings::Measure::share, "share", "share of the sides"}},
                    "A length, or a share of the shortest side beside the edge."),
          "what=edges"),
     length_of(&BevelSettings::width, "width", "Width", 0, 0.2, "From the old edge to each new one, in its face."),
     when(number_of(&BevelSettings::share, "share", "Share (%)", 0, 100, "Of the shortest side beside the edge."),
          "measure=share"),
     count_of(&BevelSettings::segments, "segments", "Segments", 1, 64, 8, "Faces across the strip."),
     number_of(&BevelSettings::profile, "profile", "Profile", -2, 4,
               "0 straight, 1 round, more is fuller, below 0 hollow."),
     toggle_of(&BevelSettings::hold, "hold", "Hold overlaps", "Makes bevels narrower where they would cross."),
     only_of(&BevelSettings::only, "Only the edges or vertices of this set."),
     new_set_of(&BevelSettings::set, "set", "As set", "A name for the new faces.")},
    run_bevel);

}  // namespace

}  // namespace bricol
