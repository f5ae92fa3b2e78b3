// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/project.h"
#include "core/ground/stop.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/stand_ins.h"
#include "core/kernels/normals.h"
#include "core/steps/shared/point_shares.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct ProjectOnto {
    enum class By { nearest, direction, normals, centre, axis };
    By by = By::nearest;
    DVec3 direction{0, 0, -1};
    bool both_ways = true;
    DVec3 centre{0, 0, 0};
    Axis axis = Axis::z;
    double reach = 0;
    double amount = 1;
    double lift = 0;
    std::string weight;
    std::string only;
};

/// Points that find no place on the surface.
struct Missed {
    std::size_t asked = 0, count = 0;
    std::vector<Vec3> places;  ///< the first few
};

/// Where the points of a mesh go, each by its share of the way.
Array<Vec3> led_onto(const SurfaceFinder& onto, const ProjectOptions& options, const Mesh& from,
                     const Array<float>& share, Missed& missed) {
    constexpr std::size_t shown = 32;
    const Array<Vec3> ways = options.by == ProjectBy::normals ? vertex_normals(from) : Array<Vec3>{};
    const Projected result = projected(*from.positions, ways, onto, options);
    Array<Vec3> points = *from.positions;
    for (std::size_t i = 0; i < points.size(); ++i) {
        stop_point(i);
        if (share[i] == 0.0f) continue;
        ++missed.asked;
        if (result.hits[i]) {
            points[i] = Vec3(DVec3(points[i]) + (result.points[i] - DVec3(points[i])) * static_cast<double>(share[i]));
        } else {
            ++missed.count;
            if (missed.places.size() < shown) missed.places.push_back(points[i]);
        }
    }
    return points;
}

void run_project_onto(const ProjectOnto& s, StepRun& run) {
    ShapePtr target = run.input_pointer("onto");
    if (target) target = real_geometry(target);
    if (!target || target->mesh.face_count() == 0) {
        run.tell(Severity::error, "nothing-to-project-on",
                 "The shape at “onto” has no faces to project on. Link a mesh.");
        return;
    }
    const SurfaceFinder onto(target->mesh);
    ProjectOptions options;
    const ProjectOnto::By by = s.by;
    options.by = by == ProjectOnto::By::nearest     ? ProjectBy::nearest
                 : by == ProjectOnto::By::direction ? ProjectBy::direction
                 : by == ProjectOnto::By::normals   ? ProjectBy::normals
                 : by == ProjectOnto::By::centre    ? ProjectBy::centre
                                                    : ProjectBy::axis;
    options.direction = s.direction;
    options.centre = s.centre;
    options.axis = index_of(s.axis);
    options.both_ways = s.both_ways;
    if (s.reach > 0) options.reach = s.reach;
    options.amount = s.amount;
    options.lift = s.lift;
    Shape shape = run.shape();
    const PointShares share = point_shares(run, shape, s.weight, s.only);
    Missed missed;
    if (!shape.mesh.empty()) {
        shape.mesh.positions =
            std::make_shared<const Array<Vec3>>(led_onto(onto, options, shape.mesh, share.vertices, missed));
        for (const Domain domain : {Domain::vertex, Domain::corner})
            shape.mesh.attributes.remove(domain, attribute_name::normal);
    }
    if (!shape.curves.empty())
        move_knots(shape.curves, led_onto(onto, options, points_of_knots(shape.curves), share.knots, missed));
    if (missed.count > 0)
        run.tell(Severity::caution, "missed",
                 fmt::format("{} of {} points miss the shape and stay where they are. Turn the direction, or use the "
                             "nearest place.",
                             missed.count, missed.asked))
            .places = std::move(missed.places);
    run.give(std::move(shape));
}

const StepOf<ProjectOnto> project_onto_step(
    StepInfo{
        .key = "project_onto",
        .name = "Project onto",
        .family = Family::bend,
        .purpose = "Leads points onto another shape's surface.",
        .words = "snap conform wrap stick surface shrink",
        .help = "To the nearest place, along a direction or the points' normals, or on rays from a centre or an axis. "
                "Points that miss stay, and are counted. A knot's normal is its way out of a closed curve, or to the "
                "right of an open one. The lift leaves a gap along the surface's own normal.",
        .glyph = "M3 18 C8 13 16 13 21 18 M7 4v8 M12 4v7 M17 4v8 M5.5 10.5 L7 12 L8.5 10.5 M10.5 9.5 L12 11 L13.5 9.5 "
                 "M15.5 10.5 L17 12 L18.5 10.5",
        .gives = 0,
        .inputs = {{"shape", "Points, mesh or curves", content_any & ~static_cast<unsigned>(content_instances), true},
                   {"onto", "Onto", content_faces | content_instances, true}},
        .telling = "{by}"},
    {choice_of(&ProjectOnto::by, "by", "By",
               {{ProjectOnto::By::nearest, "nearest", "nearest place"},
                {ProjectOnto::By::direction, "direction", "a direction"},
                {ProjectOnto::By::normals, "normals", "their normals"},
                {ProjectOnto::By::centre, "centre", "rays from a centre"},
                {ProjectOnto::By::axis, "axis", "rays from an axis"}},
               "How a point finds its place."),
     when(pulled(vector_of(&ProjectOnto::direction, "direction", "Direction", Quantity::plain, "Of any length."),
                 HandleKind::arrow),
          "by=direction"),
     when(toggle_of(&ProjectOnto::both_ways, "both_ways", "Both ways",
                    "Also looks the other way and takes the nearer hit."),
          "by=direction|normals"),
     when(pulled(vector_of(&ProjectOnto::centre, "centre", "Centre", Quantity::length,
                           "Where the rays start; for an axis, a point on it."),
                 HandleKind::point),
          "by=centre|axis"),
     when(axis_of(&ProjectOnto::axis, "axis", "Axis", "Rays leave it squarely."), "by=axis"),
     length_of(&ProjectOnto::reach, "reach", "Reach", 0, 10, "Places farther off count as missed; 0 for any distance."),
     number_of(&ProjectOnto::amount, "amount", "How much", 0, 1, "Share of the way that is gone."),
     offset_of(&ProjectOnto::lift, "lift", "Lift", "Off the surface."),
     attribute_of(&ProjectOnto::weight, "weight", "By weight", "An attribute that says how much, from 0 to 1."),
     only_of(&ProjectOnto::only, "Only the points of this set.")},
    run_project_onto);

}  // namespace

}  // namespace bricol
