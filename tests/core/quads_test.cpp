// SPDX-License-Identifier: GPL-3.0-or-later
// Quads that follow the form: fields against the theorem of Poincaré and Hopf, faces against published measures.
#include <numbers>
#include <tbb/global_control.h>

#include "core/kernels/boolean.h"
#include "core/kernels/measure.h"
#include "core/kernels/primitives.h"
#include "core/kernels/quad_cells.h"
#include "core/kernels/quads.h"
#include "core/kernels/remesh.h"
#include "core/kernels/surface_finder.h"
#include "tests/support/build.h"
#include "tests/support/tried.h"
#include "tests/support/whole.h"

namespace bricol::test {

namespace {

struct Shapes {
    std::vector<double> jacobian;  // of the quads, ascending
    std::size_t triangles = 0;
    double mean() const {
        double sum = 0;
        for (const double j : jacobian) sum += j;
        return sum / static_cast<double>(jacobian.size());
    }
};
Shapes shapes_of(const Mesh& mesh) {
    Shapes out;
    const Array<Vec3>& p = *mesh.positions;
    for (std::size_t f = 0; f < mesh.face_count(); ++f) {
        const auto c = mesh.topology->face(f);
        if (c.size() == 4)
            out.jacobian.push_back(scaled_jacobian(DVec3(p[c[0]]), DVec3(p[c[1]]), DVec3(p[c[2]]), DVec3(p[c[3]])));
        else
            ++out.triangles;
    }
    std::ranges::sort(out.jacobian);
    return out;
}

bool closed_and_even(const Mesh& mesh) {
    const Ties& ties = mesh.topology->ties();
    return ties.border_edges == 0 && ties.non_manifold_edges == 0 && ties.turned_edges == 0;
}

Mesh moved_by(const Mesh& mesh, const Vec3& by) {
    Mesh out = mesh;
    Array<Vec3> points = *mesh.positions;
    for (Vec3& p : points) p += by;
    out.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    return out;
}

/// A surface of two holes: two tori run into one another.
Mesh double_torus() {
    const Mesh one = make_torus(1, 0.3, 64, 32);
    const std::array<Mesh, 1> other{moved_by(one, {2.1, 0, 0})};
    return boolean_of(one, other, BooleanKind::unite).mesh;
}

/// Quarter turns of a cross field all over a smooth closed shape.
int turns_over(const Mesh& mesh, double faces) {
    std::vector<Index> point_of;
    RemeshTriangles soup = remesh_soup(mesh, triangulated(mesh), point_of);
    RemeshOptions options;
    const double cell = std::sqrt(remesh_extent(mesh).area / faces);
    options.edge = cell / quad_fineness;
    options.hold_angle = 180;
    EvenTriangles even;
    const SurfaceFinder surface(mesh);
    REQUIRE(remesh_evenly(even, soup, options, surface));
    const QuadMaps maps = quad_maps(even);
    const std::vector<double> turn = quad_directions(even, maps, quad_curving(even, maps), cell);
    int sum = 0;
    std::size_t singular = 0;
    for (Index f = 0; f < even.from.size() / 3; ++f) {
        if (even.gone(3 * f)) continue;
        const int index = quad_index(even, maps, turn, f);
        sum += index;
        singular += index != 0;
    }
    // A field that settles well has few of them.
    CHECK(singular < 40);
    return sum;
}

/// How far a straight line from a to b lies from the nearest edges of the mesh, at 50 places along it.
double off_edges(const Mesh& mesh, const DVec3& a, const DVec3& b) {
    double worst = 0;
    const Array<Vec3>& p = *mesh.positions;
    for (int i = 0; i <= 50; ++i) {
        const DVec3 at = glm::mix(a, b, i / 50.0);
        double nearest = 1e30;
        for (const auto& [v, w] : mesh.topology->edges) {
            const DVec3 from(p[v]), way = DVec3(p[w]) - from;
            const double share = std::clamp(glm::dot(at - from, way) / glm::dot(way, way), 0.0, 1.0);
            nearest = std::min(nearest, glm::distance(at, from + share * way));
        }
        worst = std::max(worst, nearest);
    }
    return worst;
}

Json quads_to(int count, Json more = Json::object()) {
    more["faces"] = "quads", more["to"] = "count", more["count"] = count;
    return step("q", "remesh", std::move(more));
}

}  // namespace

TEST_CASE("scaled Jacobian: a rectangle has 1, a rhombus the sine of its angle, a bow tie less than nothing",
          "[quads][outside]") {
    // P. Knupp, "Algebraic mesh quality metrics", SIAM J. Sci. Comput. 23 (2001): for a parallelogram the determinant
    // of its two unit sides, which is the sine between them.
    CHECK(scaled_jacobian({0, 0, 0}, {3, 0, 0}, {3, 1, 0}, {0, 1, 0}) == Approx(1));
    for (const double degrees : {30.0, 60.0, 80.0}) {
        const double a = degrees * std::numbers::pi / 180;
        const DVec3 side(std::cos(a), std::sin(a), 0);
        CHECK(scaled_jacobian({0, 0, 0}, {1, 0, 0}, DVec3(1, 0, 0) + side, side) == Approx(std::sin(a)));
    }
    CHECK(scaled_jacobian({0, 0, 0}, {1, 0, 0}, {0.2, 0.1, 0}, {0, 1, 0}) < 0);
    CHECK(scaled_jacobian({0, 0, 0}, {0, 0, 0}, {0, 0, 0}, {0, 0, 0}) == -1);
}

TEST_CASE("direction fields: quarter turns add up to four times the Euler characteristic", "[quads][outside]") {
    // Poincaré and Hopf: the indices of a field's singular places sum to the surface's characteristic; a cross counts
    // in quarters.
    CHECK(turns_over(make_sphere(1, 48, 32), 600) == 8);
    CHECK(turns_over(make_torus(1, 0.4, 64, 32), 800) == 0);
    const Mesh two = double_torus();
    REQUIRE(measure(two).euler == -2);
    CHECK(turns_over(two, 1200) == -8);
}

TEST_CASE("remesh to quads: nearly all quads, well shaped, closed as before, about as many as asked for",
          "[quads][wide]") {
    struct Case {
        const char* name;
        Mesh mesh;
        double faces;
    };
    const std::vector<Case> cases{{"ball", make_sphere(1, 96, 64), 800},
                                  {"ball, many", make_sphere(1, 96, 64), 4000},
                                  {"ring", make_torus(1, 0.4, 96, 48), 1500},
                                  {"two holes", double_torus(), 2000},
                                  {"cylinder", make_cylinder({0.5, 1, 64, 1}), 900},
                                  {"box", make_box({1, 2, 0.5}, {1, 1, 1}), 700}};
    for (const Case& c : cases) {
        INFO(c.name);
        QuadOptions options;
        options.faces = c.faces;
        const QuadResult made = quad_remeshed(c.mesh, options);
        REQUIRE_FALSE(made.refused);
        CHECK(closed_and_even(made.mesh));
        CHECK(measure(made.mesh).euler == measure(c.mesh).euler);
        CHECK(measure(made.mesh).pieces == measure(c.mesh).pieces);
        CHECK(static_cast<double>(made.quads) >= 0.95 * static_cast<double>(made.quads + made.triangles));
        CHECK(static_cast<double>(made.quads + made.triangles) == Approx(c.faces).epsilon(0.06));
        CHECK(*measure(made.mesh).volume == Approx(*measure(c.mesh).volume).epsilon(0.02));
        const Shapes shapes = shapes_of(made.mesh);
        CHECK(shapes.triangles == made.triangles);
        CHECK(shapes.jacobian.size() == made.quads);
        CHECK(shapes.mean() > 0.94);
        CHECK(shapes.jacobian.front() > 0);
    }
}

TEST_CASE("remesh to quads: a box of whole faces comes out as nothing but squares", "[quads]") {
    const Tried t = tried({step("b", "box", {{"size", {1, 1, 1}}}), quads_to(600)});
    const Mesh& mesh = t.mesh("q");
    CHECK(mesh.face_count() == 600);
    const Shapes shapes = shapes_of(mesh);
    CHECK(shapes.triangles == 0);
    CHECK(shapes.jacobian.front() > 0.999);
    CHECK(measure(mesh).area == Approx(6).epsilon(1e-6));
    // Eight corners of three faces, everything else of four.
    std::array<std::size_t, 8> faces{};
    for (Index v = 0; v < mesh.vertex_count(); ++v)
        ++faces[std::min<std::size_t>(mesh.topology->adjacency().edges_of_vertex(v).size(), 7)];
    CHECK(faces[3] == 8);
    CHECK(faces[4] == mesh.vertex_count() - 8);
    CHECK_FALSE(t.finding("q", "edge-not-held"));
    CHECK_FALSE(t.finding("q", "some-triangles"));
}

TEST_CASE("remesh to quads: edges run along and across a cylinder, and round and through a ring", "[quads]") {
    // The lines of curvature of a cylinder are its generators and circles, those of a torus its two sets of circles
    // (any textbook of differential geometry).
    const auto off_axes = [](const Mesh& mesh, auto direction) {
        std::vector<double> off;
        for (const auto& [a, b] : mesh.topology->edges) {
            const DVec3 p((*mesh.positions)[a]), q((*mesh.positions)[b]), way = glm::normalize(q - p);
            const auto along = direction((p + q) * 0.5);
            if (!along) continue;
            const double cosine = std::min(1.0, std::abs(glm::dot(way, *along)));
            off.push_back(std::min(std::acos(cosine), std::asin(cosine)) * 180 / std::numbers::pi);
        }
        REQUIRE(off.size() > 500);
        // Half of the edges are nearer than this; rows that end bend those round them aside.
        std::ranges::sort(off);
        return off[off.size() / 2];
    };
    QuadOptions options;
    options.faces = 1500;
    const Mesh cylinder = quad_remeshed(make_cylinder({0.5, 2, 64, 1}), options).mesh;
    CHECK(off_axes(cylinder, [](const DVec3& at) -> std::optional<DVec3> {
              if (std::hypot(at.x, at.y) < 0.48) return std::nullopt;  // the caps
              return DVec3(0, 0, 1);
          }) < 1);
    options.faces = 4000;
    const Mesh ring = quad_remeshed(make_torus(1, 0.4, 96, 48), options).mesh;
    CHECK(off_axes(ring,
                   [](const DVec3& at) -> std::optional<DVec3> { return glm::normalize(DVec3(-at.y, at.x, 0)); }) < 4);
}

TEST_CASE("remesh to quads: borders, ridges and chosen edges stay where they are", "[quads]") {
    // A sheet keeps its outline.
    const Tried sheet = tried({step("g", "grid", {{"width", 2}, {"depth", 1}}), quads_to(300)});
    CHECK(measure(sheet.mesh("q")).area == Approx(2).epsilon(1e-6));
    CHECK(measure(sheet.mesh("q")).euler == 1);
    // A line across it, aslant and flat: only chosen edges hold it.
    const Mesh two(Array<Vec3>{{0, 0, 0}, {1, 0, 0}, {2, 0, 0}, {2, 1, 0}, {0.6f, 1, 0}, {0, 1, 0}},
                   make_topology(6, {0, 4, 8}, {0, 1, 4, 5, 1, 2, 3, 4}));
    Index middle = no_index;
    for (Index e = 0; e < two.edge_count(); ++e)
        if (two.topology->edges[e] == std::array<Index, 2>{1, 4} ||
            two.topology->edges[e] == std::array<Index, 2>{4, 1})
            middle = e;
    REQUIRE(middle != no_index);
    QuadOptions options;
    options.faces = 200;
    const DVec3 from(1, 0, 0), to((*two.positions)[4]);
    CHECK(off_edges(quad_remeshed(two, options).mesh, from, to) > 0.01);
    options.held_edges = std::span(&middle, 1);
    const QuadResult held = quad_remeshed(two, options);
    CHECK(off_edges(held.mesh, from, to) < 1e-6);
    CHECK(held.worst_edge < 1e-6);
    // The same by a set, in the step.
    const Tried set = tried({step("b", "box", {{"size", {1, 1, 1}}, {"along_x", 3}}),
                             step("c", "choose", {{"what", "edges"}, {"rule", "all"}, {"set", "seams"}}),
                             quads_to(500, {{"hold", "seams"}, {"hold_sharp", false}})});
    REQUIRE(set.clean("q"));
    const Mesh& seams = set.mesh("q");
    const double third = measure(seams).box->low.x + measure(seams).box->size().x / 3;
    CHECK(off_edges(seams, {third, -0.5, measure(seams).box->low.z}, {third, 0.5, measure(seams).box->low.z}) < 1e-6);
}

TEST_CASE("remesh to quads: a bend too tight for the faces is told, and more faces cure it", "[quads]") {
    const auto drilled = [](int count) {
        return tried({step("b", "box", {{"size", {2, 2, 0.4}}}),
                      step("c", "cylinder", {{"radius", 0.12}, {"height", 2}, {"segments", 48}, {"origin", "centre"}}),
                      step("d", "boolean", {{"kind", "difference"}, {"in", {{"shape", "b"}, {"with", "c"}}}}),
                      quads_to(count)});
    };
    const Tried coarse = drilled(250);
    const Finding* told = coarse.finding("q", "edge-not-held");
    REQUIRE(told);
    REQUIRE(told->places.size() == 1);
    CHECK(std::hypot(told->places[0].x, told->places[0].y) == Approx(0.12).margin(1e-3));
    CHECK(measure(coarse.mesh("q")).euler == 0);
    CHECK(closed_and_even(coarse.mesh("q")));
    CHECK_FALSE(drilled(4000).finding("q", "edge-not-held"));
}

TEST_CASE("remesh to quads: sizes follow curvature or an attribute", "[quads][released]") {
    const auto side = [](const Mesh& mesh, auto where) {
        double area = 0;
        std::size_t seen = 0;
        for (std::size_t f = 0; f < mesh.face_count(); ++f) {
            DVec3 middle(0), sum(0);
            const auto loop = mesh.topology->face(f);
            for (const Index v : loop) middle += DVec3((*mesh.positions)[v]) / static_cast<double>(loop.size());
            if (!where(middle)) continue;
            for (std::size_t k = 0; k < loop.size(); ++k)
                sum += glm::cross(DVec3((*mesh.positions)[loop[k]]) - middle,
                                  DVec3((*mesh.positions)[loop[(k + 1) % loop.size()]]) - middle);
            area += glm::length(sum) / 2;
            ++seen;
        }
        REQUIRE(seen > 20);
        return std::sqrt(area / static_cast<double>(seen));
    };
    const Tried bent = tried({step("b", "rounded_box", {{"size", {2, 2, 2}}, {"radius", 0.3}, {"segments", 12}}),
                              quads_to(3000, {{"sizes", "curvature"}, {"range", 3}})});
    REQUIRE(bent.clean("q"));
    const double mid = measure(bent.mesh("q")).box->low.z + 1;
    const auto flat = [&](const DVec3& p) {
        return std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z - mid)}) > 0.99 &&
               std::min({std::max(std::abs(p.x), std::abs(p.y)), std::max(std::abs(p.y), std::abs(p.z - mid)),
                         std::max(std::abs(p.x), std::abs(p.z - mid))}) < 0.4;
    };
    const auto edge = [&](const DVec3& p) { return std::min(std::abs(p.x), std::abs(p.y)) > 0.85; };
    CHECK(side(bent.mesh("q"), flat) > 1.5 * side(bent.mesh("q"), edge));
    // Twice as wide at one end of a sheet as at the other.
    const Tried wide =
        tried({step("g", "grid", {{"width", 4}, {"depth", 1}, {"across", 32}, {"deep", 8}}),
               step("f", "formula", {{"rows", Json::array({{{"target", "wide"}, {"formula", "x > 0 ? 2 : 1"}}})}}),
               quads_to(1500, {{"sizes", "attribute"}, {"size", "wide"}})});
    INFO((wide.step("f").findings.empty() ? "" : wide.step("f").findings[0].text));
    REQUIRE(wide.clean("q"));
    const double box_low = measure(wide.mesh("g")).box->low.x;
    const double wider = side(wide.mesh("q"), [&](const DVec3&p) { return p.x > box_low + 3.2; }),
                 narrow = side(wide.mesh("q"), [&](const DVec3&p) { return p.x < box_low + 0.8; });
    CHECK(wider / narrow == Approx(2).epsilon(0.15));
    // Numbers that cannot be a width are told, and above 0 they are not.
    CHECK_FALSE(wide.finding("q", "sizes-below-zero"));
    const Tried half =
        tried({step("g", "grid"),
               step("f", "formula", {{"rows", Json::array({{{"target", "wide"}, {"formula", "x > 0 ? 2 : 0"}}})}}),
               quads_to(100, {{"sizes", "attribute"}, {"size", "wide"}})});
    CHECK(half.finding("q", "sizes-below-zero"));
    // An attribute that says nothing is told.
    CHECK(tried({step("g", "grid"), quads_to(100, {{"sizes", "attribute"}})}).finding("q", "no-attribute"));
}

