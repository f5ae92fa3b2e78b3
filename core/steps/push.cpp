// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/stop.h"
#include "core/catalogue/settings.h"
#include "core/kernels/normals.h"
#include "core/steps/shared/movable.h"

namespace bricol {

namespace {

struct Push {
    enum class Along { normals, direction, centre };
    double amount = 0.05;
    Along along = Along::normals;
    DVec3 direction{0, 0, 1};
    DVec3 centre{0, 0, 0};
    Movable on = Movable::any;
    std::string weight;
    std::string only;
};

void run_push(const Push& s, StepRun& run) {
    MovablePoints movable(run, s.on);
    if (!movable.there()) return;
    const Mesh& mesh = movable.mesh();
    const Array<float> share = movable.shares(s.weight, s.only);
    const double amount = s.amount;
    const Push::Along along = s.along;
    Array<Vec3> points = *mesh.positions;
    const Array<Vec3> normals = along == Push::Along::normals ? vertex_normals(mesh) : Array<Vec3>{};
    DVec3 way = s.direction;
    if (along == Push::Along::direction && !(glm::length(way) > 0)) {
        run.tell(Severity::error, "no-direction", "The direction is 0 long, so there is no way to push.");
        return;
    }
    if (along == Push::Along::direction) way = glm::normalize(way);
    const DVec3 centre = s.centre;
    for (std::size_t i = 0; i < points.size(); ++i) {
        stop_point(i);
        const DVec3 p(points[i]);
        DVec3 towards = along == Push::Along::normals ? DVec3(normals[i]) : way;
        if (along == Push::Along::centre) towards = glm::length(p - centre) > 0 ? glm::normalize(p - centre) : DVec3(0);
        points[i] = Vec3(p + towards * (amount * static_cast<double>(share[i])));
    }
    movable.give(std::move(points));
}

const StepOf<Push> push_step(
    StepInfo{
        .key = "push",
        .name = "Push",
        .family = Family::bend,
        .purpose = "Moves points along normals or a direction, by an attribute.",
        .words = "displace inflate shrink offset weight move fatten",
        .help = "Every point goes by the amount times its weight: outwards when positive, inwards when negative. A "
                "knot goes out of its closed curve, or to the right of an open one; a copy up along its own axis.",
        .glyph = "M4 19 C8 19 8 9 12 9 C16 9 16 19 20 19 M12 9v-6 M9.8 5.2 L12 3 L14.2 5.2",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{amount}"},
    {offset_of(&Push::amount, "amount", "Amount", "How far where the weight is 1; negative pushes in."),
     choice_of(&Push::along, "along", "Along",
               {{Push::Along::normals, "normals", "their normals"},
                {Push::Along::direction, "direction", "a direction"},
                {Push::Along::centre, "centre", "away from a point"}},
               "Which way points go."),
     when(pulled(vector_of(&Push::direction, "direction", "Direction", Quantity::plain, "Of any length."),
                 HandleKind::arrow),
          "along=direction"),
     when(pulled(vector_of(&Push::centre, "centre", "Centre", Quantity::length, "The point they go away from."),
                 HandleKind::point),
          "along=centre"),
     movable_of(&Push::on),
     attribute_of(&Push::weight, "weight", "By weight", "An attribute that says how much; empty for 1 everywhere."),
     only_of(&Push::only, "Only the points of this set.")},
    run_push);

}  // namespace

}  // namespace bricol
