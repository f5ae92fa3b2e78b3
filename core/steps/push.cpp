// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/displace.h"

namespace bricol {

namespace {

void run_push(StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const Array<float> share = shares(run);
    const double amount = run.number("amount");
    const std::string& along = run.word("along");
    Array<Vec3> points = *mesh.positions;
    const Array<Vec3> normals = along == "normals" ? vertex_normals(mesh) : Array<Vec3>{};
    DVec3 way = run.vector("direction");
    if (along == "direction" && !(glm::length(way) > 0)) {
        run.tell(Severity::error, "no-direction", "The direction is 0 long, so there is no way to push.");
        return;
    }
    if (along == "direction") way = glm::normalize(way);
    const DVec3 centre = run.vector("centre");
    for (std::size_t i = 0; i < points.size(); ++i) {
        const DVec3 p(points[i]);
        DVec3 towards = along == "normals" ? DVec3(normals[i]) : way;
        if (along == "centre") towards = glm::length(p - centre) > 0 ? glm::normalize(p - centre) : DVec3(0);
        points[i] = Vec3(p + towards * (amount * static_cast<double>(share[i])));
    }
    give_moved(run, std::move(points));
}

const Registered push_step(StepInfo{
    .key = "push",
    .name = "Push",
    .family = Family::bend,
    .purpose = "Moves points along normals or a direction, by an attribute.",
    .words = "displace inflate shrink offset weight move fatten",
    .help = "Every point goes by the amount times its weight: outwards when positive, inwards when negative.",
    .glyph = "M4 19 C8 19 8 9 12 9 C16 9 16 19 20 19 M12 9v-6 M9.8 5.2 L12 3 L14.2 5.2",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
    .parameters =
        {offset_of("amount", "Amount", 0.05, "How far where the weight is 1; negative pushes in."),
         choice_of("along", "Along",
                   {{"normals", "their normals"}, {"direction", "a direction"}, {"centre", "away from a point"}},
                   "Which way points go."),
         when(pulled(vector_of("direction", "Direction", Quantity::plain, {0, 0, 1}, "Of any length."),
                     HandleKind::arrow),
              "along=direction"),
         when(pulled(vector_of("centre", "Centre", Quantity::length, {0, 0, 0}, "The point they go away from."),
                     HandleKind::point),
              "along=centre"),
         attribute_of("weight", "By weight", "", "An attribute that says how much; empty for 1 everywhere."),
         only_of("Only the points of this set.")},
    .telling = "{amount}",
    .make = run_push});

}  // namespace

}  // namespace bricol