TEST_CASE("remesh to quads: by curvature, faces are small along lines that bend", "[quads]") {
    // A flat sheet with a round hole: nothing but its borders is bent, the inner one.
    const auto sheet = [](Json more) {
        return tried({step("g", "grid", {{"width", 2}, {"depth", 2}}),
                      step("c", "cylinder", {{"radius", 0.15}, {"height", 2}, {"segments", 96}, {"origin", "centre"}}),
                      step("d", "boolean", {{"kind", "difference"}, {"in", {{"shape", "g"}, {"with", "c"}}}}),
                      quads_to(600, std::move(more))});
    };
    const auto side = [](const Mesh& mesh, auto where) {
        double sum = 0, count = 0;
        for (const auto& [a, b] : mesh.topology->edges) {
            const DVec3 p((*mesh.positions)[a]), q((*mesh.positions)[b]);
            if (where(p) && where(q)) sum += glm::distance(p, q), ++count;
        }
        REQUIRE(count > 8);
        return sum / count;
    };
    const auto hole = [](const DVec3& p) { return std::abs(std::hypot(p.x, p.y) - 0.15) < 3e-3; };
    const auto outside = [](const DVec3& p) { return std::max(std::abs(p.x), std::abs(p.y)) > 1 - 1e-4; };
    const Tried even = sheet(Json::object()), bent = sheet({{"sizes", "curvature"}, {"range", 3}});
    REQUIRE(measure(bent.mesh("q")).euler == 0);
    CHECK(side(even.mesh("q"), hole) / side(even.mesh("q"), outside) == Approx(1).epsilon(0.15));
    // Faces of 8 cm turn by more than half their length on 15 cm: as small as they get, a third. Whole cells go round.
    CHECK(side(bent.mesh("q"), hole) / side(bent.mesh("q"), outside) == Approx(1.0 / 3).epsilon(0.35));
}

