// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/triangulate.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Triangulate {
    std::string only;
};

void run_triangulate(const Triangulate& s, StepRun& run) {
    Shape shape = run.shape();
    shape.mesh = with_triangles(shape.mesh, run.chosen(shape.mesh, Domain::face, s.only));
    run.give(std::move(shape));
}

const StepOf<Triangulate> triangulate_step(StepInfo{.key = "triangulate",
                                                    .name = "Triangulate",
                                                    .family = Family::faces,
                                                    .purpose = "Turns polygons into triangles.",
                                                    .words = "triangles split quads polygons game engine",
                                                    .help = "Quads along the diagonal that keeps them unfolded, "
                                                            "concave polygons by a constrained Delaunay triangulation.",
                                                    .glyph = "M4 4h16v16h-16z M4 20 L20 4",
                                                    .inputs = {{"shape", "Mesh", content_faces, true}},
                                                    .telling = ""},
                                           {only_of(&Triangulate::only, "Only the faces of this set.")},
                                           run_triangulate);

}  // namespace

}  // namespace bricol
