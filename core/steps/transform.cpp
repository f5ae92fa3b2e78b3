// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/kernels/flatten.h"
#include "core/kernels/transform.h"
#include "core/steps/shared/point_shares.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Transform {
    enum class About { origin, centre, base, point };
    DVec3 move{0, 0, 0};
    DVec3 turn{0, 0, 0};
    DVec3 size{1, 1, 1};
    double whole = 1;
    About about = About::origin;
    DVec3 pivot{0, 0, 0};
    std::string only;
};

/// The shape with the chosen points as they are in `moved`. Faces stay as they are, whatever a size does to the rest.
Shape with_chosen_moved(const Shape& shape, const Shape& moved, const ChosenPoints& chosen) {
    Shape out = shape;
    Array<Vec3> points = *shape.mesh.positions;
    for (std::size_t v = 0; v < points.size(); ++v)
        if (chosen.vertices[v]) points[v] = (*moved.mesh.positions)[v];
    out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        out.mesh.attributes.remove(domain, attribute_name::normal);
    std::size_t knot = 0, copy = 0;
    for (std::size_t c = 0; c < out.curves.size(); ++c) {
        Curve& curve = out.curves[c];
        curve.source_step.clear();
        curve.knots = with_handles(curve);
        for (std::size_t k = 0; k < curve.knots.size(); ++k)
            if (chosen.knots[knot++]) curve.knots[k] = moved.curves[c].knots[k];
    }
    for (std::size_t g = 0; g < out.instances.size(); ++g)
        for (std::size_t i = 0; i < out.instances[g].places.size(); ++i)
            if (chosen.copies[copy++]) out.instances[g].places[i] = moved.instances[g].places[i];
    return out;
}

void run_transform(const Transform& s, StepRun& run) {
    DVec3 pivot = s.pivot;
    const Transform::About about = s.about;
    if (const auto box = box_of(run.shape());
        box && about != Transform::About::origin && about != Transform::About::point) {
        pivot = box->centre();
        if (about == Transform::About::base) pivot.z = box->low.z;
    } else if (about == Transform::About::origin) {
        pivot = DVec3(0);
    }
    const DVec3 size = s.size * s.whole;
    if (size.x == 0 || size.y == 0 || size.z == 0)
        run.tell(Severity::caution, "no-size", "A size of 0 flattens the shape; its volume and its normals are lost.");
    const Shape& shape = run.shape();
    Shape moved = transformed(shape, placement(s.move, s.turn, size, pivot));
    if (!s.only.empty()) {
        moved = with_chosen_moved(shape, moved, chosen_points(run, shape, s.only));
    } else if (!moved.mesh.empty() && (std::abs(size.x) != std::abs(size.y) || std::abs(size.y) != std::abs(size.z))) {
        moved.mesh.attributes.set(Domain::whole, attribute_name::uneven, Array<std::uint8_t>(1, 1));
        if (moved.mesh.attributes.find(Domain::whole, attribute_name::even_width))
            run.tell(Severity::caution, "uneven-size",
                     "Sizing unevenly stretches the bevels and walls made before: their width is no longer even. Put "
                     "this step in front of them.");
    }
    run.give(std::move(moved));
}

const StepOf<Transform> transform_step(
    StepInfo{
        .key = "transform",
        .name = "Transform",
        .family = Family::bend,
        .purpose = "Moves, turns and sizes a shape about a pivot.",
        .words = "move rotate scale translate position place size",
        .help = "Sizes first, then turns about x, y and z, then moves. A negative size mirrors; outside stays outside.",
        .glyph =
            "M12 3v18 M3 12h18 M9.5 5.5 L12 3 L14.5 5.5 M9.5 18.5 L12 21 L14.5 18.5 M5.5 9.5 L3 12 L5.5 14.5 M18.5 "
            "9.5 L21 12 L18.5 14.5",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{move}"},
    {pulled(vector_of(&Transform::move, "move", "Move", Quantity::length, "How far, along x, y and z."),
            HandleKind::arrow),
     vector_of(&Transform::turn, "turn", "Turn", Quantity::angle, "About x, then y, then z."),
     vector_of(&Transform::size, "size", "Size", Quantity::plain, "Factor along x, y and z."),
     number_of(&Transform::whole, "whole", "Size of all", -1000, 1000,
               "Factor in every direction, on top of the others."),
     choice_of(&Transform::about, "about", "About",
               {{Transform::About::origin, "origin", "the origin"},
                {Transform::About::centre, "centre", "its centre"},
                {Transform::About::base, "base", "its base"},
                {Transform::About::point, "point", "a point"}},
               "What stays in place while turning and sizing."),
     when(pulled(vector_of(&Transform::pivot, "pivot", "Point", Quantity::length, "The point that stays in place."),
                 HandleKind::point),
          "about=point"),
     only_of(&Transform::only, "Moves only the points of this set: vertices, knots or copies.")},
    run_transform);

}  // namespace

}  // namespace bricol
