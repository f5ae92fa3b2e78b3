// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/element_numbers.h"
#include "core/kernels/noise.h"
#include "core/steps/shared/movable.h"
#include "core/steps/shared/point_shares.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Jitter {
    DVec3 by{0.02, 0.02, 0.02};
    int seed = 1;
    bool hold_ends = true;
    Movable on = Movable::any;
    std::string weight;
    std::string only;
};

void run_jitter(const Jitter& s, StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const auto seed = static_cast<std::uint32_t>(s.seed);
    const DVec3 by = s.by;
    const auto offset = [&](std::uint32_t own) {
        DVec3 move(0);
        for (int a = 0; a < 3; ++a)
            move[a] = by[a] * (2 * random_share(own, seed * 3 + static_cast<std::uint32_t>(a)) - 1);
        return move;
    };
    const bool copies = s.on == Movable::copies || (s.on == Movable::any && mesh.empty() && run.shape().curves.empty());
    if (copies || s.on == Movable::vertices) {
        MovablePoints movable(run, copies ? Movable::copies : Movable::vertices);
        if (!movable.there()) return;
        const Array<float> share = movable.shares(s.weight, s.only);
        const Array<std::uint32_t> own = element_numbers(movable.mesh(), Domain::vertex);
        Array<Vec3> places = *movable.mesh().positions;
        for (std::size_t i = 0; i < places.size(); ++i)
            places[i] += Vec3(offset(own[i]) * static_cast<double>(share[i]));
        movable.give(std::move(places));
        return;
    }
    if (s.on == Movable::knots && !has_elements(run, Domain::knot)) return;
    Array<Vec3> points = *mesh.positions;
    Shape shape = run.shape();
    Shape moved_ones = shape;
    if (s.on == Movable::knots) moved_ones.mesh = {};
    const PointShares share = point_shares(run, moved_ones, s.weight, s.only);
    if (s.on == Movable::any) {
        const Array<std::uint32_t> own = element_numbers(mesh, Domain::vertex);
        for (std::size_t i = 0; i < points.size(); ++i)
            points[i] += Vec3(offset(own[i]) * static_cast<double>(share.vertices[i]));
    }
    std::size_t i = 0;
    for (Curve& curve : shape.curves) {
        curve.source_step.clear();
        for (std::size_t k = 0; k < curve.knots.size(); ++k, ++i)
            if (!s.hold_ends || curve.closed || (k > 0 && k + 1 < curve.knots.size()))
                curve.knots[k].at +=
                    Vec3(offset(mixed(static_cast<std::uint32_t>(k))) * static_cast<double>(share.knots[i]));
    }
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

const StepOf<Jitter> jitter_step(
    StepInfo{
        .key = "jitter",
        .name = "Jitter",
        .family = Family::bend,
        .purpose = "Moves every point by a random amount of its own.",
        .words = "random shake scatter points displace irregular",
        .help = "Each point keeps its own random move while others come or go. An amount of 0 holds an axis.",
        .glyph =
            "M5 7v.01 M12 5v.01 M19 8v.01 M6 13v.01 M13 12v.01 M18 15v.01 M5 19v.01 M12 19v.01 M3.5 7a1.5 1.5 0 1 0 3 "
            "0 M11 12 L15 10 M16 16 L20 13",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "seed {seed}"},
    {vector_of(&Jitter::by, "by", "By at most", Quantity::length, "Along x, y and z, either way."),
     seed_of(&Jitter::seed),
     choice_of(&Jitter::on, "on", "On",
               {{Movable::any, "any", "what there is"},
                {Movable::vertices, "vertices", "vertices"},
                {Movable::knots, "knots", "knots of curves"},
                {Movable::copies, "instances", "copies"}},
               "What is moved; what there is means vertices and knots, or else copies."),
     toggle_of(&Jitter::hold_ends, "hold_ends", "Hold ends", "First and last knots of open curves stay."),
     attribute_of(&Jitter::weight, "weight", "By weight", "An attribute that says how much, from 0 to 1."),
     only_of(&Jitter::only, "Only the points of this set.")},
    run_jitter);

}  // namespace

}  // namespace bricol
