// SPDX-License-Identifier: GPL-3.0-or-later
// What makes shapes ready for engines: hulls, lighter levels, UVs for baked light, movements told apart.
#include <catch2/catch.hpp>
#include <numbers>
#include <set>

#include "core/files/dressing.h"
#include "core/files/motion.h"
#include "core/kernels/hull.h"
#include "core/kernels/light_uvs.h"
#include "core/kernels/lighter.h"
#include "core/kernels/primitives.h"
#include "core/kernels/rigid_fit.h"
#include "core/kernels/surface_finder.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/uv_check.h"
#include "core/kernels/weld.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

double volume_inside(const Mesh& mesh) { return *measure(mesh).volume; }

/// An L of three unit cubes, one metre high.
Mesh l_shape() {
    const std::array<Vec2, 6> outline = {Vec2(0, 0), Vec2(2, 0), Vec2(2, 1), Vec2(1, 1), Vec2(1, 2), Vec2(0, 2)};
    Array<Vec3> points;
    for (const float z : {0.0f, 1.0f})
        for (const Vec2& p : outline) points.push_back(Vec3(p, z));
    Array<Index> offsets{0, 6, 12}, corners{5, 4, 3, 2, 1, 0, 6, 7, 8, 9, 10, 11};
    for (Index i = 0; i < 6; ++i) {
        const Index j = (i + 1) % 6;
        corners.insert(corners.end(), {i, j, j + 6, i + 6});
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    return Mesh(std::move(points), make_topology(12, std::move(offsets), std::move(corners)));
}

/// How often each of `grid` x `grid` places of the unit square is covered by the mesh's second UVs.
std::vector<int> coverage(const Mesh& mesh, int grid) {
    const auto& uv = column<Vec2>(mesh, Domain::corner, attribute_name::light_uv);
    const Triangles cut = triangulated(mesh);
    std::vector<int> times(static_cast<std::size_t>(grid * grid), 0);
    for (std::size_t i = 0; i < cut.count(); ++i) {
        const DVec2 a(uv[cut.corners[3 * i]]), b(uv[cut.corners[3 * i + 1]]), c(uv[cut.corners[3 * i + 2]]);
        const DVec2 low = glm::min(a, glm::min(b, c)) * double(grid), high = glm::max(a, glm::max(b, c)) * double(grid);
        const auto side = [](const DVec2& p, const DVec2& q, const DVec2& r) {
            return (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
        };
        const double turn = side(a, b, c) < 0 ? -1 : 1;
        for (int y = std::max(0, int(low.y)); y <= std::min(grid - 1, int(high.y)); ++y)
            for (int x = std::max(0, int(low.x)); x <= std::min(grid - 1, int(high.x)); ++x) {
                const DVec2 p((x + 0.5) / grid, (y + 0.5) / grid);
                // Inside by a hair: the sides that neighbours share count for none.
                if (turn * side(a, b, p) > 1e-9 && turn * side(b, c, p) > 1e-9 && turn * side(c, a, p) > 1e-9)
                    ++times[static_cast<std::size_t>(y * grid + x)];
            }
    }
    return times;
}

/// Farthest a point of one lies from the other's surface.
double farthest(const Mesh& of, const Mesh& from) {
    const SurfaceFinder finder(from);
    double out = 0;
    for (const Vec3& p : *of.positions) out = std::max(out, finder.nearest(DVec3(p)).distance);
    return out;
}

ShapePtr shared(Mesh mesh) { return std::make_shared<const Shape>(shape_of(std::move(mesh))); }

}  // namespace

TEST_CASE("a convex hull holds all points and nothing it need not", "[hull][wide]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<float> inside(-0.99f, 0.99f);
    Array<Vec3> points;
    for (int i = 0; i < 8; ++i) points.push_back(Vec3(i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1));
    for (int i = 0; i < 500; ++i) points.push_back(Vec3(inside(random), inside(random), inside(random)));
    const Mesh cube = convex_hull(points);
    CHECK(sound(cube));
    CHECK(cube.vertex_count() == 8);
    CHECK(measure(cube).closed);
    CHECK(cube.face_count() == 6);            // a polygon for every flat side
    CHECK(volume_inside(cube) == Approx(8));  // outward: not -8
    // So many that they are hulled in batches: the corners stand far apart in the list, one of them in a batch that
    // lies in one plane and has no hull of its own.
    Array<Vec3> many(10000, Vec3(0.5f, 0.25f, -1));
    many[5000] = points[0];
    for (int i = 0; i < 8; ++i) {
        many.insert(many.end(), 15000, Vec3(0.1f * static_cast<float>(i), 0.3f, -1));
        if (i > 0) many.push_back(points[static_cast<std::size_t>(i)]);
        for (int k = 0; k < 9000; ++k) many.push_back(Vec3(inside(random), inside(random), inside(random)));
    }
    const Mesh same = convex_hull(many);
    CHECK(*same.positions == *cube.positions);
    CHECK(same.topology->corner_vertex == cube.topology->corner_vertex);
    // Every point of a ball is on its own hull: Euler's 2 V - 4 triangles.
    const Mesh ball = make_sphere(1, 12, 8);
    CHECK(triangulated(convex_hull(*ball.positions)).count() == 2 * ball.vertex_count() - 4);
    const Mesh flat = make_grid(1, 1, 4, 4);
    CHECK(convex_hull(*flat.positions).face_count() == 0);
    CHECK(convex_hull(*make_grid(1, 1, 200, 200).positions).face_count() == 0);  // in batches
    CHECK(convex_hull({}).face_count() == 0);
}

TEST_CASE("convex pieces follow the form", "[hull]") {
    const Mesh l = l_shape();
    CHECK(volume_inside(convex_hull(*l.positions)) == Approx(3.5));
    const std::vector<Mesh> two = convex_pieces(l, 8);
    REQUIRE(two.size() == 2);
    CHECK(volume_inside(two[0]) + volume_inside(two[1]) == Approx(3).epsilon(1e-6));
    CHECK(convex_pieces(l, 1).size() == 1);
    // A ring: no hull reaches across its hole.
    const Mesh ring = make_torus(1, 0.2, 24, 10);
    const std::vector<Mesh> round = convex_pieces(ring, 12);
    CHECK(round.size() >= 6);
    CHECK(round.size() <= 12);
    double all = 0;
    for (const Mesh& piece : round) {
        CHECK(measure(piece).closed);
        all += volume_inside(piece);
        CHECK(farthest(piece, ring) < 0.15);
        const SurfaceFinder finder(piece);
        CHECK_FALSE(finder.inside(DVec3(0)));
    }
    // Hulls may stand over a little and into one another, but nothing like the hull of the whole (more than twice the
    // ring).
    CHECK(all > 0.98 * volume_inside(ring));
    CHECK(all < 1.4 * volume_inside(ring));
    CHECK(volume_inside(convex_hull(*ring.positions)) > 2 * volume_inside(ring));
    for (int again = 0; again < 2; ++again) {
        const std::vector<Mesh> same = convex_pieces(ring, 12);
        REQUIRE(same.size() == round.size());
        for (std::size_t i = 0; i < same.size(); ++i) {
            CHECK((*same[i].positions == *round[i].positions));
            CHECK(same[i].topology->corner_vertex == round[i].topology->corner_vertex);
        }
    }
}

TEST_CASE("loose pieces get hulls of their own, the largest first", "[hull]") {
    const Tried two = tried({step("b", "box", {{"size", {1, 1, 1}}}),
                             step("a", "array", {{"count", 3}, {"offset", {3, 0, 0}}, {"result", "real"}})});
    const Mesh& mesh = two.part().shape->mesh;
    const std::size_t loose = mesh.topology->ties().pieces;
    REQUIRE(loose >= 2);
    CHECK(convex_pieces(mesh, 16).size() == loose);
    CHECK(convex_pieces(mesh, 2).size() == 2);
}

TEST_CASE("a lighter mesh keeps its form, its UVs and its materials", "[lighter]") {
    const Mesh ball = make_sphere(1, 64, 48);
    const std::size_t all = triangulated(ball).count();
    const auto& uv = column<Vec2>(ball, Domain::corner, attribute_name::uv);
    std::set<std::array<float, 5>> known;  // place and UV together
    for (std::size_t c = 0; c < uv.size(); ++c) {
        const Vec3& p = (*ball.positions)[ball.topology->corner_vertex[c]];
        known.insert({p.x, p.y, p.z, uv[c].x, uv[c].y});
    }
    for (const double share : {0.5, 0.25, 0.1}) {
        const auto wanted = static_cast<std::size_t>(static_cast<double>(all) * share);
        const Mesh less = lighter(ball, wanted);
        INFO(share);
        CHECK(sound(less));
        CHECK(less.face_count() <= wanted + 4);
        CHECK(less.face_count() >= wanted / 2);
        CHECK(farthest(less, ball) < 1e-6);             // points stay where they were
        CHECK(farthest(ball, less) < 0.02 * 2 * 1.75);  // a fiftieth of the size, the box's diagonal at most
        CHECK(volume_inside(less) > 0.9 * volume_inside(ball));
        const auto& now = column<Vec2>(less, Domain::corner, attribute_name::uv);
        bool same = true;
        for (std::size_t c = 0; c < now.size(); ++c) {
            const Vec3& p = (*less.positions)[less.topology->corner_vertex[c]];
            same &= known.contains({p.x, p.y, p.z, now[c].x, now[c].y});
        }
        CHECK(same);
        CHECK(column<Vec3>(less, Domain::corner, attribute_name::normal).size() == less.topology->corner_count());
    }
    CHECK(lighter(ball, all).face_count() == ball.face_count());
}

TEST_CASE("hard edges do not keep a shape heavy, and a box stays a box", "[lighter]") {
    const Mesh box = make_box({2, 1, 0.5}, {10, 10, 10});
    const Mesh less = lighter(box, 60);
    CHECK(less.face_count() <= 66);
    CHECK(volume_inside(less) == Approx(1));  // flat faces cost nothing
    CHECK(measure(less).closed);
    // Facets of a rod, each hard against the next.
    const Mesh rod = tried({step("c", "cylinder", {{"segments", 12}, {"levels", 24}, {"radius", 0.1}, {"height", 2}}),
                            step("n", "normals", {{"how", "flat"}})})
                         .part()
                         .shape->mesh;
    const std::size_t all = triangulated(rod).count();
    const Mesh thin = lighter(rod, all / 8);
    CHECK(thin.face_count() <= all / 8 + 8);
    CHECK(volume_inside(thin) == Approx(volume_inside(rod)).epsilon(0.02));
    CHECK(measure(thin).closed);
}

TEST_CASE("the border between two materials stays where it is", "[lighter]") {
    Mesh mesh = tried({step("s", "sphere", {{"radius", 1}, {"slices", 48}, {"rings", 32}, {"origin", "centre"}}),
                       step("a", "material", {{"kit", "own"}})})
                    .part()
                    .shape->mesh;
    // Two halves by hand: the upper faces get a second material.
    auto materials = std::make_shared<MaterialList>(*mesh.materials);
    Material brass = materials->front().material;
    brass.name = "brass", brass.metallic = 1;
    materials->push_back({material_number(brass), brass});
    Array<std::int32_t> numbers(mesh.face_count());
    double upper = 0;
    for (std::size_t f = 0; f < numbers.size(); ++f) {
        double z = 0;
        for (const Index v : mesh.topology->face(f)) z += static_cast<double>((*mesh.positions)[v].z);
        numbers[f] = (*materials)[z > 0 ? 1 : 0].number;
        upper += z > 0;
    }
    REQUIRE(upper == Approx(static_cast<double>(numbers.size()) / 2));
    mesh.attributes.set(Domain::face, attribute_name::material, numbers);
    mesh.materials = materials;
    const Mesh less = lighter(mesh, triangulated(mesh).count() / 4);
    const auto& now = column<std::int32_t>(less, Domain::face, attribute_name::material);
    for (std::size_t f = 0; f < less.face_count(); ++f) {
        double low = 1e9, high = -1e9;
        for (const Index v : less.topology->face(f)) {
            low = std::min(low, static_cast<double>((*less.positions)[v].z));
            high = std::max(high, static_cast<double>((*less.positions)[v].z));
        }
        const bool above = now[f] == (*materials)[1].number;
        CHECK((above ? low > -1e-6 : high < 1e-6));
    }
}

TEST_CASE("UVs for baked light cover each place once, at one scale", "[light uvs]") {
    struct Case {
        std::string name;
        Mesh mesh;
    };
    const Mesh coil = tried({step("h", "helix", {{"turns", 4}, {"radius", 0.5}, {"pitch", 0.25}}),
                             step("s", "sweep", {{"kind", "round"}, {"radius", 0.06}, {"sides", 10}})})
                          .part()
                          .shape->mesh;
    // A winding stair without walls: all of it looks up, and lies over itself when it is laid flat.
    Mesh stair = make_grid(4 * std::numbers::pi, 0.5, 80, 2);
    Array<Vec3> wound = *stair.positions;
    for (Vec3& p : wound) p = Vec3((p.y + 1) * std::cos(p.x), (p.y + 1) * std::sin(p.x), p.x * 0.1f);
    stair.positions = std::make_shared<const Array<Vec3>>(std::move(wound));
    const std::vector<Case> cases = {{"box", make_box({1, 2, 3}, {2, 2, 2})},
                                     {"ball", make_sphere(1, 32, 20)},
                                     {"ring", make_torus(1, 0.3, 40, 16)},
                                     {"L", l_shape()},
                                     {"coil", coil},
                                     {"stair", stair}};
    for (const Case& one : cases) {
        INFO(one.name);
        REQUIRE(one.mesh.face_count() > 0);
        const LightUvs out = with_light_uvs(one.mesh);
        const auto& uv = column<Vec2>(out.mesh, Domain::corner, attribute_name::light_uv);
        for (const Vec2& p : uv) CHECK((p.x >= 0 && p.y >= 0 && p.x <= 1 && p.y <= 1));
        const std::vector<int> times = coverage(out.mesh, 1024);
        CHECK(*std::ranges::max_element(times) == 1);
        const auto covered = static_cast<double>(std::ranges::count(times, 1)) / (1024.0 * 1024.0);
        CHECK(covered == Approx(out.covered).margin(0.03));
        CHECK(out.covered > 0.15);
        // Laid flat along a direction no face turns more than 45 degrees away from (and both from the first one): a
        // triangle shrinks by no more than the cosine of that in one direction, and not at all across.
        Mesh as_first = out.mesh;
        as_first.attributes.set(Domain::corner, attribute_name::uv, uv);
        CHECK(checked_uvs(as_first, 1.5).stretch < 1.7);
    }
    CHECK(with_light_uvs(cases[0].mesh).charts == 6);
}

TEST_CASE("charts keep their distance", "[light uvs]") {
    const Mesh box = with_light_uvs(make_box({1, 1, 1}, {1, 1, 1}), 1.0 / 64).mesh;
    const auto& uv = column<Vec2>(box, Domain::corner, attribute_name::light_uv);
    double nearest = 1e9;
    for (std::size_t f = 0; f < 6; ++f)
        for (std::size_t g = 0; g < f; ++g) {
            // Boxes of faces laid square to the axes: the gap along the axis that parts them.
            Vec2 low[2] = {Vec2(9), Vec2(9)}, high[2] = {Vec2(-9), Vec2(-9)};
            for (int which = 0; which < 2; ++which)
                for (std::size_t k = 0; k < 4; ++k) {
                    const Vec2 p = uv[4 * (which ? g : f) + k];
                    low[which] = glm::min(low[which], p), high[which] = glm::max(high[which], p);
                }
            const float gap =
                std::max({low[0].x - high[1].x, low[1].x - high[0].x, low[0].y - high[1].y, low[1].y - high[0].y});
            nearest = std::min(nearest, static_cast<double>(gap));
        }
    CHECK(nearest >= 1.0 / 64 - 1e-6);
}

TEST_CASE("a movement is found again from the points it moved", "[motion]") {
    const Mesh mesh = make_torus(1, 0.3, 12, 8);
    const glm::dmat4 place = placement({3, -2, 0.5}, {20, 130, -70}, {1, 1, 1}, {0, 0, 0});
    const Mesh moved = transformed(shape_of(mesh), place).mesh;
    const RigidFit fit = rigid_fit(*mesh.positions, *moved.positions);
    CHECK(fit.worst < 1e-6);
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 4; ++r) CHECK(fit.place[c][r] == Approx(place[c][r]).margin(1e-6));
    const Mesh grown = transformed(shape_of(mesh), placement({0, 0, 0}, {0, 0, 40}, {2, 2, 2}, {0, 0, 0})).mesh;
    CHECK(rigid_fit(*mesh.positions, *grown.positions).worst < 1e-6);
    const Mesh bent = transformed(shape_of(mesh), placement({0, 0, 0}, {0, 0, 0}, {1, 1, 2}, {0, 0, 0})).mesh;
    CHECK(rigid_fit(*mesh.positions, *bent.positions).worst > 0.05);
}

