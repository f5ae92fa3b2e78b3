// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/extrude.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/steps/shared/held_inset.h"

namespace bricol {

namespace {

struct Extrude {
    enum class Along { normals, x, y, z, sheet };
    enum class How { together, each };
    Domain what = Domain::face;
    double distance = 0.1;
    double other_way = 0;
    Along along = Along::normals;
    How how = How::together;
    double inset = 0;
    int divisions = 1;
    bool front = true;
    bool side = true;
    bool back = false;
    std::string only;
    std::string front_set;
    std::string side_set;
    std::string back_set;
};

void run_extrude(const Extrude& s, StepRun& run) {
    Shape shape = run.shape();
    const bool edges = s.what == Domain::edge;
    ExtrudeOptions options;
    options.distance = s.distance;
    options.other_way = edges ? 0 : s.other_way;
    options.divisions = s.divisions;
    options.inset = edges ? 0 : s.inset;
    options.together = s.how == Extrude::How::together;
    const Extrude::Along along = s.along;
    options.in_sheet = along == Extrude::Along::sheet;
    if (options.in_sheet && !edges) {
        run.tell(Severity::error, "no-sheet",
                 "Only open edges go on from their sheet. Pull faces along their normals or an axis.");
        return;
    }
    if (options.in_sheet && s.distance < 0)
        run.tell(Severity::note, "folds-back",
                 "A negative distance leads the new faces back over the sheet. Turn them over by Flip where only they "
                 "stay.");
    if (along != Extrude::Along::normals && !options.in_sheet) {
        DVec3 way(0);
        way[along == Extrude::Along::x ? 0 : along == Extrude::Along::y ? 1 : 2] = 1;
        options.direction = way;
    }
    options.front = s.front;
    options.side = s.side;
    options.back = s.back;
    const double corners = static_cast<double>(shape.mesh.topology->corner_count());
    if (run.too_many(corners * options.divisions, most_faces, "faces", "Use fewer divisions.")) return;
    const Mask chosen = run.chosen(shape.mesh, edges ? Domain::edge : Domain::face, s.only);
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
        finding.remedy = Remedy{"Keep the back", {{"", run.key_of(s.back), true}}, {}};
    }
    tell_held_inset(run, result, s.inset, options.together, run.key_of(s.inset));
    result.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // walls have sharp edges of their own
    if (edges)
        run.name_set(result.mesh, Domain::edge, s.front_set, result.pulled);
    else
        run.name_set(result.mesh, Domain::face, s.front_set, result.front);
    run.name_set(result.mesh, Domain::face, s.side_set, result.side);
    run.name_set(result.mesh, Domain::face, s.back_set, result.back);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<Extrude> extrude_step(
    StepInfo{
        .key = "extrude",
        .name = "Extrude",
        .family = Family::faces,
        .purpose = "Pulls faces or open edges out, with walls behind them.",
        .words = "pull push raise thickness offset boss",
        .help =
            "Faces are pulled together or one by one, along their normals or an axis, and may shrink on the way. The "
            "pulled faces, the walls and "
            "the old faces can each be kept or not, and each be given a set name. Thickness is even at corners.",
        .glyph = "M4 17 L12 21 L20 17 L12 13z M4 17v-7 M20 17v-7 M12 21v-7 M4 10 L12 14 L20 10 L12 6z M12 3v-1",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{distance}"},
    {choice_of(&Extrude::what, "what", "Pull",
               {{Domain::face, "faces", "faces"}, {Domain::edge, "edges", "open edges"}}, "What is pulled."),
     pulled(offset_of(&Extrude::distance, "distance", "Distance", "How far. Negative pushes in."), HandleKind::reach,
            "along"),
     when(length_of(
              &Extrude::other_way, "other_way", "And back by", 0, 0.5,
              "How far the walls go behind the old surface as well: a sheet grows to both sides. Give it a back to "
              "close it."),
          "what=faces"),
     choice_of(&Extrude::along, "along", "Along",
               {{Extrude::Along::normals, "normals", "their normals"},
                {Extrude::Along::x, "x", "x"},
                {Extrude::Along::y, "y", "y"},
                {Extrude::Along::z, "z", "z"},
                {Extrude::Along::sheet, "sheet", "on from the sheet"}},
               "The direction of the pull. Open edges can also go on in the plane of their face."),
     when(choice_of(&Extrude::how, "how", "How",
                    {{Extrude::How::together, "together", "together"}, {Extrude::How::each, "each", "one by one"}},
                    "Neighbouring faces stay joined, or every face goes alone."),
          "what=faces"),
     when(length_of(&Extrude::inset, "inset", "Inset", 0, 0.5, "How far the pulled faces shrink from their border."),
          "what=faces"),
     count_of(&Extrude::divisions, "divisions", "Divisions", 1, 1000, 16, "Rows of faces in the walls."),
     when(toggle_of(&Extrude::front, "front", "Front", "Keeps the pulled faces."), "what=faces"),
     when(toggle_of(&Extrude::side, "side", "Side", "Keeps the walls."), "what=faces"),
     when(toggle_of(&Extrude::back, "back", "Back", "Keeps the old faces, turned, as the far side of a slab."),
          "what=faces"),
     only_of(&Extrude::only, "Pulls only the elements of this set."),
     new_set_of(&Extrude::front_set, "front_set", "Front as set",
                "A name for the pulled faces, or for the pulled edges where they are now."),
     new_set_of(&Extrude::side_set, "side_set", "Side as set", "A name for the walls."),
     when(new_set_of(&Extrude::back_set, "back_set", "Back as set", "A name for the old faces."), "back")},
    run_extrude);

}  // namespace

}  // namespace bricol
