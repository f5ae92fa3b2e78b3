// SPDX-License-Identifier: GPL-3.0-or-later
// Solids and what is done with whole ones: booleans, slices, deformers, copies, bars; against closed formulas.
#include <catch2/catch.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <numbers>

#include "core/kernels/array.h"
#include "core/kernels/bar.h"
#include "core/kernels/boolean.h"
#include "core/kernels/choose.h"
#include "core/kernels/deform.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/mirror.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/slice.h"
#include "core/kernels/solids.h"
#include "core/kernels/weld.h"
#include "core/kernels/whole_pieces.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

void require_solid(const Mesh& mesh) {
    REQUIRE(sound(mesh));
    const Measures m = measure(mesh);
    INFO("faces " << m.faces << ", border " << m.border_edges << ", non-manifold " << m.non_manifold_edges
                  << ", turned " << m.turned_edges);
    REQUIRE(m.closed);
    REQUIRE(m.turned_edges == 0);
    REQUIRE(*m.volume > 0);
    REQUIRE(crossing_faces(mesh, 4).empty());
}

/// Volume of the regular n-gon prism inscribed in a cylinder.
double prism(double r, double h, int n) { return 0.5 * n * r * r * std::sin(2 * pi / n) * h; }

}  // namespace

TEST_CASE("Plain solids have the volumes of their formulas", "[solids]") {
    // Frustum of n-gons: h/3 (A1 + A2 + sqrt(A1 A2)).
    const int n = 48;
    const double a1 = prism(0.5, 1, n), a2 = prism(0.2, 1, n);
    const Mesh frustum = make_cone(0.5, 0.2, 0.8, n, 3);
    require_solid(frustum);
    REQUIRE(signed_volume(frustum) == Approx(0.8 / 3 * (a1 + a2 + std::sqrt(a1 * a2))).epsilon(1e-5));
    const Mesh cone = make_cone(0.5, 0, 0.8, n, 1);
    require_solid(cone);
    REQUIRE(signed_volume(cone) == Approx(a1 * 0.8 / 3).epsilon(1e-5));
    REQUIRE(signed_volume(make_cone(0, 0.5, 0.8, n, 1)) == Approx(a1 * 0.8 / 3).epsilon(1e-5));
    const Mesh tube = make_tube(0.5, 0.1, 0.4, n, 2);
    require_solid(tube);
    REQUIRE(measure(tube).euler == 0);
    REQUIRE(signed_volume(tube) == Approx(prism(0.5, 0.4, n) - prism(0.4, 0.4, n)).epsilon(1e-5));
    // Geodesic sphere: 10 f^2 + 2 vertices, 20 f^2 faces (Wenninger 1979); even triangles.
    for (const int f : {1, 2, 3, 8}) {
        const Mesh ball = make_geodesic_sphere(1, f);
        require_solid(ball);
        REQUIRE(ball.vertex_count() == 10u * static_cast<unsigned>(f * f) + 2);
        REQUIRE(ball.face_count() == 20u * static_cast<unsigned>(f * f));
    }
    REQUIRE(signed_volume(make_geodesic_sphere(1, 16)) == Approx(4.0 / 3 * pi).epsilon(0.01));
    RoundedBoxOptions options;
    options.size = DVec3(1, 0.8, 0.6);
    options.radius = 0.1;
    options.round_segments = 16;
    const Mesh pillow = make_rounded_box(options);
    require_solid(pillow);
    const double p = 0.8, q = 0.6, s = 0.4, r = 0.1;  // Steiner's formula
    REQUIRE(signed_volume(pillow) ==
            Approx(p * q * s + 2 * r * (p * q + q * s + s * p) + pi * r * r * (p + q + s) + 4.0 / 3 * pi * r * r * r)
                .epsilon(1e-3));
    for (std::size_t f = 0; f < pillow.face_count(); ++f) REQUIRE(pillow.topology->face(f).size() == 4);
    options.size = DVec3(1);
    options.radius = 0.5;
    const Mesh ball = make_rounded_box(options);
    for (const Vec3& v : *ball.positions) REQUIRE(glm::length(v) == Approx(0.5).epsilon(1e-5));
    REQUIRE(measure(make_disc(0.5, 0, n, 3, CapStyle::rings)).area == Approx(a1).epsilon(1e-5));
    REQUIRE(measure(make_disc(0.5, 0.2, n, 1, CapStyle::face)).area == Approx(a1 - a2).epsilon(1e-5));
}

