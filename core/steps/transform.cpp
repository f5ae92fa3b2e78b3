// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/transform.h"
#include "core/steps/step.h"

namespace bricol {

namespace {

void make(StepRun& run) {
    DVec3 pivot = run.vector("pivot");
    const std::string& about = run.choice("about");
    if (const auto box = box_of(run.shape()); box && about != "origin" && about != "point") {
        pivot = box->centre();
        if (about == "base") pivot.z = box->low.z;
    } else if (about == "origin") {
        pivot = DVec3(0);
    }
    const DVec3 size = run.vector("size") * run.number("whole");
    if (size.x == 0 || size.y == 0 || size.z == 0)
        run.find(Severity::caution, "no-size", "A size of 0 flattens the shape; its volume and its normals are lost.");
    run.give(transformed(run.shape(), placement(run.vector("move"), run.vector("turn"), size, pivot)));
}

const Registered step(StepInfo{
    .key = "transform",
    .name = "Transform",
    .family = Family::bend,
    .purpose = "Moves, turns and sizes a shape about a pivot.",
    .words = "move rotate scale translate position place size",
    .help = "Sizes first, then turns about x, y and z, then moves. A negative size mirrors; outside stays outside.",
    .glyph = "M12 3v18 M3 12h18 M9.5 5.5 L12 3 L14.5 5.5 M9.5 18.5 L12 21 L14.5 18.5 M5.5 9.5 L3 12 L5.5 14.5 M18.5 9.5 L21 12 L18.5 14.5",
    .gives = 0,
    .inputs = {{"shape", "Shape", content_faces | content_curves | content_points | content_edges, true}},
    .parameters = {vector_of("move", "Move", Quantity::length, {0, 0, 0}, "How far, along x, y and z."),
                   vector_of("turn", "Turn", Quantity::angle, {0, 0, 0}, "About x, then y, then z."),
                   vector_of("size", "Size", Quantity::plain, {1, 1, 1}, "Factor along x, y and z."),
                   number_of("whole", "Size of all", 1, -1000, 1000, "Factor in every direction, on top of the others."),
                   choice_of("about", "About", {{"origin", "the origin"}, {"centre", "its centre"}, {"base", "its base"}, {"point", "a point"}},
                             "What stays in place while turning and sizing."),
                   when(vector_of("pivot", "Point", Quantity::length, {0, 0, 0}, "The point that stays in place."), "about=point")},
    .telling = "{move}",
    .make = make});

}  // namespace

}  // namespace bricol