TEST_CASE("parts that move as one, bend, or come and go are told apart", "[motion]") {
    const Mesh box = make_box({1, 1, 1}, {2, 2, 2});
    const auto at = [&](const glm::dmat4& place) {
        return std::make_shared<const Shape>(transformed(shape_of(box), place));
    };
    const auto still = placement(DVec3(0), DVec3(0), DVec3(1), DVec3(0));
    const std::vector<ShapePtr> turning = {at(still), at(placement(DVec3(0), {0, 0, 30}, DVec3(1), DVec3(0)))};
    const auto turned = motion_of(turning, 25);
    REQUIRE(turned);
    REQUIRE(turned->placed.size() == 1);
    CHECK(turned->moves());
    CHECK(turned->placed[0].points.empty());
    REQUIRE(turned->placed[0].places.size() == 2);
    CHECK(turned->placed[0].places[0][0] == glm::mat4(1));
    CHECK(turned->placed[0].places[1][0][0].x == Approx(std::cos(std::numbers::pi / 6)));
    CHECK(turned->seconds[1] == Approx(0.04));

    const std::vector<ShapePtr> bending = {at(still), at(placement(DVec3(0), DVec3(0), {1, 1, 2}, DVec3(0)))};
    const auto bent = motion_of(bending, 25);
    REQUIRE(bent);
    CHECK(bent->placed[0].places.empty());
    CHECK(bent->placed[0].points.size() == 2);

    CHECK_FALSE(motion_of(std::vector<ShapePtr>{at(still), at(still)}, 25)->moves());
    const auto other = motion_of(std::vector<ShapePtr>{at(still), shared(make_box({1, 1, 1}, {3, 2, 2}))}, 25);
    REQUIRE_FALSE(other);
    CHECK_THAT(other.problem().text(), Catch::Contains("faces change"));
}

