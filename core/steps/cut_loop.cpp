// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/choose.h"
#include "core/kernels/cut_loops.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct CutLoop {
    enum class Where { along, ends };
    std::vector<Place> places;
    int cuts = 1;
    Where where = Where::along;
    double slide = 0;
    double tight = 0.8;
    std::string only;
    std::string set;
};

void run_cut_loop(const CutLoop& s, StepRun& run) {
    Shape shape = run.shape();
    std::vector<Index> seeds;
    const std::vector<Place>& places = s.places;
    const FoundPlaces found = found_places(shape.mesh, places);
    for (std::size_t k = 0; k < places.size(); ++k)
        if (found.element[k] != no_index && places[k].element == Domain::edge) seeds.push_back(found.element[k]);
    if (!found.lost.empty()) {
        Finding& finding = run.tell(Severity::caution, "lost-places",
                                    fmt::format("{} of {} picked places are no longer there. Pick them again.",
                                                found.lost.size(), places.size()));
        for (const std::size_t k : found.lost) finding.places.push_back(Vec3(places[k].at));
    }
    if (!s.only.empty()) {
        const Mask chosen = run.chosen(shape.mesh, Domain::edge, s.only);
        for (Index e = 0; e < chosen.size(); ++e)
            if (chosen[e]) seeds.push_back(e);
    }
    if (seeds.empty()) {
        run.tell(Severity::note, "nothing-picked",
                 "Pick an edge in the view: the cut goes across the ring of quads it belongs to.");
        run.give(std::move(shape));
        return;
    }
    if (run.too_many(static_cast<double>(shape.mesh.face_count()) * (s.where == CutLoop::Where::ends ? 3 : s.cuts + 1),
                     most_faces, "faces", "Use fewer cuts."))
        return;
    const bool ends = s.where == CutLoop::Where::ends;
    CutLoopResult result = with_cut_loops(shape.mesh, seeds, s.cuts, ends ? s.tight : s.slide, ends);
    run.name_set(result.mesh, Domain::edge, s.set, result.edges);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<CutLoop> cut_loop_step(
    StepInfo{
        .key = "cut_loop",
        .name = "Cut loop",
        .family = Family::faces,
        .purpose = "New edges across a ring of quads.",
        .words = "edge loop insert ring split row",
        .help =
            "The ring goes through opposite edges of quads and ends at borders and at other polygons. Several cuts are "
            "spread evenly, or moved to one side.",
        .glyph = "M4 4h16v16h-16z M10 4v16 M14 4v16",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{cuts} cuts"},
    {places_of(&CutLoop::places, "places", "Picked edges", "edges", "One edge of every ring to cut."),
     choice_of(&CutLoop::where, "where", "Where",
               {{CutLoop::Where::along, "along", "along the edges"}, {CutLoop::Where::ends, "ends", "near both ends"}},
               "Spread along the edges, or one cut beside either end, which holds both tight when it is subdivided."),
     when(count_of(&CutLoop::cuts, "cuts", "Cuts", 1, 1000, 16, "New loops in every ring."), "where=along"),
     when(number_of(
              &CutLoop::slide, "slide", "Slide", -0.999, 0.999,
              "Moves the cuts: positive along x, y or z where the edges mostly point that way, else outwards, else "
              "anticlockwise."),
          "where=along"),
     when(number_of(&CutLoop::tight, "tight", "Tight", 0, 0.999, "How near to the ends: 0 is the middle, 1 the ends."),
          "where=ends"),
     only_of(&CutLoop::only, "Cuts the rings of this set's edges as well."),
     new_set_of(&CutLoop::set, "set", "As set", "A name for the new edges.")},
    run_cut_loop);

}  // namespace

}  // namespace bricol