TEST_CASE("remesh to quads: the glass float at a twentieth of its faces", "[quads][demo][released]") {
    Recipe recipe = demo_recipe("float");
    const Made made = tried(recipe).made;
    const StepOutcome* light = made.step(recipe, "glass", "light");
    REQUIRE(light);
    const Mesh& mesh = light->shape->mesh;
    CHECK(closed_and_even(mesh));
    CHECK(measure(mesh).euler == 2);
    CHECK(measure(mesh).pieces == 1);
    const StepOutcome* fused = made.step(recipe, "glass", "one");
    REQUIRE(fused);
    CHECK(static_cast<double>(mesh.face_count()) ==
          Approx(0.05 * static_cast<double>(fused->shape->mesh.face_count())).epsilon(0.06));
    const Shapes shapes = shapes_of(mesh);
    CHECK(static_cast<double>(shapes.jacobian.size()) >= 0.95 * static_cast<double>(mesh.face_count()));
    CHECK(shapes.mean() > 0.93);
    CHECK(crossing_faces(mesh, 1).empty());
    // Blown glass is hollow: a second skin inside, as closed, that nowhere comes through the first.
    const PartOutcome* glass = made.part(recipe, "glass");
    REQUIRE(glass);
    CHECK(glass->measures.closed);
    CHECK(glass->measures.pieces == 2);
    CHECK(crossing_faces(glass->shape->mesh, 1).empty());
    const double body = made.part(recipe, "body")->measures.volume.value();
    CHECK(glass->measures.volume.value() ==
          Approx(*measured(*light->shape).volume - std::pow(0.92, 3) * body).epsilon(1e-4));
}

