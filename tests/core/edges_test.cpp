// SPDX-License-Identifier: GPL-3.0-or-later
// Bevels, walls, struts, pulls: against closed formulas, and invariants over generated meshes.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/kernels/bevel.h"
#include "core/kernels/boolean.h"
#include "core/kernels/choose.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/merge_faces.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/fill_holes.h"
#include "core/kernels/bridge.h"
#include "core/kernels/cut_loops.h"
#include "core/kernels/extrude.h"
#include "core/kernels/normals.h"
#include "core/kernels/smooth.h"
#include "core/kernels/solids.h"
#include "core/kernels/struts.h"
#include "core/kernels/subdivide.h"
#include "core/kernels/thicken.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Array<float> all_edges(const Mesh& mesh, float width) { return Array<float>(mesh.edge_count(), width); }

void require_closed(const Mesh& mesh, std::ptrdiff_t euler = 2) {
    REQUIRE(sound(mesh));
    const Measures m = measure(mesh);
    INFO("faces " << m.faces << ", border " << m.border_edges << ", non-manifold " << m.non_manifold_edges
                  << ", turned " << m.turned_edges);
    REQUIRE(m.closed);
    REQUIRE(m.turned_edges == 0);
    REQUIRE(m.euler == euler);
    REQUIRE(*m.volume > 0);
}

/// Closed bodies of different kinds: valences 3 to many, n-gons, concave edges, holes through.
std::vector<std::pair<const char*, Mesh>> bodies() {
    std::vector<std::pair<const char*, Mesh>> list;
    list.emplace_back("box", make_box(DVec3(1, 0.8, 0.6), {1, 1, 1}));
    list.emplace_back("fine box", make_box(DVec3(1), {3, 2, 4}));
    list.emplace_back("cylinder", make_cylinder({0.5, 1, 12, 2, CapStyle::face, 1}));
    list.emplace_back("cone", make_cone(0.5, 0, 1, 7, 1));
    list.emplace_back("ball", make_geodesic_sphere(0.5, 2));
    list.emplace_back("poles", make_sphere(0.5, 9, 6));
    list.emplace_back("ring", make_torus(0.5, 0.15, 12, 8));
    list.emplace_back("tube", make_tube(0.5, 0.1, 0.4, 10, 1));
    ExtrudeOptions pull;  // an L: one concave edge, mixed corners
    pull.distance = 0.5;
    const Mesh two = make_box(DVec3(1), {2, 1, 1});
    Mask top = facing(two, DVec3(0, 0, 1), 10);
    bool first = true;
    for (std::uint8_t& b : top)
        if (b) b = first, first = false;
    list.emplace_back("step", extruded_faces(two, top, pull).mesh);
    return list;
}

std::ptrdiff_t euler_of(const Mesh& mesh) { return measure(mesh).euler; }

}  // namespace

TEST_CASE("A bevelled box has the volume of its prisms and pyramids", "[edges]") {
    // Straight bevel of width w on a box a, b, c: along every edge a prism of section w^2/2 goes, between the corners;
    // at a corner, of the cube of side w, only the tetrahedron behind the triangle (0,w,w), (w,0,w), (w,w,0) stays:
    // w^3/6.
    const double a = 1, b = 0.8, c = 0.6, w = 0.1;
    const Mesh box = make_box(DVec3(a, b, c), {1, 1, 1});
    BevelOptions options;
    const BevelResult result = bevelled_edges(box, all_edges(box, static_cast<float>(w)), options);
    require_closed(result.mesh);
    REQUIRE(result.edges == 12);
    REQUIRE(result.held == 0);
    REQUIRE(result.mesh.face_count() == 6 + 12 + 8);
    const double along = 4 * ((a - 2 * w) + (b - 2 * w) + (c - 2 * w)) * w * w / 2;
    const double corner_gone = w * w * w - w * w * w / 6;
    REQUIRE(signed_volume(result.mesh) == Approx(a * b * c - along - 8 * corner_gone).epsilon(1e-5));
}

