// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <numbers>
#include <numeric>
#include <random>
#include <tbb/global_control.h>

#include "core/kernels/array.h"
#include "core/kernels/measure.h"
#include "core/kernels/mirror.h"
#include "core/kernels/normals.h"
#include "core/kernels/primitives.h"
#include "core/kernels/split_vertices.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/weld.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("plain solids are closed, face outwards and have UVs", "[mesh]") {
    CylinderOptions with_face, with_fan, with_rings;
    with_fan.caps = CapStyle::fan;
    with_rings.caps = CapStyle::rings;
    with_rings.rings = 4;
    with_face.levels = 3;
    const double cylinder = 32 / 2.0 * 0.25 * std::sin(2 * pi / 32) * 1;  // prism over a regular 32-gon
    const std::tuple<const char*, Mesh, double, int> all[] = {
        {"box", make_box({1, 2, 3}, {2, 3, 4}), 6, 2},
        {"cylinder, faces", make_cylinder(with_face), cylinder, 2},
        {"cylinder, fans", make_cylinder(with_fan), cylinder, 2},
        {"cylinder, rings", make_cylinder(with_rings), cylinder, 2},
        {"torus", make_torus(0.5, 0.1, 256, 128), 2 * pi * pi * 0.5 * 0.01, 0}};
    for (const auto& [name, mesh, volume, euler] : all) {
        INFO(name);
        REQUIRE(sound(mesh));
        const Measures m = measure(mesh);
        CHECK(m.closed);
        CHECK(m.euler == euler);
        CHECK(m.turned_edges == 0);
        CHECK(*m.volume == Approx(volume).epsilon(1e-3));
        CHECK(mesh.attributes.values<Vec2>(Domain::corner, attribute_name::uv));
    }
    CHECK(make_box({1, 1, 1}, {2, 2, 2}).vertex_count() == 26);
    const Measures sheet = measure(make_grid(2, 3, 4, 5));
    CHECK(sheet.area == Approx(6));
    CHECK(sheet.border_edges == 18);
    CHECK(sheet.euler == 1);
}

TEST_CASE("welding closes what touches and counts it", "[mesh][weld]") {
    const Mesh two = appended(make_box({1, 1, 1}, {1, 1, 1}),
                              shape_of(transformed(shape_of(make_box({1, 1, 1}, {1, 1, 1})),
                                                   placement({1, 0, 0}, DVec3(0), DVec3(1), DVec3(0)))
                                           .mesh)
                                  .mesh);
    REQUIRE(measure(two).pieces == 2);
    const WeldResult result = weld(two, 1e-4);
    CHECK(result.welded == 4);
    CHECK(measure(result.mesh).pieces == 1);
    CHECK(sound(result.mesh));
    CHECK(weld(two, 0).welded == 4);
    const WeldResult all = weld(make_box({1, 1, 1}, {4, 4, 4}), 10);
    CHECK(all.mesh.face_count() == 0);
    CHECK(all.collapsed_faces == 96);
}

TEST_CASE("welding is the same wherever the grid of cells falls", "[mesh][weld][generated]") {
    std::mt19937 random(3);
    std::uniform_real_distribution<float> place(-3, 3);
    for (int round = 0; round < 20; ++round) {
        Array<Vec3> points;
        for (int i = 0; i < 200; ++i) points.push_back({place(random), place(random), place(random)});
        for (int i = 0; i < 50; ++i) points.push_back(points[i * 3] + Vec3(0.0004f, -0.0003f, 0.0002f));
        const auto count = static_cast<Index>(points.size());
        const Mesh cloud(points, make_topology(count, {}, {}));
        CHECK(weld(cloud, 0.001).welded == 50);
    }
}