TEST_CASE("remesh tells how far it is and never falls back, whatever its faces and sizes", "[quads]") {
    for (const char* faces : {"triangles", "quads"})
        for (const char* sizes : {"even", "curvature"}) {
            INFO(faces << " " << sizes);
            std::vector<double> told;
            MakeOptions options;
            options.progress = [&](const MakeProgress& at) {
                if (at.step == "q" && at.of_step >= 0) told.push_back(at.of_step);
            };
            const Recipe recipe =
                recipe_of({step("t", "torus"),
                           step("q", "remesh", {{"faces", faces}, {"to", "count"}, {"count", 400}, {"sizes", sizes}})});
            tried(recipe, options);
            CHECK(told.size() > 1);
            CHECK(std::ranges::is_sorted(told));
            CHECK(told.back() > 0.5);
            CHECK(told.back() <= 1);
        }
}

TEST_CASE("remesh to quads: the same bytes on one thread and on many", "[quads]") {
    const Mesh mesh = make_torus(1, 0.4, 96, 48);
    QuadOptions options;
    options.faces = 1200;
    Shape one, many;
    {
        const tbb::global_control alone(tbb::global_control::max_allowed_parallelism, 1);
        one.mesh = quad_remeshed(mesh, options).mesh;
    }
    many.mesh = quad_remeshed(mesh, options).mesh;
    CHECK(Whole::of(one) == Whole::of(many));
}

