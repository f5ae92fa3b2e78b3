// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/extrude.h"

#include <fmt/format.h>

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_extrude(StepRun& run) {
    Shape shape = run.shape();
    const bool edges = run.word("what") == "edges";
    ExtrudeOptions options;
    options.distance = run.number("distance");
    options.divisions = run.integer("divisions");
    options.inset = edges ? 0 : run.number("inset");
    options.together = run.word("how") == "together";
    const std::string& along = run.word("along");
    if (along != "normals") {
        DVec3 way(0);
        way[along == "x" ? 0 : along == "y" ? 1 : 2] = 1;
        options.direction = way;
    }
    options.front = run.toggle("front");
    options.side = run.toggle("side");
    options.back = run.toggle("back");
    const double corners = static_cast<double>(shape.mesh.topology->corner_count());
    if (run.too_many(corners * options.divisions, most_faces, "faces", "Use fewer divisions.")) return;
    const Mask chosen = run.chosen(shape.mesh, edges ? Domain::edge : Domain::face);
    if (edges && !shape.mesh.topology->adjacency().edge_face.empty()) {
        std::size_t open = 0;
        for (Index e = 0; e < chosen.size(); ++e)
            open += chosen[e] && shape.mesh.topology->adjacency().faces_of_edge(e).size() == 1;
        if (open == 0)
            run.tell(Severity::note, "no-open-edges",
                     "No open edge is chosen, so nothing is pulled. Only edges with one face can be.");
    }
    ExtrudeResult result =
        edges ? extruded_edges(shape.mesh, chosen, options) : extruded_faces(shape.mesh, chosen, options);
    if (result.open_slab && !edges) {
        Finding& finding =
            run.tell(Severity::caution, "open-slab", "The pulled sheet has lost its back, so it is an open slab.");
        finding.remedy = Remedy{"Keep the back", {{"", "back", true}}, {}};
    }
    if (result.held > 0)
        run.tell(Severity::note, "held",
                 fmt::format("The inset was held at {} place{} too small for it.", result.held,
                             result.held == 1 ? "" : "s"));
    result.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // walls have sharp edges of their own
    run.name_set(result.mesh, Domain::face, "front_set", result.front);
    run.name_set(result.mesh, Domain::face, "side_set", result.side);
    run.name_set(result.mesh, Domain::face, "back_set", result.back);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const Registered extrude_step(StepInfo{
    .key = "extrude",
    .name = "Extrude",
    .family = Family::faces,
    .purpose = "Pulls faces or open edges out, with walls behind them.",
    .words = "pull push raise thickness offset boss",
    .help = "Faces are pulled together or one by one, along their normals or an axis, and may shrink on the way. The "
            "pulled faces, the walls and "
            "the old faces can each be kept or not, and each be given a set name. Thickness is even at corners.",
    .glyph = "M4 17 L12 21 L20 17 L12 13z M4 17v-7 M20 17v-7 M12 21v-7 M4 10 L12 14 L20 10 L12 6z M12 3v-1",
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters = {choice_of("what", "Pull", {{"faces", "faces"}, {"edges", "open edges"}}, "What is pulled."),
                   pulled(offset_of("distance", "Distance", 0.1, "How far. Negative pushes in."), HandleKind::reach,
                          "along"),
                   choice_of("along", "Along", {{"normals", "their normals"}, {"x", "x"}, {"y", "y"}, {"z", "z"}},
                             "The direction of the pull."),
                   when(choice_of("how", "How", {{"together", "together"}, {"each", "one by one"}},
                                  "Neighbouring faces stay joined, or every face goes alone."),
                        "what=faces"),
                   when(length_of("inset", "Inset", 0, 0, 0.5, "How far the pulled faces shrink from their border."),
                        "what=faces"),
                   count_of("divisions", "Divisions", 1, 1, 1000, 16, "Rows of faces in the walls."),
                   when(toggle_of("front", "Front", true, "Keeps the pulled faces."), "what=faces"),
                   when(toggle_of("side", "Side", true, "Keeps the walls."), "what=faces"),
                   when(toggle_of("back", "Back", false, "Keeps the old faces, turned, as the far side of a slab."),
                        "what=faces"),
                   only_of("Pulls only the elements of this set."),
                   new_set_of("front_set", "Front as set", "", "A name for the pulled faces."),
                   new_set_of("side_set", "Side as set", "", "A name for the walls."),
                   new_set_of("back_set", "Back as set", "", "A name for the old faces.")},
    .telling = "{distance}",
    .make = run_extrude});

}  // namespace

}  // namespace bricol
