// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/uv.h"

#include "core/steps/uv_checks.h"

namespace bricol {

namespace {

void run_uv(StepRun& run) {
    Shape shape = run.shape();
    UvOptions options;
    const std::string& by = run.word("by");
    options.by = by == "plane"      ? UvProjection::plane
                 : by == "box"      ? UvProjection::box
                 : by == "cylinder" ? UvProjection::cylinder
                                    : UvProjection::sphere;
    options.axis = run.axis("axis");
    options.centre = run.vector("centre");
    options.real = run.word("scale") == "real";
    shape.mesh =
        with_uvs(shape.mesh, options, run.word("only").empty() ? Mask{} : run.chosen(shape.mesh, Domain::face));
    tell_uvs(run, shape.mesh, !options.real);
    run.give(std::move(shape));
}

const Registered uv_step(StepInfo{
    .key = "uv",
    .name = "UV mapping",
    .family = Family::look,
    .purpose = "Places on a picture by projection: plane, box, cylinder, sphere.",
    .words = "texture coordinates mapping project planar",
    .help = "Every corner of a face gets its u and v. A face across the seam of a cylinder or sphere goes on beyond 1.",
    .glyph = "M4 4h16v16H4z M4 12h16 M12 4v16 M4 20 L20 4",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces, true}},
    .parameters = {choice_of(
                       "by", "By",
                       {{"plane", "a plane"}, {"box", "a box"}, {"cylinder", "a cylinder"}, {"sphere", "a sphere"}},
                       "What the shape is seen through."),
                   axis_of("axis", "Axis", "z", "Across the plane, or of the cylinder or sphere."),
                   when(pulled(vector_of("centre", "Centre", Quantity::length, {0, 0, 0}, "A point on the axis."),
                               HandleKind::point),
                        "by=cylinder|sphere"),
                   choice_of("scale", "Scale", {{"unit", "0 to 1"}, {"real", "in metres"}},
                             "Fitted to the shape's box, or real lengths."),
                   stretch_limit_of(), only_of("Only the faces of this set.")},
    .telling = "{by}",
    .make = run_uv});

}  // namespace

}  // namespace bricol
