// SPDX-License-Identifier: GPL-3.0-or-later
// Sets and sharpness through refining, welding between copies, cuts through points, closed shapes kept closed.
#include <numeric>

#include "core/kernels/choose.h"
#include "core/kernels/cut_loops.h"
#include "core/kernels/even_triangles.h"
#include "core/kernels/measure.h"
#include "core/kernels/mirror.h"
#include "core/kernels/primitives.h"
#include "core/kernels/remesh.h"
#include "core/kernels/simplify.h"
#include "core/kernels/subdivide.h"
#include "core/kernels/triangulate.h"
#include "core/kernels/weld.h"
#include "tests/support/tried.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Measures measures_of(const Mesh& mesh) {
    Shape shape;
    shape.mesh = mesh;
    return measured(shape);
}

Json edges_where(const char* formula) { return Json::array({{{"target", "_t"}, {"formula", formula}}}); }

}  // namespace

TEST_CASE("rounds of subdivision after one another are rounds in one go, sharpness too", "[subdivide]") {
    for (const char* scheme : {"quads", "split_only"})
        for (const double sharpness : {0.5, 2.0, 2.5, 10.0}) {
            const auto made = [&](int first, int second) {
                return tried(
                    {step("b", "box", {{"size", {1, 2, 3}}, {"along_x", 2}}),
                     step("e", "choose",
                          {{"set", "top"}, {"what", "edges"}, {"rule", "formula"}, {"rows", edges_where("z > 2.99")}}),
                     step("v", "choose",
                          {{"set", "tip"},
                           {"what", "vertices"},
                           {"rule", "formula"},
                           {"rows", edges_where("x > 0.4 && y > 0.9 && z > 2.9")}}),
                     step("w", "edge_weight", {{"what", "crease"}, {"sharpness", sharpness}, {"only", "top"}}),
                     step("s", "subdivide", {{"scheme", scheme}, {"levels", first}, {"export_levels", first}}),
                     step("t", "subdivide", {{"scheme", scheme}, {"levels", second}, {"export_levels", second}})});
            };
            const Tried once = made(3, 0), parted = made(1, 2), late = made(2, 1);
            for (const Tried* other : {&parted, &late}) {
                const Mesh &a = once.mesh("t"), &b = other->mesh("t");
                CAPTURE(scheme, sharpness);
                REQUIRE(a.vertex_count() == b.vertex_count());
                double worst = 0;  // points are numbered level by level, so each is looked for
                for (const Vec3& p : *a.positions) {
                    double nearest = 1e300;
                    for (const Vec3& q : *b.positions) nearest = std::min(nearest, glm::distance(DVec3(p), DVec3(q)));
                    worst = std::max(worst, nearest);
                }
                CHECK(worst < 1e-5);
                CHECK(count_of(*set_members(a, Domain::edge, "top")) == count_of(*set_members(b, Domain::edge, "top")));
                CHECK(count_of(*set_members(b, Domain::vertex, "tip")) == 1);
            }
        }
}

TEST_CASE("pieces of split edges stay in their sets, new vertices in none", "[cut_loop][slice]") {
    const Json rows = edges_where("abs(x) < 0.1 && y > 0.1");
    const auto grid = [&](Json last) {
        return tried({step("g", "grid", {{"width", 8}, {"depth", 8}, {"across", 8}, {"deep", 8}}),
                      step("e", "choose", {{"set", "line"}, {"what", "edges"}, {"rule", "formula"}, {"rows", rows}}),
                      step("v", "choose", {{"set", "dots"}, {"what", "vertices"}, {"rule", "formula"}, {"rows", rows}}),
                      std::move(last)});
    };
    // One cut across the ring of the line's first edge: that edge falls into two.
    const Tried cut = grid(step("c", "cut_loop", {{"places", {{{"edge", {0, 0.5, 0}}}}}}));
    CHECK(count_of(*set_members(cut.mesh("e"), Domain::edge, "line")) == 4);
    CHECK(count_of(*set_members(cut.mesh("c"), Domain::edge, "line")) == 5);
    CHECK(count_of(*set_members(cut.mesh("c"), Domain::vertex, "dots")) == 4);
    // A plane across the line at y = 2.5 splits one of its edges and keeps two and a half of four.
    const Tried sliced = grid(step("c", "slice", {{"across", "y"}, {"at", 2.5}, {"keep", "below"}, {"cap", false}}));
    CHECK(count_of(*set_members(sliced.mesh("c"), Domain::edge, "line")) == 3);
    CHECK(count_of(*set_members(sliced.mesh("c"), Domain::vertex, "dots")) == 2);
}

