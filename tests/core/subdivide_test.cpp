// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/topologyDescriptor.h>

#include "core/kernels/primitives.h"
#include "core/kernels/subdivide.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Mesh bumpy_grid(int n) {
    Mesh grid = make_grid(n, n, n, n);
    std::mt19937 random(11);
    std::uniform_real_distribution<float> height(-0.5f, 0.5f);
    Array<Vec3> points = *grid.positions;
    for (Vec3& p : points) p.z = height(random);
    grid.positions = std::make_shared<const Array<Vec3>>(points);
    return grid;
}

struct Point {
    Vec3 p;
    void Clear() { p = Vec3(0); }
    void AddWithWeight(const Point& other, float w) { p += other.p * w; }
};

}  // namespace

TEST_CASE("a regular vertex goes to its Catmull-Clark limit", "[subdivide]") {
    // Limit stencil of a valence 4 vertex (Halstead, Kass and DeRose 1993): (16 v + 4 sum of edge neighbours + sum of
    // face neighbours) / 36.
    const Mesh grid = bumpy_grid(4);
    const auto at = [&](int x, int y) { return (*grid.positions)[y * 5 + x]; };
    Vec3 limit = at(2, 2) * 16.0f;
    limit += (at(1, 2) + at(3, 2) + at(2, 1) + at(2, 3)) * 4.0f;
    limit += at(1, 1) + at(3, 1) + at(1, 3) + at(3, 3);
    limit /= 36.0f;
    float last = 0;
    for (const int levels : {1, 2, 3, 4, 5}) {
        forget_subdivisions();
        const Mesh fine = subdivided(grid, {.levels = levels});
        float nearest = 1e9f;
        for (const Vec3& p : *fine.positions)
            if (std::abs(p.x - limit.x) < 1e-4f && std::abs(p.y - limit.y) < 1e-4f)
                nearest = std::min(nearest, std::abs(p.z - limit.z));
        if (levels > 1) CHECK(nearest < last * 0.3f + 1e-6f);
        last = nearest;
    }
    CHECK(last < 2e-3f);
}

TEST_CASE("points agree with OpenSubdiv called bare", "[subdivide][outside]") {
    namespace Far = OpenSubdiv::Far;
    const Mesh box = make_box({1, 1, 1}, {3, 2, 2});
    Far::TopologyDescriptor description;
    std::vector<int> sizes(box.face_count(), 4),
        corners(box.topology->corner_vertex.begin(), box.topology->corner_vertex.end());
    description.numVertices = static_cast<int>(box.vertex_count());
    description.numFaces = static_cast<int>(box.face_count());
    description.numVertsPerFace = sizes.data();
    description.vertIndicesPerFace = corners.data();
    using Factory = Far::TopologyRefinerFactory<Far::TopologyDescriptor>;
    OpenSubdiv::Sdc::Options rules;
    rules.SetVtxBoundaryInterpolation(OpenSubdiv::Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER);
    std::unique_ptr<Far::TopologyRefiner> refiner(
        Factory::Create(description, Factory::Options(OpenSubdiv::Sdc::SCHEME_CATMARK, rules)));
    refiner->RefineUniform(Far::TopologyRefiner::UniformOptions(2));
    std::vector<Point> from(box.vertex_count()), to;
    for (std::size_t i = 0; i < from.size(); ++i) from[i].p = (*box.positions)[i];
    const Far::PrimvarRefiner interpolate(*refiner);
    for (int level = 1; level <= 2; ++level) {
        to.resize(refiner->GetLevel(level).GetNumVertices());
        Point* target = to.data();
        interpolate.Interpolate(level, from.data(), target);
        std::swap(from, to);
    }
    forget_subdivisions();
    const Mesh first = subdivided(box, {.levels = 2});
    const Mesh second = subdivided(box, {.levels = 2});  // by kept stencils
    REQUIRE(sound(first));
    REQUIRE(first.vertex_count() == from.size());
    CHECK(first.topology == second.topology);
    for (std::size_t i = 0; i < from.size(); ++i) {
        CHECK(glm::distance((*first.positions)[i], from[i].p) < 1e-6f);
        CHECK(glm::distance((*second.positions)[i], from[i].p) < 1e-6f);
    }
}

TEST_CASE("subdividing keeps closedness, and creases hold edges", "[subdivide]") {
    const Mesh box = make_box({1, 1, 1}, {1, 1, 1});
    const Measures smooth = measure(subdivided(box, {.levels = 3}));
    CHECK(smooth.closed);
    CHECK(smooth.faces == 6 * 64);
    CHECK(smooth.euler == 2);
    CHECK(*smooth.volume < 0.6);
    const Measures creased = measure(subdivided(box, {.levels = 3, .crease_angle = 40, .crease = 10}));
    CHECK(*creased.volume == Approx(1).epsilon(1e-5));
    const Measures half = measure(subdivided(box, {.levels = 3, .crease_angle = 40, .crease = 2}));
    CHECK(*half.volume > *smooth.volume);
    CHECK(*half.volume < 1);
    CHECK(*measure(subdivided(box, {.scheme = SubdivisionScheme::split_only, .levels = 2})).volume ==
          Approx(1).epsilon(1e-5));
    const Mesh triangles = subdivided(box, {.scheme = SubdivisionScheme::loop, .levels = 2});
    CHECK(triangles.face_count() == 12 * 16);
    CHECK(measure(triangles).closed);
    CHECK(sound(triangles));
}

TEST_CASE("UVs of a subdivided sheet stay in place", "[subdivide]") {
    const Mesh fine = subdivided(make_grid(1, 1, 2, 2), {.levels = 2});
    const auto* uvs = fine.attributes.values<Vec2>(Domain::corner, attribute_name::uv);
    REQUIRE(uvs);
    float low = 1, high = 0;
    for (const Vec2& uv : *uvs) low = std::min({low, uv.x, uv.y}), high = std::max({high, uv.x, uv.y});
    CHECK(low == Approx(0).margin(1e-6));
    CHECK(high == Approx(1).margin(1e-6));
}
