// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remesh.h"

#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Remesh {
    double edge = 0;
    int rounds = 3;
    bool hold_sharp = true;
    double angle = 60;
    bool hold_borders = false;
};

void run_remesh(const Remesh& s, StepRun& run) {
    Shape shape = run.shape();
    RemeshOptions options;
    options.rounds = s.rounds;
    options.hold_angle = s.hold_sharp ? s.angle : 180;
    options.hold_borders = s.hold_borders;
    const RemeshExtent extent = remesh_extent(shape.mesh);
    if (!(extent.area > 1e-12 * extent.thinnest * extent.thinnest) || extent.longest.front() <= 0) {
        run.tell(
            Severity::error, "no-area",
            "The faces have no area, so there is nothing to lay even triangles on. Look for a size of zero above.");
        return;
    }
    options.edge = s.edge > 0 ? s.edge : extent.fitting_edge();
    if (run.too_many(extent.faces(options.edge), 2e6, "faces", "Use longer edges.")) return;
    RemeshResult result = remeshed(shape.mesh, options);
    if (result.refused) {
        run.tell(Severity::error, "not-manifold",
                 "Some edges have more than two faces or faces that point opposite ways, so the mesh cannot be "
                 "remeshed. Join it by a Boolean or take the inner faces away first.");
        return;
    }
    if (result.mesh.face_count() == 0) {
        run.tell(Severity::error, "edges-too-long",
                 "The edges are longer than the shape, so nothing would be left. Use shorter ones.");
        return;
    }
    if (s.edge == 0)
        run.tell(Severity::note, "fitted-length",
                 fmt::format("Edges of {} were fitted to the shape and make {}.",
                             format_value(options.edge, Quantity::length, "m"),
                             counted(result.mesh.face_count(), "triangle")));
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<Remesh> remesh_step(
    StepInfo{
        .key = "remesh",
        .name = "Remesh",
        .family = Family::faces,
        .purpose = "Even triangles of one edge length over the same form.",
        .words = "retopology isotropic uniform triangulate regular resample",
        .help = "After booleans or cuts: long edges are split, short ones joined, and points spread evenly on the old "
                "surface. "
                "Sharp edges can be held in place. Values on points and faces are taken over from the nearest place.",
        .glyph =
            "M3 6 L9 4 L15 6 L21 4 M3 6 L6 12 L9 4 M6 12 L12 12 L15 6 L9 4 L12 12 M12 12 L18 12 L21 4 L15 6 L18 12 M6 "
            "12 L9 20 L12 12 L15 20 L18 12 M9 20h6",
        .gives = content_faces,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{edge}"},
    {length_of(&Remesh::edge, "edge", "Edge length", 0, 1,
               "What every edge comes near to. 0 fits it to the shape: some 4 000 triangles."),
     count_of(&Remesh::rounds, "rounds", "Rounds", 1, 50, 10, "More give evener triangles."),
     toggle_of(&Remesh::hold_sharp, "hold_sharp", "Hold sharp edges", "Ridges stay where they are."),
     when(angle_of(&Remesh::angle, "angle", "Sharper than", 1, 180, "How far the two faces of an edge turn."),
          "hold_sharp"),
     toggle_of(&Remesh::hold_borders, "hold_borders", "Hold borders",
               "Points of open borders stay as they are; otherwise borders are cut evenly too.")},
    run_remesh);

}  // namespace

}  // namespace bricol
