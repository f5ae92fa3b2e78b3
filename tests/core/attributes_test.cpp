// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <set>

#include "core/kernels/mirror.h"
#include "core/kernels/primitives.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/weld.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A box with one attribute of every kind, each value telling where it belongs.
Mesh labelled_box() {
    Mesh mesh = make_box({1, 1, 1}, {2, 2, 2});
    Array<float> heights(mesh.vertex_count());
    for (std::size_t v = 0; v < heights.size(); ++v) heights[v] = (*mesh.positions)[v].z;
    mesh.attributes.set(Domain::vertex, "height", heights);
    Array<std::int32_t> numbers(mesh.face_count());
    for (std::size_t f = 0; f < numbers.size(); ++f) numbers[f] = static_cast<std::int32_t>(f);
    mesh.attributes.set(Domain::face, "number", numbers);
    Array<std::uint8_t> upright(mesh.edge_count());
    for (std::size_t e = 0; e < upright.size(); ++e) {
        const auto [a, b] = mesh.topology->edges[e];
        upright[e] = std::abs((*mesh.positions)[a].z - (*mesh.positions)[b].z) > 0.1f;
    }
    mesh.attributes.set(Domain::edge, "upright", upright);
    Array<Vec3> places(mesh.topology->corner_count());
    for (std::size_t c = 0; c < places.size(); ++c) places[c] = (*mesh.positions)[mesh.topology->corner_vertex[c]];
    mesh.attributes.set(Domain::corner, "place", places);
    return mesh;
}

/// The labels still tell the truth.
void check_labels(const Mesh& mesh, bool edges = true) {
    REQUIRE(sound(mesh));
    const auto* heights = mesh.attributes.values<float>(Domain::vertex, "height");
    const auto* places = mesh.attributes.values<Vec3>(Domain::corner, "place");
    const auto* upright = mesh.attributes.values<std::uint8_t>(Domain::edge, "upright");
    REQUIRE((heights && places && upright));
    for (std::size_t v = 0; v < heights->size(); ++v)
        CHECK((*heights)[v] == Approx((*mesh.positions)[v].z).margin(1e-5));
    for (std::size_t c = 0; c < places->size(); ++c)
        CHECK(glm::distance((*places)[c], (*mesh.positions)[mesh.topology->corner_vertex[c]]) < 1e-4f);
    if (!edges) return;
    for (std::size_t e = 0; e < upright->size(); ++e) {
        const auto [a, b] = mesh.topology->edges[e];
        CHECK(((*upright)[e] != 0) == (std::abs((*mesh.positions)[a].z - (*mesh.positions)[b].z) > 0.1f));
    }
}

}  // namespace

TEST_CASE("attributes follow joining, welding, clipping and flipping", "[attributes]") {
    const Mesh box = labelled_box();
    check_labels(box);
    Shape beside = shape_of(box);
    Array<Vec3> moved = *box.positions;
    for (Vec3& p : moved) p.x += 1;
    beside.mesh.positions = std::make_shared<const Array<Vec3>>(moved);
    Array<Vec3> places = *box.attributes.values<Vec3>(Domain::corner, "place");
    for (Vec3& p : places) p.x += 1;
    beside.mesh.attributes.set(Domain::corner, "place", places);
    const Mesh both = appended(box, beside.mesh);
    check_labels(both);
    const WeldResult welded = weld(both, 1e-4);
    CHECK(welded.welded == 9);
    check_labels(welded.mesh);
    check_labels(flipped(box));
    // Clipping between the rows makes new vertices: their values lie between.
    check_labels(clipped(box, 2, 0.1, true), false);
    check_labels(clipped(box, 0, -0.2, false), false);
    const Mesh top = clipped(box, 2, 0.1, true);
    for (const std::int32_t n : *top.attributes.values<std::int32_t>(Domain::face, "number")) CHECK((n >= 0 && n < 24));
}

TEST_CASE("what one side lacks is zero after joining", "[attributes]") {
    Mesh with = make_grid(1, 1, 1, 1), without = make_grid(1, 1, 2, 2);
    with.attributes.set(Domain::vertex, "weight", Array<float>(4, 0.5f));
    for (const bool first : {true, false}) {
        const Mesh both = first ? appended(with, without) : appended(without, with);
        const auto* weights = both.attributes.values<float>(Domain::vertex, "weight");
        REQUIRE(weights);
        REQUIRE(weights->size() == 13);
        CHECK(std::count(weights->begin(), weights->end(), 0.5f) == 4);
        CHECK((*weights)[first ? 0 : 12] == 0.5f);
    }
}

