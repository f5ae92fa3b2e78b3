// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/uv.h"

#include "core/steps/shared/uv_checks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Uv {
    enum class By { plane, box, cylinder, sphere };
    enum class Scale { unit, real };
    By by = By::plane;
    Axis axis = Axis::z;
    DVec3 centre{0, 0, 0};
    Scale scale = Scale::unit;
    double stretch = 2;
    std::string only;
};

void run_uv(const Uv& s, StepRun& run) {
    Shape shape = run.shape();
    UvOptions options;
    const Uv::By by = s.by;
    options.by = by == Uv::By::plane      ? UvProjection::plane
                 : by == Uv::By::box      ? UvProjection::box
                 : by == Uv::By::cylinder ? UvProjection::cylinder
                                          : UvProjection::sphere;
    options.axis = index_of(s.axis);
    options.centre = s.centre;
    options.real = s.scale == Uv::Scale::real;
    shape.mesh = with_uvs(shape.mesh, options, run.selected(shape.mesh, Domain::face, s.only));
    tell_uvs(run, shape.mesh, !options.real, s.stretch);
    run.give(std::move(shape));
}

const StepOf<Uv> uv_step(
    StepInfo{
        .key = "uv",
        .name = "UV mapping",
        .family = Family::look,
        .purpose = "Places on a picture by projection: plane, box, cylinder, sphere.",
        .words = "texture coordinates mapping project planar",
        .help =
            "Every corner of a face gets its u and v. A face across the seam of a cylinder or sphere goes on beyond 1.",
        .glyph = "M4 4h16v16H4z M4 12h16 M12 4v16 M4 20 L20 4",
        .gives = 0,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{by}"},
    {choice_of(&Uv::by, "by", "By",
               {{Uv::By::plane, "plane", "a plane"},
                {Uv::By::box, "box", "a box"},
                {Uv::By::cylinder, "cylinder", "a cylinder"},
                {Uv::By::sphere, "sphere", "a sphere"}},
               "What the shape is seen through."),
     axis_of(&Uv::axis, "axis", "Axis", "Across the plane, or of the cylinder or sphere."),
     when(pulled(vector_of(&Uv::centre, "centre", "Centre", Quantity::length, "A point on the axis."),
                 HandleKind::point),
          "by=cylinder|sphere"),
     choice_of(&Uv::scale, "scale", "Scale",
               {{Uv::Scale::unit, "unit", "0 to 1"}, {Uv::Scale::real, "real", "in metres"}},
               "Fitted to the shape's box, or real lengths."),
     stretch_limit_of(&Uv::stretch), only_of(&Uv::only, "Only the faces of this set.")},
    run_uv);

}  // namespace

}  // namespace bricol