TEST_CASE("A round bevel goes to the rounded box as segments grow", "[edges]") {
    // Steiner's formula for a box core p, q, s with radius r: pqs + 2r(pq+qs+sp) + pi r^2 (p+q+s) + 4/3 pi r^3.
    const double a = 1, b = 0.8, c = 0.6, r = 0.15, p = a - 2 * r, q = b - 2 * r, s = c - 2 * r, pi = std::numbers::pi;
    const double exact =
        p * q * s + 2 * r * (p * q + q * s + s * p) + pi * r * r * (p + q + s) + 4.0 / 3 * pi * r * r * r;
    double before = 1;
    for (const int segments : {2, 3, 4, 8, 16}) {
        const Mesh box = make_box(DVec3(a, b, c), {1, 1, 1});
        BevelOptions options;
        options.segments = segments;
        const BevelResult result = bevelled_edges(box, all_edges(box, static_cast<float>(r)), options);
        require_closed(result.mesh);
        const double error = std::abs(signed_volume(result.mesh) / exact - 1);
        INFO(segments << " segments: " << error);
        REQUIRE(error < before * 0.75);
        before = error;
        // Every point lies on the rounded box: r from the core.
        for (const Vec3& v : *result.mesh.positions) {
            const DVec3 half = DVec3(p, q, s) * 0.5;
            REQUIRE(glm::length(DVec3(v) - glm::clamp(DVec3(v), -half, half)) == Approx(r).epsilon(1e-4));
        }
    }
    REQUIRE(before < 2e-3);
}

TEST_CASE("Bevels keep every body closed, whatever meets at its corners", "[edges]") {
    for (const auto& [name, body] : bodies())
        for (const int segments : {1, 2, 3})
            for (const double profile : {1.0, 0.0, -0.5, 2.0}) {
                INFO(name << ", " << segments << " segments, profile " << profile);
                BevelOptions options;
                options.segments = segments;
                options.profile = profile;
                const std::ptrdiff_t euler = euler_of(body);
                const BevelResult all = bevelled_edges(body, all_edges(body, 0.02f), options);
                require_closed(all.mesh, euler);
                REQUIRE(all.edges == body.edge_count());
                REQUIRE(signed_volume(all.mesh) == Approx(signed_volume(body)).epsilon(0.25));
                // A few edges only: ends, turns and branches of every kind.
                std::mt19937 random(7);
                for (int round = 0; round < 6; ++round) {
                    Array<float> some(body.edge_count(), 0);
                    for (float& w : some) w = random() % 3 == 0 ? 0.01f + 0.01f * static_cast<float>(random() % 3) : 0;
                    require_closed(bevelled_edges(body, some, options).mesh, euler);
                }
                const BevelResult corners = bevelled_vertices(body, Array<float>(body.vertex_count(), 0.02f), options);
                require_closed(corners.mesh, euler);
            }
}

TEST_CASE("A bevel is as wide in both faces of its edge as was asked", "[edges]") {
    for (const auto& [name, body] : bodies()) {
        if (std::string_view(name) == "ring" || std::string_view(name) == "cone" || std::string_view(name) == "ball" ||
            std::string_view(name) == "poles")
            continue;  // no sharp edges, or slides shared by edges of different slope
        INFO(name);
        const float width = 0.013f;
        Array<float> widths(body.edge_count(), 0);
        const Array<float> angles = edge_angles(body);
        for (Index e = 0; e < widths.size(); ++e) widths[e] = std::abs(angles[e]) > 50 ? width : 0;
        const BevelResult result = bevelled_edges(body, widths, {});
        // Each old sharp edge: the strip's two long sides lie `width` away from its line.
        std::size_t checked = 0;
        const Topology& t = *result.mesh.topology;
        for (std::size_t f = 0; f < t.face_count(); ++f) {
            if (!result.made[f] || t.face(f).size() != 4) continue;
            double best[4] = {1e9, 1e9, 1e9, 1e9};
            for (int k = 0; k < 4; ++k)
                for (Index e = 0; e < widths.size(); ++e) {
                    if (widths[e] == 0) continue;
                    const DVec3 a((*body.positions)[body.topology->edges[e][0]]),
                        b((*body.positions)[body.topology->edges[e][1]]), v((*result.mesh.positions)[t.face(f)[k]]);
                    best[k] = std::min(best[k], glm::length(glm::cross(v - a, b - a)) / glm::length(b - a));
                }
            for (const double d : best) REQUIRE(d <= width * 1.001);
            ++checked;
        }
        REQUIRE(checked > 0);
    }
}