TEST_CASE("columns are shared until somebody writes", "[attributes]") {
    const Mesh box = labelled_box();
    Mesh copy = box;
    CHECK(copy.attributes.find(Domain::vertex, "height")->values ==
          box.attributes.find(Domain::vertex, "height")->values);
    copy.attributes.set(Domain::vertex, "height", Array<float>(copy.vertex_count(), 7.0f));
    CHECK((*box.attributes.values<float>(Domain::vertex, "height"))[0] != 7.0f);
    copy.attributes.remove(Domain::vertex, "height");
    CHECK_FALSE(copy.attributes.find(Domain::vertex, "height"));
    CHECK(box.attributes.find(Domain::vertex, "height"));
    CHECK(copy.positions == box.positions);
    // The wrong type is as good as nothing.
    CHECK_FALSE(box.attributes.values<Vec2>(Domain::vertex, "height"));
    CHECK_FALSE(box.attributes.values<float>(Domain::face, "height"));
}

TEST_CASE("neighbours agree with a search through everything", "[topology][generated]") {
    std::mt19937 random(9);
    for (int round = 0; round < 10; ++round) {
        // Random triangles over few points: shared, repeated and non-manifold edges all occur.
        Array<Index> offsets{0}, corners;
        const Index points = 6 + round;
        for (int f = 0; f < 15 + 3 * round; ++f) {
            Index a = random() % points, b = random() % points, c = random() % points;
            if (a == b || b == c || a == c) continue;
            corners.insert(corners.end(), {a, b, c});
            offsets.push_back(static_cast<Index>(corners.size()));
        }
        const std::vector<std::array<Index, 2>> loose = {{0, 1}, {2, 5}};
        const auto topology = make_topology(points, offsets, corners, loose);
        std::set<std::pair<Index, Index>> expected{{0, 1}, {2, 5}};
        for (std::size_t f = 0; f + 1 < offsets.size(); ++f)
            for (int k = 0; k < 3; ++k) {
                const Index a = corners[offsets[f] + k], b = corners[offsets[f] + (k + 1) % 3];
                expected.insert({std::min(a, b), std::max(a, b)});
            }
        CHECK(topology->edge_count() == expected.size());
        const Adjacency& near = topology->adjacency();
        for (Index e = 0; e < topology->edge_count(); ++e) {
            const auto [a, b] = topology->edges[e];
            std::size_t faces = 0;
            for (std::size_t f = 0; f < topology->face_count(); ++f) {
                const auto face = topology->face(f);
                for (int k = 0; k < 3; ++k)
                    faces += std::set<Index>{face[k], face[(k + 1) % 3]} == std::set<Index>{a, b};
            }
            CHECK(near.faces_of_edge(e).size() == faces);
            for (const Index v : {a, b}) CHECK(std::ranges::count(near.edges_of_vertex(v), e) == 1);
        }
        const auto again = make_topology(points, offsets, corners, loose);
        CHECK(again->content_hash() == topology->content_hash());
        CHECK(make_topology(points + 1, offsets, corners, loose)->content_hash() != topology->content_hash());
        CHECK(make_topology(points, offsets, corners)->has_loose_edges() == false);
    }
}

TEST_CASE("measures tell what is wrong with a mesh", "[measure]") {
    const Mesh box = make_box({1, 1, 1}, {1, 1, 1});
    FaceList faces = faces_of(box);
    // One face turned round: its four edges run the same way as their neighbours'.
    std::reverse(faces.corners.begin(), faces.corners.begin() + 4);
    const Mesh turned = rebuilt(box, *box.positions, {}, std::move(faces));
    CHECK(measure(turned).turned_edges == 4);
    CHECK(measure(turned).closed);
    FaceList fewer = faces_of(box);
    fewer.corners.resize(20);
    fewer.corner_source.resize(20);
    fewer.offsets.pop_back();
    fewer.face_source.pop_back();
    const Measures open = measure(rebuilt(box, *box.positions, {}, std::move(fewer)));
    CHECK(open.border_edges == 4);
    CHECK_FALSE(open.volume);
    FaceList extra = faces_of(box);
    extra.add(std::vector<Index>{0, 1, 2});
    CHECK(measure(rebuilt(box, *box.positions, {}, std::move(extra))).non_manifold_edges >= 2);
    // Far from the origin little of the digits is left; the volume must not notice.
    const Shape far = transformed(shape_of(box), placement({1000, 2000, 500}, DVec3(0), DVec3(1), DVec3(0)));
    CHECK(*measured(far).volume == Approx(1).epsilon(1e-3));
}