TEST_CASE("Two crossed cylinders share Steinmetz' solid", "[solids][boolean]") {
    // 16/3 r^3 for equal radii at right angles; with inscribed polygons a little less.
    const int n = 128;
    const double r = 0.5;
    const Mesh upright = make_cylinder({r, 3, n, 1, CapStyle::face, 1}), lying = placed(upright, DVec3(0), {90, 0, 0});
    const std::array<Mesh, 1> other = {lying};
    const BooleanResult common = boolean_of(upright, other, BooleanKind::intersect),
                        joined = boolean_of(upright, other, BooleanKind::unite),
                        rest = boolean_of(upright, other, BooleanKind::subtract);
    require_solid(common.mesh);
    require_solid(joined.mesh);
    require_solid(rest.mesh);
    REQUIRE(signed_volume(common.mesh) == Approx(16.0 / 3 * r * r * r).epsilon(2e-3));
    const double each = prism(r, 3, n), shared = signed_volume(common.mesh);
    REQUIRE(signed_volume(joined.mesh) == Approx(2 * each - shared).epsilon(1e-5));
    REQUIRE(signed_volume(rest.mesh) == Approx(each - shared).epsilon(1e-5));
    REQUIRE(count_of(rest.cut) > 0);
}

TEST_CASE("A ball cut by a box leaves spherical caps", "[solids][boolean]") {
    // Cap of height h: pi h^2 (3r - h) / 3.
    const Mesh ball = make_sphere(1, 96, 64), slab = placed(make_box(DVec3(4), {1, 1, 1}), {0, 0, -2.4});
    const std::array<Mesh, 1> cutter = {slab};
    const BooleanResult cap = boolean_of(ball, cutter, BooleanKind::subtract);
    require_solid(cap.mesh);
    const double h = 1.4;
    REQUIRE(signed_volume(cap.mesh) == Approx(pi * h * h * (3 - h) / 3).epsilon(4e-3));
    // The flat face is one polygon, and faces nobody cut are the quads they were.
    std::size_t down = 0;
    for (const std::uint8_t b : facing(cap.mesh, DVec3(0, 0, -1), 0.01)) down += b;
    REQUIRE(down == 1);
    REQUIRE(count_of(cap.from_cutter) == 1);
}

TEST_CASE("Many cutters, overlapping and apart, cut as one", "[solids][boolean]") {
    const Mesh plate = make_box(DVec3(2, 2, 0.2), {1, 1, 1});
    std::vector<Mesh> drills;
    for (int i = 0; i < 6; ++i)
        drills.push_back(placed(make_cylinder({0.1, 1, 24, 1, CapStyle::face, 1}), {-0.8 + 0.3 * i, 0.4, 0}));
    for (int i = 0; i < 3; ++i)
        drills.push_back(placed(make_cylinder({0.15, 1, 24, 1, CapStyle::face, 1}), {-0.4 + 0.2 * i, -0.5, 0}));
    const BooleanResult result = boolean_of(plate, drills, BooleanKind::subtract);
    require_solid(result.mesh);
    REQUIRE(measure(result.mesh).euler == 2 - 2 * 7);  // six holes and one long one
    // The same, one after another.
    Mesh one = plate;
    for (const Mesh& drill : drills) one = boolean_of(one, std::array<Mesh, 1>{drill}, BooleanKind::subtract).mesh;
    REQUIRE(signed_volume(result.mesh) == Approx(signed_volume(one)).epsilon(1e-6));
    // One after the other also means: the same on every run.
    const BooleanResult again = boolean_of(plate, drills, BooleanKind::subtract);
    REQUIRE((*again.mesh.positions == *result.mesh.positions));
    REQUIRE((again.mesh.topology->corner_vertex == result.mesh.topology->corner_vertex));
}