TEST_CASE("remesh to quads: what cannot be done is said", "[quads]") {
    // Three sheets on one edge.
    const Mesh book(
        Array<Vec3>{{0, 0, 0}, {0, 1, 0}, {1, 0, 0}, {1, 1, 0}, {-1, 0, 0}, {-1, 1, 0}, {0, 0, 1}, {0, 1, 1}},
        make_topology(8, {0, 4, 8, 12}, {0, 2, 3, 1, 0, 1, 5, 4, 0, 1, 7, 6}));
    CHECK(quad_remeshed(book, {}).refused);
    // One face asked for, of a box: it stays closed, however coarse.
    const Tried few = tried({step("b", "box"), quads_to(4)});
    CHECK(measure(few.mesh("q")).closed);
    // Fields finer than memory allows are refused before they are made.
    const Tried many = tried(
        {step("b", "box", {{"size", {1000, 1000, 1000}}}), step("q", "remesh", {{"faces", "quads"}, {"edge", 0.01}})});
    CHECK(std::ranges::any_of(many.step("q").findings, [](const Finding& f) { return f.severity == Severity::error; }));
    // Numbers on points and materials of faces come along.
    const Tried painted = tried({step("b", "sphere"), step("m", "material", {{"kit", "brass"}}), quads_to(300)});
    CHECK(painted.mesh("q").materials);
    CHECK(column<std::int32_t>(painted.mesh("q"), Domain::face, attribute_name::material).size() ==
          painted.mesh("q").face_count());
}

}  // namespace bricol::test
