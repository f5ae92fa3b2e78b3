// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <fmt/format.h>

#include "core/kernels/bevel.h"
#include "core/kernels/choose.h"
#include "core/catalogue/settings.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

struct EdgeWeight {
    enum class What { bevel, crease };
    enum class By { set, angle, places };
    What what = What::bevel;
    double value = 1;
    double sharpness = 2;
    By by = By::set;
    double angle = 30;
    std::vector<Place> places;
    std::string only;
};

void run_edge_weight(const EdgeWeight& s, StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    const bool bevel = s.what == EdgeWeight::What::bevel;
    const std::string_view name = bevel ? attribute_name::bevel : attribute_name::crease;
    const auto value = bevel ? static_cast<float>(std::clamp(s.value, 0.0, 1.0)) : static_cast<float>(s.sharpness);
    const auto* before = mesh.attributes.values<float>(Domain::edge, name);
    Array<float> weights = before ? *before : Array<float>(mesh.edge_count(), 0);
    const EdgeWeight::By by = s.by;
    Mask mask(mesh.edge_count(), 0);
    if (by == EdgeWeight::By::set) {
        mask = run.chosen(mesh, Domain::edge, s.only);
    } else if (by == EdgeWeight::By::angle) {
        mask = sharp_edges(mesh, s.angle, Turn::both);
    } else {
        const std::vector<Place>& places = s.places;
        const FoundPlaces found = found_places(mesh, places);
        for (std::size_t k = 0; k < places.size(); ++k)
            if (found.element[k] != no_index && places[k].element == Domain::edge) mask[found.element[k]] = 1;
        if (!found.lost.empty()) {
            Finding& finding = run.tell(Severity::caution, "lost-places",
                                        fmt::format("{} of {} no longer there. Pick again.", found.lost.size(),
                                                    counted(places.size(), "picked edge is", "picked edges are")));
            for (const std::size_t k : found.lost) finding.places.push_back(Vec3(places[k].at));
        }
        if (places.empty()) run.tell(Severity::note, "nothing-picked", "Pick edges in the view.");
    }
    for (std::size_t e = 0; e < weights.size(); ++e)
        if (mask[e]) weights[e] = value;
    run.tell(Severity::note, "weighted", fmt::format("{} of {} got it.", count_of(mask), counted(mask.size(), "edge")));
    mesh.attributes.set(Domain::edge, name, std::move(weights));
    run.give(std::move(shape));
}

const StepOf<EdgeWeight> edge_weight_step(
    StepInfo{.key = "edge_weight",
             .name = "Edge weight",
             .family = Family::sets,
             .purpose = "Says how much edges are bevelled, or how sharp they stay.",
             .words = "crease sharp bevel weight hard edge",
             .help = "Bevel weights are for a Bevel step further on, creases for a Subdivide step.",
             .glyph = "M4 18 L12 6 L20 18 M12 6v12 M9 18h6",
             .gives = 0,
             .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
             .weighs = "what",
             .telling = "{what}"},
    {choice_of(&EdgeWeight::what, "what", "Sets",
               {{EdgeWeight::What::bevel, "bevel", "bevel weight"}, {EdgeWeight::What::crease, "crease", "crease"}},
               "What the number is for."),
     when(number_of(&EdgeWeight::value, "value", "Weight", 0, 1, "Share of the bevel's width."), "what=bevel"),
     when(number_of(&EdgeWeight::sharpness, "sharpness", "Sharpness", 0, 10,
                    "How many subdivision rounds the edge holds; 10 for ever."),
          "what=crease"),
     choice_of(&EdgeWeight::by, "by", "Edges",
               {{EdgeWeight::By::set, "set", "of a set, or all"},
                {EdgeWeight::By::angle, "angle", "by angle"},
                {EdgeWeight::By::places, "places", "picked"}},
               "Which edges get it."),
     when(angle_of(&EdgeWeight::angle, "angle", "Sharper than", 0, 180, "How far the two faces turn."), "by=angle"),
     when(places_of(&EdgeWeight::places, "places", "Picked edges", "edges", "What was picked in the view."),
          "by=places"),
     when(only_of(&EdgeWeight::only, "The edges of this set; all when empty."), "by=set")},
    run_edge_weight);

}  // namespace

}  // namespace bricol