TEST_CASE("Booleans say what is wrong with an operand", "[solids][boolean]") {
    const Mesh box = make_box(DVec3(1), {1, 1, 1}), sheet = make_grid(1, 1, 2, 2), far = placed(box, {5, 0, 0});
    const auto cut = [](const Mesh& a, const Mesh& b) {
        return boolean_of(a, std::array<Mesh, 1>{b}, BooleanKind::subtract);
    };
    REQUIRE(cut(box, sheet).fault == BooleanFault::open);
    REQUIRE(cut(box, sheet).fault_cutter == 0);
    REQUIRE(cut(sheet, box).fault_cutter == no_index);
    REQUIRE(cut(box, far).unchanged);
    REQUIRE(cut(box, placed(box, DVec3(0), DVec3(0), DVec3(2))).mesh.empty());
    REQUIRE(cut(box, Mesh()).fault == BooleanFault::no_faces);
    const std::array<Mesh, 2> pair = {placed(box, {0.3, 0.2, 0.1}, {20, 30, 0}), placed(box, {-0.3, 0.1, 0})};
    // Loose pieces that cross one another are their union.
    const BooleanResult both = cut(box, joined_meshes(pair)), one_by_one = cut(cut(box, pair[0]).mesh, pair[1]);
    REQUIRE(both.fault == BooleanFault::none);
    REQUIRE(signed_volume(both.mesh) == Approx(signed_volume(one_by_one.mesh)).epsilon(1e-6));
    // Inside out is turned; coplanar and identical operands give a result or a reason, never a crash.
    REQUIRE(signed_volume(cut(flipped(placed(box, DVec3(0), DVec3(0), DVec3(2))), box).mesh) ==
            Approx(7).epsilon(1e-5));
    for (const DVec3& move : {DVec3(0), DVec3(1, 0, 0), DVec3(0.5, 0, 0), DVec3(1, 1, 0), DVec3(1, 1, 1),
                              DVec3(1e-6, 0, 0), DVec3(0, 0, 1 - 1e-6)})
        for (const BooleanKind kind : {BooleanKind::unite, BooleanKind::subtract, BooleanKind::intersect}) {
            const BooleanResult result = boolean_of(box, std::array<Mesh, 1>{placed(box, move)}, kind);
            REQUIRE(sound(result.mesh));
            if (!result.mesh.empty() && result.fault == BooleanFault::none)
                REQUIRE(measure(result.mesh).border_edges == 0);
        }
}

TEST_CASE("A sheet is trimmed to a solid", "[solids][boolean]") {
    const Mesh deck = make_grid(4, 4, 4, 4), tower = make_cylinder({1, 3, 64, 1, CapStyle::face, 1});
    const BooleanResult inside = sheet_cut(deck, tower, true), outside = sheet_cut(deck, tower, false);
    REQUIRE(inside.fault == BooleanFault::none);
    REQUIRE(sound(inside.mesh));
    REQUIRE(measure(inside.mesh).area == Approx(prism(1, 1, 64)).epsilon(1e-5));
    REQUIRE(measure(outside.mesh).area == Approx(16 - prism(1, 1, 64)).epsilon(1e-5));
    REQUIRE(inside.mesh.face_count() <= 16);  // pieces of a face are one polygon again
}

TEST_CASE("Attributes go through a boolean", "[solids][boolean]") {
    Mesh box = make_box(DVec3(1), {1, 1, 1}), drill = make_cylinder({0.2, 2, 16, 1, CapStyle::face, 1});
    const Material oak{"oak", {0.4f, 0.3f, 0.2f}, 0, 0.8f}, iron{"iron", {0.1f, 0.1f, 0.1f}, 1, 0.4f};
    for (auto& [mesh, material] : {std::pair{&box, oak}, {&drill, iron}}) {
        mesh->attributes.set(Domain::face, attribute_name::material,
                             Array<std::int32_t>(mesh->face_count(), material_number(material)));
        mesh->materials = std::make_shared<const MaterialList>(MaterialList{{material_number(material), material}});
    }
    keep_set(box, Domain::face, "outside", Mask(box.face_count(), 1));
    const BooleanResult result = boolean_of(box, std::array<Mesh, 1>{drill}, BooleanKind::subtract);
    require_solid(result.mesh);
    REQUIRE(materials_of(shape_of(result.mesh)).size() == 2);
    const auto& column = *result.mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    const Mask& outside = *result.mesh.attributes.values<std::uint8_t>(Domain::face, "outside");
    const auto& uvs = *result.mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    for (std::size_t f = 0; f < column.size(); ++f) {
        REQUIRE((column[f] == material_number(iron)) == (result.from_cutter[f] != 0));
        REQUIRE((outside[f] != 0) == (result.from_cutter[f] == 0));
    }
    for (const Vec2& uv : uvs) REQUIRE((uv.x >= -1e-4f && uv.x <= 1.0001f && uv.y >= -1e-4f && uv.y <= 1.0001f));
}

