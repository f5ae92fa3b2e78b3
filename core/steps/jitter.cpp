// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/element_numbers.h"
#include "core/kernels/noise.h"
#include "core/steps/displace.h"

namespace bricol {

namespace {

void run_jitter(StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const auto seed = static_cast<std::uint32_t>(run.integer("seed"));
    const DVec3 by = run.vector("by");
    const auto offset = [&](std::uint32_t own) {
        DVec3 move(0);
        for (int a = 0; a < 3; ++a)
            move[a] = by[a] * (2 * random_share(own, seed * 3 + static_cast<std::uint32_t>(a)) - 1);
        return move;
    };
    Array<Vec3> points = *mesh.positions;
    if (!points.empty()) {
        const Array<float> share = shares(run);
        const Array<std::uint32_t> own = element_numbers(mesh, Domain::vertex);
        for (std::size_t i = 0; i < points.size(); ++i)
            points[i] += Vec3(offset(own[i]) * static_cast<double>(share[i]));
    }
    Shape shape = run.shape();
    const bool hold = run.toggle("hold_ends");
    for (Curve& curve : shape.curves)
        for (std::size_t k = 0; k < curve.knots.size(); ++k)
            if (!hold || curve.closed || (k > 0 && k + 1 < curve.knots.size()))
                curve.knots[k].at += Vec3(offset(mixed(static_cast<std::uint32_t>(k))));
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

const Registered jitter_step(StepInfo{
    .key = "jitter",
    .name = "Jitter",
    .family = Family::bend,
    .purpose = "Moves every point by a random amount of its own.",
    .words = "random shake scatter points displace irregular",
    .help = "Each point keeps its own random move while others come or go. An amount of 0 holds an axis.",
    .glyph = "M5 7v.01 M12 5v.01 M19 8v.01 M6 13v.01 M13 12v.01 M18 15v.01 M5 19v.01 M12 19v.01 M3.5 7a1.5 1.5 0 1 0 3 "
             "0 M11 12 L15 10 M16 16 L20 13",
    .gives = 0,
    .inputs = {{"shape", "Mesh or curves", content_any & ~static_cast<unsigned>(content_instances), true}},
    .parameters = {vector_of("by", "By at most", Quantity::length, {0.02, 0.02, 0.02}, "Along x, y and z, either way."),
                   seed_of(), toggle_of("hold_ends", "Hold ends", true, "First and last knots of open curves stay."),
                   attribute_of("weight", "By weight", "", "An attribute that says how much, from 0 to 1."),
                   only_of("Only the points of this set.")},
    .telling = "seed {seed}",
    .make = run_jitter});

}  // namespace

}  // namespace bricol
