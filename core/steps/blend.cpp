// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/real_geometry.h"
#include "core/steps/shared/point_shares.h"
#include "core/catalogue/settings.h"
#include "core/ground/parallel.h"
#include "core/shape/knot_values.h"

namespace bricol {

namespace {

struct Blend {
    double amount = 0.5;
    std::string weight;
    std::string only;
};

void run_blend(const Blend& s, StepRun& run) {
    const ShapePtr other = run.input_pointer("other") ? real_geometry(run.input_pointer("other")) : nullptr;
    if (!other) {
        run.tell(Severity::error, "no-other", "There is no second shape. Link one at “other”.");
        return;
    }
    Shape shape = run.shape();
    const Mesh &a = shape.mesh, &b = other->mesh;
    const bool meshes = a.vertex_count() == b.vertex_count() && a.face_count() == b.face_count();
    bool curves = shape.curves.size() == other->curves.size();
    for (std::size_t i = 0; curves && i < shape.curves.size(); ++i)
        curves = shape.curves[i].knots.size() == other->curves[i].knots.size();
    if (!meshes || !curves) {
        run.tell(Severity::error, "unlike-topology",
                 fmt::format("The shapes are built unlike: {} points and {} faces here, {} and {} there. Both must "
                             "come from the same steps with other numbers.",
                             a.vertex_count(), a.face_count(), b.vertex_count(), b.face_count()));
        return;
    }
    if (a.face_count() > 0 && a.topology->content_hash() != b.topology->content_hash())
        run.tell(Severity::caution, "unlike-faces",
                 "The shapes have equal counts but their faces join other points, so the blend may tear.");
    const double amount = s.amount;
    const PointShares share = point_shares(run, shape, s.weight, s.only);
    if (!a.empty()) {
        Array<Vec3> points(a.vertex_count());
        parallel::each(parallel::Numbers<std::size_t>(0, points.size(), 8192), [&](const auto& range) {
            for (std::size_t i = range.begin(); i != range.end(); ++i) {
                const DVec3 p((*a.positions)[i]);
                points[i] =
                    Vec3(p + (DVec3((*b.positions)[i]) - p) * (amount * static_cast<double>(share.vertices[i])));
            }
        });
        shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
        for (const Domain domain : {Domain::vertex, Domain::corner})
            shape.mesh.attributes.remove(domain, attribute_name::normal);
    }
    std::size_t i = 0;
    for (std::size_t c = 0; c < shape.curves.size(); ++c)
        for (std::size_t k = 0; k < shape.curves[c].knots.size(); ++k, ++i) {
            const float f = static_cast<float>(amount) * share.knots[i];
            Knot& knot = shape.curves[c].knots[k];
            const Knot& to = other->curves[c].knots[k];
            knot.at += (to.at - knot.at) * f, knot.in += (to.in - knot.in) * f, knot.out += (to.out - knot.out) * f;
            knot.radius += (to.radius - knot.radius) * f, knot.roll += (to.roll - knot.roll) * f,
                knot.fillet += (to.fillet - knot.fillet) * f;
            knot.values = blended(knot.values, to.values, static_cast<double>(f));
        }
    run.give(std::move(shape));
}

const StepOf<Blend> blend_step(
    StepInfo{
        .key = "blend",
        .name = "Blend",
        .family = Family::bend,
        .purpose = "Between two shapes of the same build, 0 to 1.",
        .words = "morph mix interpolate shape key in-between",
        .help =
            "Both must have the same points and faces in the same order, as the same steps with other numbers give. A "
            "weight lets it work in places.",
        .glyph = "M4 5h7v7H4z M13 15a4.5 4.5 0 1 0 7 0 M9 14 L13 18 M13 18 h-3 M13 18 v-3",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any & ~static_cast<unsigned>(content_instances), true},
                   {"other", "Other shape", content_any, true}},
        .telling = "{amount}"},
    {number_of(&Blend::amount, "amount", "How much", 0, 1, "0 is the first shape, 1 the other."),
     attribute_of(&Blend::weight, "weight", "By weight", "An attribute that says how much, from 0 to 1."),
     only_of(&Blend::only, "Only the points of this set.")},
    run_blend);

}  // namespace

}  // namespace bricol