TEST_CASE("Overlapping bevels are held, and say by how much", "[edges]") {
    const Mesh box = make_box(DVec3(1, 1, 0.1), {1, 1, 1});
    BevelOptions options;
    const BevelResult held = bevelled_edges(box, all_edges(box, 0.2f), options);
    require_closed(held.mesh);
    REQUIRE(held.held == 12);
    REQUIRE(held.smallest_share == Approx(0.25 * 0.98));  // two of them fit into 0.1
    REQUIRE(crossing_faces(held.mesh, 10).empty());
    options.hold = false;
    REQUIRE(bevelled_edges(box, all_edges(box, 0.2f), options).held == 0);
}

TEST_CASE("Edges by angle leave flat ones alone", "[edges]") {
    const Mesh box = make_box(DVec3(1), {3, 3, 3});
    std::size_t sharp = 0;
    for (const float angle : edge_angles(box)) {
        const bool corner = std::abs(angle - 90) < 0.01f;
        REQUIRE((corner || std::abs(angle) < 0.01f));
        sharp += corner;
    }
    REQUIRE(sharp == 12 * 3);
    // A groove is negative.
    const Mesh inner = flipped(box);
    REQUIRE(std::ranges::count_if(edge_angles(inner), [](float a) { return a < -89; }) == 36);
}

TEST_CASE("A wall has the volume of area times thickness", "[edges]") {
    // Flat sheet: exact. Cylinder wall: pi (R^2 - r^2) h of the polygon, by Pappus for its section.
    ThickenOptions options;
    options.thickness = 0.03;
    const Mesh sheet = make_grid(1, 2, 4, 8);
    const ThickenResult flat = thickened(sheet, options);
    require_closed(flat.mesh);
    REQUIRE(signed_volume(flat.mesh) == Approx(1 * 2 * 0.03).epsilon(1e-6));
    REQUIRE(count_of(flat.rim) == 2 * (4 + 8));
    const int n = 24;
    const Mesh pipe = make_cylinder({0.5, 1, n, 1, CapStyle::none, 1});
    const ThickenResult wall = thickened(pipe, options);
    require_closed(wall.mesh, 0);
    // The polygon's apothem is R cos(pi/n); even thickness moves each side by t.
    const double apothem = 0.5 * std::cos(std::numbers::pi / n), inner = apothem - 0.03;
    const double section = n * std::tan(std::numbers::pi / n) * (apothem * apothem - inner * inner);
    REQUIRE(signed_volume(wall.mesh) == Approx(section * 1).epsilon(1e-5));
    // A folded sheet keeps its thickness on both sides of the fold.
    const Mesh box = make_box(DVec3(1), {1, 1, 1});
    const ThickenResult shell = thickened(box, options);
    REQUIRE(signed_volume(shell.mesh) == Approx(1 - std::pow(1 - 0.06, 3)).epsilon(1e-5));
    options.outward = 1;
    REQUIRE(signed_volume(thickened(box, options).mesh) == Approx(std::pow(1.06, 3) - 1).epsilon(1e-5));
    options.thickness = 0.6;
    options.outward = 0;
    REQUIRE_FALSE(thickened(box, options).too_tight.empty());
}

TEST_CASE("Struts are one closed frame of even bars", "[edges]") {
    // A flat n x m grid of quads of side s: bars of width b and the same depth. Every face keeps a hole of (s-b)^2.
    const Mesh sheet = make_grid(1, 1, 4, 4);
    StrutOptions options;
    options.thickness = 0.05;
    const StrutResult frame = struts(sheet, options);
    REQUIRE(sound(frame.mesh));
    const Measures m = measure(frame.mesh);
    REQUIRE(m.closed);
    REQUIRE(m.turned_edges == 0);
    REQUIRE(*m.volume == Approx((1 - 16 * 0.2 * 0.2) * 0.05).epsilon(1e-5));
    REQUIRE(m.euler == 2 - 2 * 16);  // sixteen holes through
    // On a closed body: a frame with one hole per face, joined at two shells: genus faces - 1.
    const Mesh box = make_box(DVec3(1), {1, 1, 1});
    options.keep_faces = true;
    const StrutResult cage = struts(box, options);
    const Measures both = measure(cage.mesh);
    REQUIRE(both.closed);
    REQUIRE(both.euler == (2 - 2 * 5) + 2);
    REQUIRE(count_of(cage.panes) == 6);
    REQUIRE(crossing_faces(without_faces(cage.mesh, cage.panes), 10).empty());
    // Round bars: a tube of polygon section per edge, balls at the corners.
    options = {};
    options.round = true;
    options.thickness = 0.1;
    options.sides = 8;
    const Measures tubes = measure(struts(box, options).mesh);
    REQUIRE(tubes.closed);
    REQUIRE(tubes.pieces == 12 + 8);
}