TEST_CASE("Slices divide a volume and close the cut", "[solids]") {
    for (const Mesh& body : {make_box(DVec3(1), {2, 2, 2}), make_torus(0.5, 0.2, 24, 12), make_tube(0.5, 0.1, 1, 20, 1),
                             make_geodesic_sphere(0.5, 4)})
        for (const DVec3& normal : {DVec3(0, 0, 1), DVec3(1, 0.3, 0.2), DVec3(1, 0, 0)}) {
            SliceOptions options;
            options.normal = normal;
            options.point = DVec3(0.07, 0.031, 0.053);
            double sum = 0;
            for (const SliceKeep keep : {SliceKeep::above, SliceKeep::below}) {
                options.keep = keep;
                const SliceResult half = sliced(body, options);
                REQUIRE_FALSE(half.missed);
                require_solid(half.mesh);
                sum += signed_volume(half.mesh);
                REQUIRE(count_of(half.caps) > 0);
            }
            REQUIRE(sum == Approx(signed_volume(body)).epsilon(1e-5));
            options.keep = SliceKeep::edges_only;
            const SliceResult whole = sliced(body, options);
            REQUIRE(measure(whole.mesh).closed);
            REQUIRE(measure(whole.mesh).euler == measure(body).euler);
        }
    // A comb: one polygon that the plane crosses many times comes apart cleanly.
    Array<Vec3> points;
    Array<Index> corners;
    for (int i = 0; i < 5; ++i)
        for (const auto& [x, z] : {std::pair{0.0f, 0.2f}, {0.2f, 1.0f}, {0.6f, 1.0f}, {0.8f, 0.2f}})
            points.push_back(Vec3(static_cast<float>(i) + x, 0, z));
    points.push_back(Vec3(4.8f, 0, 0));
    points.push_back(Vec3(0, 0, 0));
    for (Index i = 0; i < points.size(); ++i) corners.push_back(i);
    const auto count = static_cast<Index>(points.size());
    const Mesh comb(std::move(points), make_topology(count, {0, count}, std::move(corners)));
    const Mesh teeth = clipped(comb, 2, 0.6, true);
    REQUIRE(measure(teeth).pieces == 5);
    REQUIRE(measure(teeth).area == Approx(5 * 0.4 * (0.6 + 0.4) / 2).epsilon(1e-4));
}

TEST_CASE("A bend keeps the length of its neutral line", "[solids][deform]") {
    // Beam bending: the line through the middle becomes an arc of radius length/angle and keeps its length.
    Curve line = profile({{0, 0}, {2, 0}});
    line.knots.clear();
    for (int i = 0; i <= 200; ++i) {
        Knot knot;
        knot.at = Vec3(0.01f * static_cast<float>(i), 0, 0);
        line.knots.push_back(knot);
    }
    Shape shape;
    shape.curves.push_back(line);
    for (const double angle : {30.0, 90.0, 180.0, 360.0, -120.0}) {
        const Shape bent = deformed(shape, bend_map({0, 0, 2}, 2, angle, DVec3(0), false));
        REQUIRE(length_of(flatten(bent.curves[0])) == Approx(2).epsilon(1e-4));
        const double radius = 2 / glm::radians(angle);
        for (const Knot& knot : bent.curves[0].knots)
            REQUIRE(glm::distance(DVec3(knot.at), DVec3(0, 0, radius)) == Approx(std::abs(radius)).epsilon(1e-5));
    }
    // 360 degrees closes a strip to a ring: welded, it is a torus-like solid; Pappus gives its volume for fine steps.
    const Mesh bar = placed(make_box(DVec3(2, 0.2, 0.1), {96, 2, 2}), DVec3(0));
    const Mesh ring =
        weld(deformed(shape_of(bar), bend_map({0, -1, 1}, 2, 360, DVec3(0), false)).mesh, 1e-4, false).mesh;
    const Mesh whole = without_faces(ring, doubled_faces(ring));
    require_solid(whole);
    REQUIRE(measure(whole).euler == 0);
    REQUIRE(signed_volume(whole) == Approx(2 * 0.2 * 0.1).epsilon(2e-3));
}