TEST_CASE("cuts slide to the same side of every ring, or hold both ends", "[cut_loop]") {
    // A ring of a rectangle's section: its four rings of edges along z or outwards.
    const auto made = [](Json settings) {
        return tried({step("sec", "rectangle", {{"width", 0.02}, {"height", 0.06}, {"across", 0.5}}),
                      step("turn", "lathe", {{"segments", 24}}),
                      step("c", "choose",
                           {{"set", "up"},
                            {"what", "edges"},
                            {"rule", "formula"},
                            {"rows", edges_where("abs(z) < 0.001 && sqrt(x * x + y * y) > 0.505")}}),
                      step("cut", "cut_loop", std::move(settings))});
    };
    // Whichever edge of a ring is picked, and whichever way the mesh has it, the cut lies 0.8 of the way from the
    // middle to the end along the axis that the sign names.
    for (int axis = 0; axis < 3; ++axis)
        for (const double slide : {0.8, -0.8})
            for (const auto& [u, v] : {std::pair{0.5, 0.5}, {0.5, -0.5}, {-0.5, 0.5}, {-0.5, -0.5}}) {
                DVec3 at(0);
                at[(axis + 1) % 3] = u, at[(axis + 2) % 3] = v;
                const Tried one =
                    tried({step("b", "box", {{"size", {1, 1, 1}}, {"origin", "centre"}}),
                           step("cut", "cut_loop", {{"places", {{{"edge", {at.x, at.y, at.z}}}}}, {"slide", slide}})});
                REQUIRE(one.mesh("cut").vertex_count() == 12);
                for (std::size_t w = 8; w < 12; ++w)
                    CHECK((*one.mesh("cut").positions)[w][axis] == Approx(0.5 * slide));
            }
    const Tried both =
        tried({step("b", "box", {{"size", {1, 1, 1}}, {"origin", "centre"}}),
               step("cut", "cut_loop", {{"places", {{{"edge", {0.5, 0.5, 0}}}}}, {"where", "ends"}, {"tight", 0.9}})});
    REQUIRE(both.mesh("cut").vertex_count() == 16);
    for (std::size_t v = 8; v < 16; ++v) CHECK(std::abs((*both.mesh("cut").positions)[v].z) == Approx(0.45));
    CHECK(made({{"only", "up"}, {"slide", 0.5}}).clean("cut"));
}

TEST_CASE("open edges are pulled along normals or on from their sheet", "[extrude]") {
    const auto pulled = [](Json settings) {
        settings["what"] = "edges";
        return tried({step("g", "grid", {{"width", 2}, {"depth", 2}, {"across", 2}, {"deep", 2}}),
                      step("f", "choose", {{"set", "pane"}, {"what", "faces"}, {"rule", "all"}}),
                      step("x", "extrude", std::move(settings)),
                      step("y", "extrude", {{"what", "edges"}, {"only", "lip"}, {"along", "z"}, {"distance", 1}})});
    };
    const Tried up = pulled({{"distance", 0.5}, {"front_set", "lip"}, {"side_set", "wall"}});
    for (std::size_t v = 9; v < up.mesh("x").vertex_count(); ++v) CHECK((*up.mesh("x").positions)[v].z == Approx(0.5));
    CHECK(count_of(*set_members(up.mesh("x"), Domain::edge, "lip")) == 8);
    CHECK(count_of(*set_members(up.mesh("x"), Domain::face, "pane")) == 4);  // the walls are not panes
    CHECK(count_of(*set_members(up.mesh("x"), Domain::face, "wall")) == 8);
    CHECK(up.mesh("y").face_count() == 4 + 8 + 8);  // the pulled edges are pulled on
    const Tried flat = pulled({{"distance", 0.5}, {"along", "sheet"}, {"front_set", "lip"}});
    CHECK(measures_of(flat.mesh("x")).area == Approx(9));  // a square of 3 by 3
    const Tried faces = tried({step("b", "box"), step("x", "extrude", {{"along", "sheet"}})});
    CHECK(faces.finding("x", "no-sheet"));
}