TEST_CASE("Pulled faces make prisms; slabs need their back", "[edges]") {
    ExtrudeOptions options;
    options.distance = 0.25;
    const Mesh sheet = make_grid(2, 1, 4, 2);
    const Mask all(sheet.face_count(), 1);
    const ExtrudeResult open = extruded_faces(sheet, all, options);
    REQUIRE(sound(open.mesh));
    REQUIRE(open.open_slab);
    REQUIRE_FALSE(measure(open.mesh).closed);
    options.back = true;
    options.divisions = 3;
    const ExtrudeResult slab = extruded_faces(sheet, all, options);
    require_closed(slab.mesh);
    REQUIRE_FALSE(slab.open_slab);
    REQUIRE(signed_volume(slab.mesh) == Approx(2 * 1 * 0.25).epsilon(1e-6));
    REQUIRE(count_of(slab.side) == 12 * 3);
    // One by one: every face its own prism, frustums when inset: h/3 (A + a + sqrt(A a)).
    options.together = false;
    options.divisions = 1;
    options.inset = 0.1;
    const ExtrudeResult each = extruded_faces(sheet, all, options);
    const double big = 0.5 * 0.5, small = 0.3 * 0.3;
    REQUIRE(signed_volume(each.mesh) == Approx(8 * 0.25 / 3 * (big + small + std::sqrt(big * small))).epsilon(1e-5));
    // All faces of a closed body pulled together grow it evenly.
    options = {};
    options.distance = 0.1;
    const Mesh box = make_box(DVec3(1), {2, 2, 2});
    REQUIRE(signed_volume(extruded_faces(box, Mask(box.face_count(), 1), options).mesh) ==
            Approx(std::pow(1.2, 3)).epsilon(1e-5));
    // Open edges of a sheet continue it.
    options.distance = 0.5;
    options.in_sheet = true;
    const ExtrudeResult wider = extruded_edges(sheet, Mask(sheet.edge_count(), 1), options);
    REQUIRE(sound(wider.mesh));
    REQUIRE(measure(wider.mesh).area == Approx(3 * 2).epsilon(1e-5));
    REQUIRE(measure(wider.mesh).turned_edges == 0);
}

TEST_CASE("Topology steps keep the Euler characteristic they should", "[edges]") {
    for (const auto& [name, body] : bodies()) {
        INFO(name);
        const std::ptrdiff_t euler = euler_of(body);
        const Mask all(body.face_count(), 1);
        require_closed(inset_faces(body, all, 0.01, false).mesh, euler);
        require_closed(with_triangles(body), euler);
        require_closed(dissolved_flat(body, 1), euler);
        require_closed(smoothed(body, {}), euler);
        REQUIRE(signed_volume(dissolved_flat(body, 1)) == Approx(signed_volume(body)).epsilon(1e-5));
        // One face out: one more border; filled again: as before.
        Mask one(body.face_count(), 0);
        one[0] = 1;
        const Mesh open = without_faces(body, one);
        REQUIRE(euler_of(open) == euler - 1);
        for (const HoleFill fill : {HoleFill::face, HoleFill::fan, HoleFill::triangles}) {
            std::size_t made = 0;
            require_closed(with_holes_filled(open, fill, 0, {}, &made), euler);
            REQUIRE(made == 1);
        }
        // Split off and welded again.
        const Mesh apart = split_off(body, one);
        REQUIRE(measure(apart).border_edges == 2 * body.topology->face(0).size());
        // A wall of a body with a hole is a ball-like solid whose surface is both sides of it.
        ThickenOptions wall;
        wall.thickness = 0.01;
        REQUIRE(euler_of(thickened(open, wall).mesh) == 2 * (euler - 1));
    }
}