TEST_CASE("Deformers do what their formulas say", "[solids][deform]") {
    const Span span{2, 0, 2};
    const DVec3 p(0.3, 0.1, 1.5);
    const DVec3 turned = twist_map(span, 120, DVec3(0))(p);
    REQUIRE(std::hypot(turned.x, turned.y) == Approx(std::hypot(p.x, p.y)));
    REQUIRE(std::atan2(turned.y, turned.x) - std::atan2(p.y, p.x) == Approx(glm::radians(90.0)));
    // A box tapered straight in two directions: prismoid, h/6 (A0 + 4 Am + A1) (exact for prismoids).
    const Mesh box = placed(make_box(DVec3(1, 1, 2), {1, 1, 8}), {0, 0, 1});
    const Mesh prismoid = deformed(shape_of(box), taper_map(span, 0.5, 0.25, DVec3(0), Ramp::straight, 0)).mesh;
    const double middle = 0.75 * 0.625, top = 0.5 * 0.25;
    REQUIRE(signed_volume(prismoid) == Approx(2.0 / 6 * (1 + 4 * middle + top)).epsilon(1e-4));
    REQUIRE(signed_volume(deformed(shape_of(box), shear_map(span, 0, 30)).mesh) == Approx(2).epsilon(1e-5));
    for (const double factor : {0.5, 1.7, 3.0}) {
        REQUIRE(signed_volume(deformed(shape_of(box), stretch_map(span, factor, DVec3(0), true)).mesh) ==
                Approx(2).epsilon(1e-5));
        REQUIRE(signed_volume(deformed(shape_of(box), stretch_map(span, factor, DVec3(0), false)).mesh) ==
                Approx(2 * factor).epsilon(1e-5));
    }
    // A lattice whose points are all moved alike moves the shape; moved as a linear map, it is that map.
    const Box cage{DVec3(-1), DVec3(1)};
    for (const bool smooth : {true, false}) {
        std::vector<DVec3> moves;
        for (int k = 0; k < 4; ++k)
            for (int j = 0; j < 3; ++j)
                for (int i = 0; i < 3; ++i) moves.push_back(DVec3(0.1, 0, 0.2) + DVec3(0.3 * (-1 + 2.0 * k / 3), 0, 0));
        const DVec3 q(0.37, -0.2, 0.61);
        const DVec3 moved = lattice_map(cage, {3, 3, 4}, moves, smooth)(q);
        REQUIRE(glm::distance(moved, q + DVec3(0.1 + 0.3 * q.z, 0, 0.2)) < 1e-9);
    }
}