TEST_CASE("welding joins the points that chains of short ways join, whatever the distance", "[mesh][weld][generated]") {
    std::mt19937 random(11);
    std::uniform_real_distribution<float> place(-1, 1);
    for (const double distance : {0.01, 0.05, 0.12, 0.2, 0.5, 5.0}) {
        Array<Vec3> points;
        for (int i = 0; i < 700; ++i) points.push_back({place(random), place(random), place(random)});
        const auto count = static_cast<Index>(points.size());
        // Every pair looked at: so many groups are left.
        std::vector<Index> group(count);
        std::iota(group.begin(), group.end(), 0);
        const auto root = [&](Index v) {
            while (group[v] != v) v = group[v];
            return v;
        };
        std::size_t joined = 0;
        for (Index a = 0; a < count; ++a)
            for (Index b = 0; b < a; ++b)
                if (glm::distance(DVec3(points[a]), DVec3(points[b])) <= distance && root(a) != root(b)) {
                    group[root(a)] = root(b);
                    ++joined;
                }
        INFO(distance);
        CHECK(weld(Mesh(points, make_topology(count, {}, {})), distance).welded == joined);
    }
    // All of a fine mesh within the distance: every pair would be five hundred thousand million looks.
    const Mesh fine = make_grid(1, 1, 1000, 1000);
    CHECK(weld(fine, 100).mesh.vertex_count() == 1);
}

TEST_CASE("faces that lie on one another are found as by looking at every two", "[mesh][weld][generated]") {
    std::mt19937 random(11);
    std::size_t found = 0;
    for (int round = 0; round < 40; ++round) {
        // Among a few points many faces have the same corners, turned on, turned round, or in another order.
        const Index points = 4 + static_cast<Index>(round % 5);
        Array<Index> offsets{0}, corners;
        std::vector<std::vector<Index>> rings;
        for (int f = 0; f < 120; ++f) {
            std::vector<Index> ring(points);
            std::iota(ring.begin(), ring.end(), Index(0));
            std::ranges::shuffle(ring, random);
            ring.resize(3 + random() % 2);
            corners.insert(corners.end(), ring.begin(), ring.end());
            offsets.push_back(static_cast<Index>(corners.size()));
            rings.push_back(ring);
        }
        const auto same_way = [](std::vector<Index> a, const std::vector<Index>& b) {
            for (std::size_t k = 0; k < a.size(); ++k, std::ranges::rotate(a, a.begin() + 1))
                if (a == b) return true;
            return false;
        };
        Array<std::uint8_t> wanted(rings.size(), 0);
        std::vector<std::size_t> standing;  // each takes away the one it lies on back to back, or is a repeat
        for (std::size_t f = 0; f < rings.size(); ++f) {
            const std::vector<Index> back(rings[f].rbegin(), rings[f].rend());
            const auto behind = std::ranges::find_if(standing, [&](std::size_t g) { return same_way(rings[g], back); });
            if (behind != standing.end()) {
                wanted[f] = wanted[*behind] = 1;
                standing.erase(behind);
            } else if (std::ranges::any_of(standing, [&](std::size_t g) { return same_way(rings[g], rings[f]); })) {
                wanted[f] = 1;
            } else {
                standing.push_back(f);
            }
        }
        const Mesh mesh(Array<Vec3>(points, Vec3(0)), make_topology(points, std::move(offsets), std::move(corners)));
        CHECK(doubled_faces(mesh) == wanted);
        found += static_cast<std::size_t>(std::ranges::count(wanted, 1));
    }
    CHECK(found > 1000);
}

TEST_CASE("a mirrored half is closed along the seam", "[mesh][mirror]") {
    const Shape half = shape_of(clipped(make_box({2, 1, 1}, {4, 2, 2}), 0, 0.1, true));
    CHECK(measure(half.mesh).border_edges == 8);
    MirrorOptions options;
    options.at = 0.1;
    const MirrorResult whole = mirrored(half, options);
    const Measures m = measured(whole.shape);
    CHECK(sound(whole.shape.mesh));
    CHECK(m.closed);
    CHECK(m.euler == 2);
    CHECK(m.turned_edges == 0);
    CHECK(*m.volume == Approx(1.8).epsilon(1e-6));
    options.cut = true;
    CHECK(*measured(mirrored(shape_of(make_box({2, 1, 1}, {4, 2, 2})), options).shape).volume ==
          Approx(1.8).epsilon(1e-6));
}