TEST_CASE("welding between pieces never joins two points of one", "[weld]") {
    // Two rows of five points 1 apart, 0.3 from one another, welded within 1.2: five pairs and nothing else.
    Array<Vec3> points;
    Array<Index> piece;
    for (int row = 0; row < 2; ++row)
        for (int i = 0; i < 5; ++i)
            points.emplace_back(i, 0.3f * static_cast<float>(row), 0), piece.push_back(static_cast<Index>(row));
    Mesh rows(points, make_topology(10, {}, {}, std::vector<std::array<Index, 2>>{{0, 1}, {1, 2}, {5, 6}}));
    const WeldResult welded = weld_between(rows, 1.2, piece);
    CHECK(welded.welded == 5);
    CHECK(welded.mesh.vertex_count() == 5);
    for (int i = 0; i < 5; ++i) CHECK((*welded.mesh.positions)[static_cast<std::size_t>(i)] == Vec3(i, 0.15f, 0));
    // Three copies in a chain: a point has one partner at most in each.
    const Tried chain = tried({step("b", "box", {{"size", {1, 1, 1}}}), step("a", "array",
                                                                             {{"count", 4},
                                                                              {"offset", {1, 0, 0}},
                                                                              {"result", "real"},
                                                                              {"weld", true},
                                                                              {"distance", 0.4},
                                                                              {"drop_inner", true}})});
    CHECK(chain.mesh("a").vertex_count() == 20);
    CHECK(measures_of(chain.mesh("a")).closed);
    CHECK(*measures_of(chain.mesh("a")).volume == Approx(4));
    // A strip bent to a ring: only its ends meet, however near its other points are.
    const Tried ring = tried(
        {step("b", "box", {{"size", {0.1, 1, 0.02}}, {"along_y", 64}}),
         step("r", "bend", {{"axis", "y"}, {"toward", "z"}, {"angle", 360}, {"weld", true}, {"distance", 0.025}})});
    CHECK(measures_of(ring.mesh("r")).closed);
    CHECK(ring.mesh("r").vertex_count() == 64 * 4);
}

TEST_CASE("triangles survive thousands of random splits, turns and joins", "[remesh]") {
    EvenTriangles t;
    std::vector<DVec3> points;
    std::vector<std::array<Index, 3>> triangles;
    const Mesh torus = make_torus(1, 0.4, 16, 12);
    const Triangles cut = triangulated(torus);
    for (const Vec3& p : *torus.positions) points.emplace_back(p);
    for (std::size_t i = 0; i < cut.count(); ++i)
        triangles.push_back({torus.topology->corner_vertex[cut.corners[3 * i]],
                             torus.topology->corner_vertex[cut.corners[3 * i + 1]],
                             torus.topology->corner_vertex[cut.corners[3 * i + 2]]});
    REQUIRE(t.build(points, triangles));
    std::mt19937 random(5);
    std::vector<Index> touched;
    std::size_t joined = 0, turned = 0, dropped = 0;
    for (int k = 0; k < 6000; ++k) {
        const auto h = static_cast<Index>(random() % t.from.size());
        if (t.gone(h)) continue;
        if (k % 500 == 499) {
            // What is left stays as it was and in its order: the same triangles, round the same points.
            const RemeshTriangles before = remesh_soup(t);
            const std::size_t alive = t.alive(), slots = t.from.size() / 3;
            t.drop_gone();
            REQUIRE(remesh_soup(t).triangles == before.triangles);
            REQUIRE(t.alive() == alive);
            REQUIRE(t.from.size() / 3 == (4 * (slots - alive) < slots ? slots : alive));
            dropped += slots - t.from.size() / 3;
            continue;
        }
        switch (random() % 4) {
            case 0:
                t.split(h);
                break;
            case 1:
                if (t.can_turn(h)) t.turn(h), ++turned;
                break;
            default:
                if (t.can_join(h, 1e9)) t.join(h, touched), ++joined;
        }
    }
    CHECK(joined > 500);
    CHECK(turned > 200);
    CHECK(dropped > 200);
    // Every edge has two half-edges running opposite ways, and the Euler characteristic is still a torus's.
    std::set<Index> vertices;
    std::size_t sides = 0;
    for (Index h = 0; h < t.from.size(); ++h) {
        if (t.gone(h)) continue;
        ++sides;
        vertices.insert(t.from[h]);
        REQUIRE(t.twin[h] != no_index);
        REQUIRE(t.twin[t.twin[h]] == h);
        REQUIRE(t.from[t.twin[h]] == t.to(h));
    }
    CHECK(static_cast<long>(vertices.size()) - static_cast<long>(sides / 2) + static_cast<long>(sides / 3) == 0);
}