TEST_CASE("Arrays stand where they should", "[solids][array]") {
    REQUIRE(angle_between(8, 360) == 45);   // common practice: 8 copies, 45 degrees each
    REQUIRE(angle_between(6, 360) == 60);   // common practice: 6 copies, 60 degrees each
    REQUIRE(angle_between(5, 90) == 22.5);  // a part turn has a copy at both ends
    const auto ring = radial_places(6, 2, DVec3(0), 60, 0, true, DVec3(0));
    const DVec3 first(ring[0] * Vec4(1, 0, 0, 1)), fourth(ring[3] * Vec4(1, 0, 0, 1));
    REQUIRE(glm::distance(first, -fourth) < 1e-6);
    const auto still = radial_places(4, 2, DVec3(0), 90, 0.1, false, DVec3(1, 0, 0));
    for (const glm::mat4& place : still) REQUIRE(glm::mat3(place) == glm::mat3(1));
    REQUIRE(still[2][3].z == Approx(0.2f));
    REQUIRE(count_to_fill(10, 3) == 3);
    REQUIRE(count_to_fill(0.9, 0.3) == 3);
    REQUIRE(count_to_fill(3, static_cast<double>(0.3f)) == 10);  // a box of 0.3 m measures 0.300000012
    REQUIRE(count_to_fill(3, 0.3001) == 9);
    REQUIRE(pieces_up_to(static_cast<double>(0.3f) * 10, 0.3) == 10);
    REQUIRE(pieces_up_to(3.001, 0.3) == 11);
    REQUIRE(pieces_up_to(0.1, 0.3) == 1);
    const auto steps = repeated_places(4, glm::translate(glm::dmat4(1), DVec3(1, 0, 0)) *
                                              glm::rotate(glm::dmat4(1), glm::radians(90.0), DVec3(0, 0, 1)));
    REQUIRE(glm::distance(DVec3(steps[3][3]), DVec3(0, 1, 0)) < 1e-6);
    REQUIRE(grid_places({2, 3, 4}, DVec3(1)).size() == 24);
    // Real geometry is the same as instances, seam faces fall away when copies are welded.
    Shape one = shape_of(make_box(DVec3(1), {1, 1, 1}));
    const ShapePtr part = std::make_shared<const Shape>(one);
    Shape row;
    row.instances.emplace_back(part, straight_places(5, DVec3(1, 0, 0)));
    const Measures as_instances = measured(row);
    const ShapePtr real = real_geometry(std::make_shared<const Shape>(row));
    const Measures as_mesh = measured(*real);
    REQUIRE(as_instances.faces == as_mesh.faces);
    REQUIRE(as_instances.area == Approx(as_mesh.area));
    REQUIRE(*as_instances.volume == Approx(*as_mesh.volume));
    const Mesh welded = weld(real->mesh, 1e-4, false).mesh;
    const Mask inner = doubled_faces(welded);
    REQUIRE(count_of(inner) == 8);
    const Mesh solid = without_faces(welded, inner);
    require_solid(solid);
    REQUIRE(signed_volume(solid) == Approx(5).epsilon(1e-6));
    // Mirrored instances stay outside out.
    row.instances[0].places.push_back(glm::mat4(glm::scale(glm::dmat4(1), DVec3(-1, 1, 1))));
    REQUIRE(*measured(*real_geometry(std::make_shared<const Shape>(row))).volume == Approx(6));
}

TEST_CASE("A bar keeps its section along straight runs and mitres", "[solids]") {
    // A closed square frame of square bars: length of the middle line times the section, mitres cancel (Pappus-like).
    Polyline square = flatten(profile({{0, 0}, {1, 0}, {1, 1}, {0, 1}}, true));
    BarOptions options;
    options.round = false;
    options.width = options.height = 0.1;
    options.up = DVec3(0, 1, 0);
    const BarResult frame = bar_along(square, options);
    require_solid(frame.mesh);
    REQUIRE(measure(frame.mesh).euler == 0);
    REQUIRE(signed_volume(frame.mesh) == Approx(4 * 0.01).epsilon(1e-4));
    options.round = true;
    options.sides = 12;
    const BarResult rod = bar_along(flatten(profile({{0, 0}, {0.4, 0}, {1, 0.5}})), options);
    require_solid(rod.mesh);
    const double length = 0.4 + std::hypot(0.6, 0.5);
    REQUIRE(signed_volume(rod.mesh) == Approx(prism(0.05, length, 12)).epsilon(1e-3));
    REQUIRE(rod.too_tight.empty());
    REQUIRE_FALSE(bar_along(flatten(profile({{0, 0}, {0.4, 0}, {0.41, 0.02}, {0.3, 0.1}})), options).too_tight.empty());
}