TEST_CASE("A bridge joins two holes by a tunnel", "[edges]") {
    const Mesh box = make_box(DVec3(1), {3, 3, 3});
    Mask holes(box.face_count(), 0);
    for (std::size_t f = 0; f < holes.size(); ++f) {
        const DVec3 m = middle_of(box, Domain::face, f);
        holes[f] = std::abs(m.x) < 0.1 && std::abs(m.y) < 0.1;
    }
    REQUIRE(count_of(holes) == 2);
    const Mesh open = without_faces(box, holes);
    for (const int segments : {1, 4}) {
        const BridgeResult tunnel = bridged(open, Mask(open.edge_count(), 1), segments, 0);
        REQUIRE(tunnel.refused.empty());
        require_closed(tunnel.mesh, 0);
        REQUIRE(signed_volume(tunnel.mesh) == Approx(1 - 1.0 / 9).epsilon(1e-5));
        REQUIRE(count_of(tunnel.made) == 4u * static_cast<unsigned>(segments));
    }
    // Borders of different length.
    const Mesh pipe = appended(make_cylinder({0.5, 0.2, 12, 1, CapStyle::none, 1}),
                               transformed(shape_of(make_cylinder({0.3, 0.2, 7, 1, CapStyle::none, 1})),
                                           placement({0, 0, 1}, DVec3(0), DVec3(1), DVec3(0)))
                                   .mesh);
    Mask near(pipe.edge_count(), 0);
    for (std::size_t e = 0; e < near.size(); ++e)
        near[e] = middle_of(pipe, Domain::edge, e).z > 0.05 && middle_of(pipe, Domain::edge, e).z < 0.95;
    const BridgeResult joint = bridged(pipe, near, 1, 0);
    REQUIRE(joint.refused.empty());
    REQUIRE(measure(joint.mesh).euler == 0);
    REQUIRE(measure(joint.mesh).pieces == 1);
    REQUIRE(measure(joint.mesh).turned_edges == 0);
    REQUIRE_FALSE(bridged(box, Mask(box.edge_count(), 1), 1, 0).refused.empty());
}

TEST_CASE("Cut loops run round a ring and keep UVs and shape", "[edges]") {
    const Mesh box = make_box(DVec3(1), {2, 2, 2});
    for (const int cuts : {1, 3}) {
        std::vector<Index> seed{0};
        const CutLoopResult cut = with_cut_loops(box, seed, cuts, 0.3);
        require_closed(cut.mesh);
        REQUIRE(signed_volume(cut.mesh) == Approx(1).epsilon(1e-6));
        REQUIRE(cut.mesh.face_count() == box.face_count() + 8u * static_cast<unsigned>(cuts));
        REQUIRE(count_of(cut.edges) == 8u * static_cast<unsigned>(cuts));
    }
    // Every ring at once is an even split.
    std::vector<Index> every(box.edge_count());
    for (Index e = 0; e < every.size(); ++e) every[e] = e;
    const CutLoopResult grid = with_cut_loops(box, every, 1, 0);
    require_closed(grid.mesh);
    REQUIRE(grid.mesh.face_count() == 4 * box.face_count());
    REQUIRE(edge_ring(box, 0).size() == 8);
    const Mesh ring = make_torus(1, 0.2, 10, 6);
    for (const Index e : {0u, 7u, 19u}) {
        const std::size_t n = edge_loop(ring, e).size();
        REQUIRE((n == 10 || n == 6));
        REQUIRE((edge_ring(ring, e).size() == 10 || edge_ring(ring, e).size() == 6));
    }
}

TEST_CASE("Smoothing keeps the volume when asked", "[edges]") {
    const Mesh ball = make_geodesic_sphere(1, 8);
    SmoothOptions options;
    options.rounds = 20;
    const double before = signed_volume(ball);
    REQUIRE(signed_volume(smoothed(ball, options)) == Approx(before).epsilon(0.02));
    options.keep_volume = false;
    REQUIRE(signed_volume(smoothed(ball, options)) < before * 0.95);
}