TEST_CASE("near misses at a seam are measured", "[mesh][mirror][findings]") {
    Shape half = shape_of(clipped(make_box({2, 1, 1}, {4, 2, 2}), 0, 0, true));
    Array<Vec3> points = *half.mesh.positions;
    for (Vec3& p : points)
        if (p.x == 0) p.x = p.z > 0 ? 0.0008f : 0.0003f;
    half.mesh.positions = std::make_shared<const Array<Vec3>>(points);
    MirrorOptions options;
    options.weld = 0.0002;
    const MirrorResult open = mirrored(half, options);
    CHECK(open.near_misses == 8);
    CHECK(open.smallest_gap == Approx(0.0006).epsilon(1e-3));
    CHECK(open.widest_miss == Approx(0.0008).epsilon(1e-3));
    CHECK_FALSE(measured(open.shape).closed);
    options.weld = open.widest_miss * 1.01;
    const MirrorResult closed = mirrored(half, options);
    CHECK(closed.near_misses == 0);
    CHECK(measured(closed.shape).closed);
}

TEST_CASE("concave polygons are triangulated inside themselves", "[mesh][triangulate]") {
    // A comb: fans would leave it. Triangle areas must add up to the polygon's (shoelace formula) with none reversed.
    Array<Vec3> points;
    for (int i = 0; i < 8; ++i) {
        points.push_back({static_cast<float>(i), 0, 0});
        points.push_back({static_cast<float>(i) + 0.5f, 0, 3});
    }
    points.push_back({8, 0, 5});
    points.push_back({0, 0, 5});
    double shoelace = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec3 a = points[i], b = points[(i + 1) % points.size()];
        shoelace += (a.x * b.z - b.x * a.z) / 2.0;
    }
    Array<Index> loop(points.size());
    std::iota(loop.begin(), loop.end(), 0);
    const auto count = static_cast<Index>(points.size());
    const Mesh mesh(points, make_topology(count, {0, count}, loop));
    const Triangles triangles = triangulated(mesh);
    REQUIRE(triangles.count() == points.size() - 2);
    double sum = 0;
    for (std::size_t i = 0; i < triangles.count(); ++i) {
        const auto p = [&](int k) { return DVec3(points[triangles.corners[3 * i + k]]); };
        const DVec3 n = glm::cross(p(1) - p(0), p(2) - p(0));
        CHECK(n.y * shoelace < 0);  // x-z is left-handed seen from +y
        sum += glm::length(n) / 2;
    }
    CHECK(sum == Approx(std::abs(shoelace)).epsilon(1e-6));
}

TEST_CASE("flipping twice changes nothing, once turns the volume", "[mesh]") {
    const Mesh box = make_box({1, 1, 1}, {2, 1, 3});
    const Mesh once = flipped(box), twice = flipped(once);
    CHECK(*measure(once).volume == Approx(-1).epsilon(1e-6));
    CHECK(twice.topology->corner_vertex == box.topology->corner_vertex);
    CHECK(twice.topology->corner_edge == box.topology->corner_edge);
    CHECK(sound(once));
}

TEST_CASE("a mirroring transform keeps the outside outside", "[mesh][transform]") {
    const Shape ball = shape_of(make_sphere(1, 16, 8));
    const Shape out = transformed(ball, placement({1, 2, 3}, {30, 0, 45}, {-2, 1, 1}, DVec3(0)));
    CHECK(*measured(out).volume == Approx(2 * *measured(ball).volume).epsilon(1e-5));
    const auto* normals = out.mesh.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    REQUIRE(normals);
    for (std::size_t v = 0; v < normals->size(); ++v)
        CHECK(glm::dot((*normals)[v], (*out.mesh.positions)[v] - Vec3(1, 2, 3)) > 0);
}