TEST_CASE("Places are found again when the mesh changes", "[solids][choose]") {
    const Mesh box = make_box(DVec3(1, 1, 1), {4, 4, 4});
    std::vector<Place> places;
    for (const Index f : {3u, 20u, 50u}) places.push_back(pinned(box, Domain::face, f));
    for (const Index e : {5u, 77u}) places.push_back(pinned(box, Domain::edge, e));
    places.push_back(pinned(box, Domain::vertex, 17));
    const FoundPlaces same = found_places(box, places);
    REQUIRE(same.lost.empty());
    REQUIRE(same.doubtful.empty());
    REQUIRE(same.element == std::vector<Index>{3, 20, 50, 5, 77, 17});
    // Resized: by the share of the box. Renumbered: by place.
    const Mesh large = placed(box, {3, 0, 0}, DVec3(0), {2, 3, 1.5});
    REQUIRE(found_places(large, places).element == same.element);
    const Mesh turned_numbers = appended(placed(make_box(DVec3(0.1), {1, 1, 1}), {0, 0, 0}), box);
    const FoundPlaces moved = found_places(turned_numbers, places);
    REQUIRE(moved.lost.empty());
    for (std::size_t k = 0; k < places.size(); ++k)
        REQUIRE(glm::distance(middle_of(turned_numbers, places[k].element, moved.element[k]), places[k].at) < 1e-6);
    // Many together, which are looked up in a sorted list, are found as each by itself is.
    std::vector<Place> many;
    for (const Domain domain : {Domain::face, Domain::edge, Domain::vertex})
        for (Index i = 0; i < box.domain_sizes()[static_cast<std::size_t>(domain)]; i += 3)
            many.push_back(pinned(box, domain, i));
    const FoundPlaces together = found_places(turned_numbers, many);
    for (std::size_t k = 0; k < many.size(); ++k) {
        const FoundPlaces alone = found_places(turned_numbers, std::span(&many[k], 1));
        REQUIRE(together.element[k] == alone.element[0]);
        REQUIRE(std::ranges::count(together.doubtful, k) == static_cast<int>(alone.doubtful.size()));
    }
    // Gone: reported, not guessed.
    const Mesh lower = sliced(box, {{0, 0, 1}, {0, 0, -0.3}, SliceKeep::below, true}).mesh;
    std::vector<Place> top;
    const Mask up = facing(box, DVec3(0, 0, 1), 5);
    for (Index f = 0; f < up.size(); ++f)
        if (up[f]) top.push_back(pinned(box, Domain::face, f));
    for (Place& place : top) place.share.reset();
    REQUIRE(found_places(lower, top).lost.size() == top.size());
}

TEST_CASE("Choosing by rule", "[solids][choose]") {
    const Mesh box = make_box(DVec3(1), {4, 4, 4});
    REQUIRE(count_of(facing(box, DVec3(0, 0, 1), 10)) == 16);
    REQUIRE(count_of(sharp_edges(box, 45, Turn::convex)) == 48);
    REQUIRE(count_of(sharp_edges(box, 45, Turn::concave)) == 0);
    REQUIRE(count_of(in_ball(box, Domain::vertex, DVec3(0.5), 0.3)) == 4);
    REQUIRE(count_of(in_box(box, Domain::face, {DVec3(-1, -1, 0.4), DVec3(1, 1, 1)})) == 16);
    REQUIRE(count_of(every_nth(10, 3, 1)) == 3);
    REQUIRE(count_of(open_edges(make_grid(1, 1, 3, 3))) == 12);
    Mask one(box.face_count(), 0);
    one[40] = 1;
    const Mask wider = grown(box, Domain::face, one, 1);
    REQUIRE(count_of(wider) == 5);
    REQUIRE(shrunk(box, Domain::face, wider, 1) == one);
    Mesh named = box;
    keep_set(named, Domain::face, "top", facing(box, DVec3(0, 0, 1), 10));
    REQUIRE(count_of(*set_members(named, Domain::vertex, "top")) == 25);
    REQUIRE(count_of(*set_members(named, Domain::edge, "top")) == 40);
    REQUIRE(nearest_set(named, "topp") == "top");
    REQUIRE_FALSE(set_members(named, Domain::face, "bottom"));
}