TEST_CASE("pivots, levels and shapes to collide with", "[dressing]") {
    const std::vector<NamedShape> parts = {
        {"post", std::make_shared<const Shape>(transformed(shape_of(make_sphere(0.5, 32, 24)),
                                                           placement({3, 1, 2}, DVec3(0), DVec3(1), DVec3(0))))}};
    Dressing dressing;
    dressing.pivot = Pivot::foot;
    dressing.levels = {0.5, 0.25};
    dressing.collision = CollisionKind::hull;
    dressing.collision_name = "hit-{part}-{n}";
    ShapeNames names{{parts[0].shape, "ball"}};
    std::vector<std::string> notes;
    const std::vector<NamedShape> out = dressed(parts, dressing, names, notes);
    REQUIRE(out.size() == 4);
    CHECK(out[0].name == "post_LOD0");
    CHECK(out[1].name == "post_LOD1");
    CHECK(out[2].name == "post_LOD2");
    CHECK(out[3].name == "hit-post-01");
    CHECK(out[3].collision);
    CHECK(out[2].level == 2);
    CHECK(notes.empty());
    CHECK(out[1].shape->face_count() == Approx(triangulated(parts[0].shape->mesh).count() / 2).margin(4));
    for (const NamedShape& one : out) {
        CHECK(glm::distance(one.at, Vec3(3, 1, 1.5f)) < 1e-5f);
        const auto box = box_of(*one.shape);
        const double moved = one.level == 0 ? 1e-5 : 0.02;  // lighter ones lose their outermost points
        CHECK(box->low.z == Approx(0).margin(moved));
        CHECK(box->centre().x == Approx(0).margin(moved));
    }
    Dressing boxes;
    boxes.collision = CollisionKind::boxes;
    boxes.most_pieces = 2;
    const Tried three =
        tried({step("b", "box", {{"size", {1, 1, 1}}}), step("a", "array", {{"count", 3}, {"offset", {3, 0, 0}}})});
    const std::vector<NamedShape> row = {{"row", three.part().shape}};
    const std::vector<NamedShape> bumps = dressed(row, boxes, names, notes);
    REQUIRE(bumps.size() == 3);
    CHECK(volume_inside(bumps[1].shape->mesh) == Approx(1));
    REQUIRE(notes.size() == 1);
    CHECK_THAT(notes[0], Catch::Contains("of 3 loose pieces the 2 largest"));
    const std::vector<NamedShape> flat = {{"sheet", shared(make_grid(1, 1, 2, 2))}};
    notes.clear();
    CHECK(dressed(flat, boxes, names, notes).size() == 1);
    CHECK_THAT(notes.at(0), Catch::Contains("nothing to collide with"));
}