TEST_CASE("remeshing ends on thin, long and flat shapes, by a length that fits them", "[remesh]") {
    const Tried tube = tried({step("t", "tube", {{"height", 45}}), step("r", "remesh")});
    REQUIRE(tube.finding("r", "fitted-length"));
    CHECK(measures_of(tube.mesh("r")).closed);
    CHECK(measures_of(tube.mesh("r")).euler == 0);
    CHECK(measures_of(tube.mesh("r")).area == Approx(measures_of(tube.mesh("t")).area).epsilon(0.06));
    const Tried plank = tried({step("b", "box", {{"size", {0.2, 4, 0.05}}}), step("r", "remesh", {{"edge", 0.01}})});
    CHECK(*measures_of(plank.mesh("r")).volume == Approx(0.04).epsilon(1e-4));
    const Tried flat =
        tried({step("d", "disc"), step("f", "formula", {{"rows", Json::array({{{"target", "y"}, {"formula", "0"}}})}}),
               step("r", "remesh")});
    CHECK(flat.finding("r", "no-area"));
    // Squares, not needles: no triangle of an evenly remeshed plank is thinner than a fifth of its longest side.
    const Mesh& m = plank.mesh("r");
    std::size_t thin = 0;
    for (std::size_t f = 0; f < m.face_count(); ++f) {
        const auto face = m.topology->face(f);
        const DVec3 a((*m.positions)[face[0]]), b((*m.positions)[face[1]]), c((*m.positions)[face[2]]);
        const double longest = std::max({glm::distance(a, b), glm::distance(b, c), glm::distance(c, a)});
        thin += glm::length(glm::cross(b - a, c - a)) / longest < 0.2 * longest;
    }
    CHECK(static_cast<double>(thin) < 0.01 * static_cast<double>(m.face_count()));
}

TEST_CASE("simplified closed shapes stay closed at every share", "[simplify]") {
    const Mesh ball =
        tried({step("s", "geodesic_sphere", {{"origin", "centre"}, {"radius", 1}, {"frequency", 12}})}).mesh("s");
    const Mesh torus = make_torus(1, 0.3, 48, 24);
    for (const Mesh* mesh : {&ball, &torus}) {
        const double euler = static_cast<double>(measures_of(*mesh).euler);
        double before = 1e300;
        for (const std::size_t wanted : {1500U, 600U, 200U, 60U, 20U}) {
            SimplifyOptions options;
            options.triangles = wanted;
            options.error = 1;
            const Mesh fewer = simplified(*mesh, options);
            const Measures m = measures_of(fewer);
            CAPTURE(wanted, m.faces);
            CHECK(m.closed);
            CHECK(static_cast<double>(m.euler) == euler);
            CHECK(static_cast<double>(m.faces) < before);
            before = static_cast<double>(m.faces);
        }
    }
}

