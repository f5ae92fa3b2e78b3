// SPDX-License-Identifier: GPL-3.0-or-later
// Nudge: picked points, edges and faces moved by hand.
#include "core/kernels/nudge.h"

#include <fmt/format.h>
#include <map>

#include "core/kernels/choose.h"
#include "core/catalogue/settings.h"
#include "core/steps/shared/movable.h"

namespace bricol {

namespace {

struct Nudge {
    enum class About { middle, place };
    std::vector<Place> places;
    DVec3 turn{0, 0, 0};
    DVec3 size{1, 1, 1};
    About about = About::middle;
    DVec3 place{0, 0, 0};
    double soft = 0;
    Movable on = Movable::any;
};

/// The vertices of the places that were found, each once; of two that share one the later place holds.
std::vector<Pull> pulls_of(const Mesh& mesh, const std::vector<Place>& places, const FoundPlaces& found) {
    const Topology& t = *mesh.topology;
    std::map<Index, DVec3> move;
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Index element = found.element[k];
        if (element == no_index) continue;
        if (places[k].element == Domain::vertex) move[element] = places[k].move;
        if (places[k].element == Domain::edge)
            for (const Index v : t.edges[element]) move[v] = places[k].move;
        if (places[k].element == Domain::face)
            for (const Index v : t.face(element)) move[v] = places[k].move;
    }
    std::vector<Pull> pulls;
    for (const auto& [vertex, by] : move) pulls.push_back({vertex, by});
    return pulls;
}

void run_nudge(const Nudge& s, StepRun& run) {
    MovablePoints movable(run, s.on);
    if (!movable.there()) return;
    const std::vector<Place>& places = s.places;
    if (places.empty()) {
        run.tell(Severity::note, "nothing-picked", "Pick vertices, edges or faces in the view and pull them.");
        run.give(run.shape());
        return;
    }
    const Mesh& mesh = movable.mesh();
    const FoundPlaces found = found_places(mesh, places);
    const auto report = [&](const std::vector<std::size_t>& list, const char* code, const std::string& text) {
        if (list.empty()) return;
        Finding& finding = run.tell(Severity::caution, code, text);
        for (const std::size_t k : list) finding.places.push_back(Vec3(places[k].at));
    };
    report(found.lost, "lost-places",
           fmt::format("{} of {} moved places are no longer there, so their move is left out. Pick them again, or undo "
                       "what took them away.",
                       found.lost.size(), places.size()));
    report(found.doubtful, "doubtful-places",
           fmt::format("{} moved places could be either of two elements; the nearer one was taken. Check them.",
                       found.doubtful.size()));
    const std::vector<Pull> pulls = pulls_of(mesh, places, found);
    if (pulls.empty()) {
        run.give(run.shape());
        return;
    }
    NudgeOptions options{s.turn, s.size, s.place, s.soft};
    if (s.about == Nudge::About::middle) {
        options.about = DVec3(0);
        for (const Pull& pull : pulls)
            options.about += DVec3((*mesh.positions)[pull.vertex]) / static_cast<double>(pulls.size());
    }
    movable.give(nudged(*mesh.positions, pulls, options));
}

const StepOf<Nudge> nudge_step(
    StepInfo{
        .key = "nudge",
        .name = "Nudge",
        .family = Family::bend,
        .purpose = "Moves picked points, edges or faces by hand.",
        .words = "move tweak edit sculpt pull vertex soft",
        .help =
            "Picked places are remembered by where they are, not by number, and found again when the mesh above "
            "changes; what is lost or doubtful is "
            "reported. A soft radius takes the neighbourhood along: moved less with distance, and turned less, so that "
            "a stretch of a trunk leans in a bow. Knots of curves and copies are named by the place of a vertex: where "
            "the knot or the copy stands.",
        .glyph = "M4 18 L9 15 L13 6 L16 15 L20 18 M13 6v-3 M11.5 4.5 L13 3 L14.5 4.5",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "soft {soft}"},
    {places_of(&Nudge::places, "places", "Moved places", "vertices|edges|faces|moved",
               "What was picked, and how far each is moved."),
     vector_of(&Nudge::turn, "turn", "Turn", Quantity::angle, "About the axes, once moved."),
     vector_of(&Nudge::size, "size", "Size", Quantity::plain, "Along the axes; 1 leaves it."),
     choice_of(&Nudge::about, "about", "About",
               {{Nudge::About::middle, "middle", "their middle"}, {Nudge::About::place, "place", "a place"}},
               "What turns and sizes leave where it is."),
     when(pulled(vector_of(&Nudge::place, "place", "Place", Quantity::length, "What it turns about."),
                 HandleKind::point),
          "about=place"),
     pulled(length_of(&Nudge::soft, "soft", "Soft radius", 0, 1, "How far around the neighbourhood follows."),
            HandleKind::reach, "x", "places"),
     movable_of(&Nudge::on)},
    run_nudge);

}  // namespace

}  // namespace bricol