TEST_CASE("normals by angle split at sharp edges only", "[mesh][normals]") {
    const Mesh box = with_normals_by_angle(make_box({1, 1, 1}, {1, 1, 1}), 40);
    const auto* corner = box.attributes.values<Vec3>(Domain::corner, attribute_name::normal);
    REQUIRE(corner);
    for (const Vec3& n : *corner) CHECK(std::max({std::abs(n.x), std::abs(n.y), std::abs(n.z)}) == Approx(1));
    const Mesh soft = with_normals_by_angle(make_box({1, 1, 1}, {1, 1, 1}), 100);
    const auto* vertex = soft.attributes.values<Vec3>(Domain::vertex, attribute_name::normal);
    REQUIRE(vertex);
    for (std::size_t v = 0; v < 8; ++v)
        CHECK(glm::distance((*vertex)[v], glm::normalize((*soft.positions)[v])) < 1e-5f);
}

TEST_CASE("splitting shares vertices that agree", "[mesh]") {
    CHECK(split_vertices(with_normals_by_angle(make_grid(1, 1, 4, 4), 40)).positions.size() == 25);
    CHECK(split_vertices(make_box({1, 1, 1}, {1, 1, 1})).positions.size() == 24);
}

TEST_CASE("measures and triangles of large meshes are the same for any number of threads", "[mesh][triangulate]") {
    // A ball of 48 000 quads and two rings of triangles; its area and volume against the sphere's own formulas.
    const Mesh ball = make_sphere(0.7, 300, 162);
    REQUIRE(ball.face_count() > 6 * 8192 - 1000);
    const auto run = [&](int threads) {
        const tbb::global_control limit(tbb::global_control::max_allowed_parallelism,
                                        static_cast<std::size_t>(threads));
        const Measures m = measure(ball);
        const Triangles t = triangulated(ball);
        return std::tuple(m.area, *m.volume, m.box->low, m.box->high, t.corners, t.face);
    };
    const auto one = run(1);
    CHECK(one == run(2));
    CHECK(one == run(4));
    CHECK(std::get<0>(one) == Approx(4 * std::numbers::pi * 0.49).epsilon(3e-4));
    CHECK(std::get<1>(one) == Approx(4.0 / 3 * std::numbers::pi * 0.343).epsilon(5e-4));
    // Blocks follow one another in face order: the same as face by face.
    const Triangles whole = triangulated(ball, 0, ball.face_count());
    CHECK(whole.corners == std::get<4>(one));
    CHECK(std::is_sorted(whole.face.begin(), whole.face.end()));
    CHECK(whole.count() == ball.topology->corner_count() - 2 * ball.face_count());
}

TEST_CASE("how a topology hangs together is counted", "[mesh]") {
    // Three faces on one edge, one of them turned; a loose edge, and a lone point.
    const std::array<std::array<Index, 2>, 1> loose = {{{5, 6}}};
    const auto topology = make_topology(8, {0, 3, 6, 9}, {0, 1, 2, 0, 1, 3, 1, 0, 4}, loose);
    const Ties& ties = topology->ties();
    CHECK(ties.non_manifold_edges == 1);
    CHECK(ties.border_edges == 6);
    CHECK(ties.loose_edges == 1);
    CHECK(ties.turned_edges == 0);
    CHECK(ties.pieces == 3);
    const auto pair = make_topology(4, {0, 3, 6}, {0, 1, 2, 0, 1, 3});
    CHECK(pair->ties().turned_edges == 1);
    CHECK(pair->ties().border_edges == 4);
    CHECK(pair->ties().pieces == 1);
    CHECK(make_topology(3, {}, {})->ties().pieces == 3);
}