TEST_CASE("simplified evenly: triangles stay alike where the form would let them grow", "[simplify]") {
    // A plate that bulges in the middle: by form the flat part loses nearly everything.
    const Tried plate =
        tried({step("g", "grid", {{"width", 2}, {"depth", 2}, {"across", 48}, {"deep", 48}}),
               step("f", "formula",
                    {{"rows", Json::array({{{"target", "z"}, {"formula", "0.3 * exp(-20 * (x*x + y*y))"}}})}}),
               step("t", "thicken", {{"thickness", 0.1}})});
    REQUIRE(plate.clean("t"));
    const auto spread = [&](bool even) {
        SimplifyOptions options;
        options.triangles = 1200;
        options.error = 0.05;
        options.even = even;
        const Mesh fewer = simplified(plate.mesh("t"), options);
        CHECK(measures_of(fewer).closed);
        CHECK(measures_of(fewer).euler == 2);
        CHECK(fewer.face_count() <= 1200);
        std::vector<double> areas;
        for (std::size_t f = 0; f < fewer.face_count(); ++f) {
            const auto c = fewer.topology->face(f);
            const Array<Vec3>& p = *fewer.positions;
            areas.push_back(glm::length(glm::cross(DVec3(p[c[1]] - p[c[0]]), DVec3(p[c[2]] - p[c[0]]))) / 2);
        }
        std::ranges::sort(areas);
        return areas[areas.size() * 95 / 100] / areas[areas.size() * 5 / 100];
    };
    CHECK(spread(true) < 0.25 * spread(false));
    CHECK(spread(true) < 20);
    // Where it cannot be kept it is told.
    const Json points = {{0, 0, 0}, {0, 1, 0}, {1, 0, 0}, {-1, 0, 0}, {0, 0, 1}};
    const Tried book =
        tried({step("b", "points_and_faces", {{"points", points}, {"faces", {{0, 2, 1}, {0, 1, 3}, {0, 1, 4}}}}),
               step("s", "simplify", {{"even", true}})});
    CHECK(book.mesh("b").topology->ties().non_manifold_edges == 1);
    CHECK(book.finding("s", "not-even"));
}

TEST_CASE("a plane through vertices cuts through them", "[slice]") {
    // A sphere of 32 slices cut through its poles: half of its faces, and 1 + 15 rows x 17 + 1 points.
    const Mesh ball = tried({step("s", "sphere", {{"slices", 32}, {"rings", 16}, {"origin", "centre"}})}).mesh("s");
    for (const double hair : {0.0, 1e-8, -1e-8}) {
        const Mesh half = clipped_by_plane(ball, DVec3(0, 1, 0), hair);
        CHECK(half.face_count() == 256);
        CHECK(half.vertex_count() == 2 + 15 * 17);
    }
    // The lid of a box lies in the plane: it belongs to what is taken away.
    const Mesh box = tried({step("b", "box", {{"size", {1, 1, 1}}})}).mesh("b");
    CHECK(clipped_by_plane(box, DVec3(0, 0, 1), 1).face_count() == 0);
    CHECK(clipped_by_plane(box, DVec3(0, 0, -1), -1).face_count() == 6);
}

TEST_CASE("a picked element stays picked while its mesh keeps its faces, wherever it goes", "[choose]") {
    // One vertex of a ball, picked; then the ball is turned, sized unevenly and roughened above the pick.
    const Mesh ball = tried({step("s", "sphere")}).mesh("s");
    const Place place = Pinner(ball).pinned(Domain::vertex, 77);
    const Json written{
        {"vertex", {place.at.x, place.at.y, place.at.z}}, {"number", *place.number}, {"of", place.topology}};
    const auto picked = [&](Json one) {
        const Tried made =
            tried({step("s", "sphere"), step("t", "transform", {{"turn", {20, 130, 77}}, {"size", {1, 3, 0.4}}}),
                   step("r", "roughen", {{"height", 0.2}, {"size", 0.1}}),
                   step("c", "choose",
                        {{"set", "one"},
                         {"what", "vertices"},
                         {"rule", "places"},
                         {"places", Json::array({std::move(one)})}})});
        std::vector<std::size_t> found;
        const auto members = set_members(made.mesh("c"), Domain::vertex, "one");
        for (std::size_t v = 0; members && v < members->size(); ++v)
            if ((*members)[v]) found.push_back(v);
        return found;
    };
    CHECK(picked(written) == std::vector<std::size_t>{77});
    Json bare = written;
    bare.erase("number");
    CHECK(picked(bare) != std::vector<std::size_t>{77});  // its place alone is not enough here
    Json other = written;
    other["of"] = place.topology ^ 1;  // a number of some other mesh is no use
    CHECK(picked(other) == picked(bare));
}
