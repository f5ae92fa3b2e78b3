// SPDX-License-Identifier: GPL-3.0-or-later
// Which boxes touch, and which triangles clearly do not meet.
#include <catch2/catch.hpp>
#include <random>

#include "core/kernels/boolean.h"
#include "core/kernels/box_tree.h"
#include "core/kernels/triangles_apart.h"
#include "tests/support/cgal_check.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

std::vector<Box> uneven_boxes(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> place(-3, 3), power(-9, 0);
    std::vector<Box> boxes;
    for (std::size_t i = 0; i < count; ++i) {
        Box box = Box::nothing();
        const DVec3 at{place(random), place(random), place(random) * 0.01};
        box.add(at);
        for (int k = 0; k < 2; ++k)
            box.add(at + DVec3(place(random), place(random), place(random)) * std::exp(power(random)));
        boxes.push_back(i % 50 == 7 ? Box::nothing() : box);
    }
    return boxes;
}

using Corners = std::array<DVec3, 3>;

/// CGAL's exact answer for two triangles with no point in common; with `off` the part of the first that is beyond so
/// much of its corner `shared`.
bool cgal_says_they_meet(const Corners& a, const Corners& b, int shared = -1, double off = 0) {
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    const auto face = [&](std::initializer_list<DVec3> places) {
        for (const DVec3& p : places) corners.push_back(static_cast<Index>(points.size())), points.push_back(Vec3(p));
        offsets.push_back(static_cast<Index>(corners.size()));
    };
    if (shared < 0) {
        face({a[0], a[1], a[2]});
    } else {
        const auto k = static_cast<std::size_t>(shared);
        const DVec3 &tip = a[k], &p = a[(k + 1) % 3], &q = a[(k + 2) % 3];
        face({tip + (p - tip) * off, p, q, tip + (q - tip) * off});
    }
    face({b[0], b[1], b[2]});
    const auto count = static_cast<Index>(points.size());
    return cgal_opinion(Mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners), {})))
        .crosses_itself;
}

bool has_area(const Corners& t) { return glm::length(glm::cross(t[1] - t[0], t[2] - t[0])) > 1e-6; }

/// Places that single precision holds, some of them in one plane or on one line.
DVec3 place(std::mt19937& random, bool coarse) {
    std::uniform_real_distribution<float> fine(-1, 1);
    std::uniform_int_distribution<int> step(-2, 2);
    const auto one = [&] { return coarse ? static_cast<float>(step(random)) / 2 : fine(random); };
    const float x = one(), y = one(), z = one();
    return {x, y, z};
}

Corners some_triangle(std::mt19937& random, bool coarse, const DVec3& off = DVec3(0)) {
    Corners out;
    for (DVec3& p : out) p = place(random, coarse) + off;
    return out;
}

}  // namespace

TEST_CASE("boxes that touch are found, each two once, large and small ones together", "[near][boolean]") {
    for (const std::size_t count :
         {std::size_t(0), std::size_t(1), std::size_t(5), std::size_t(700), std::size_t(3001)}) {
        const std::vector<Box> boxes = uneven_boxes(count, static_cast<unsigned>(count));
        const BoxTree tree(boxes);
        const auto found = tree.pairs([](std::size_t, std::size_t) { return true; });
        CHECK(std::is_sorted(found.begin(), found.end()));
        CHECK(std::adjacent_find(found.begin(), found.end()) == found.end());
        std::size_t missed = 0, touching = 0, far = 0;
        for (Index i = 0; i < boxes.size(); ++i)
            for (Index j = i + 1; j < boxes.size(); ++j)
                if (boxes[i].touches(boxes[j])) {
                    ++touching;
                    missed += !std::binary_search(found.begin(), found.end(), BoxTree::Pair{i, j});
                }
        for (const auto& [i, j] : found) {
            Box wider = boxes[i];
            wider.low -= DVec3(1e-6), wider.high += DVec3(1e-6);
            far += !wider.touches(boxes[j]);
        }
        CHECK(missed == 0);
        CHECK(far == 0);
        CHECK((count < 700 || touching > count));
        // Places are those of order(): what is asked is what is told.
        const auto odd =
            tree.pairs([&](std::size_t a, std::size_t b) { return (tree.order()[a] + tree.order()[b]) % 2 == 1; });
        std::vector<BoxTree::Pair> wanted;
        for (const auto& pair : found)
            if ((pair[0] + pair[1]) % 2 == 1) wanted.push_back(pair);
        CHECK(odd == wanted);
        const auto few = tree.pairs([](std::size_t, std::size_t) { return true; }, 10);
        CHECK(few.size() == std::min<std::size_t>(10, found.size()));
        CHECK(std::includes(found.begin(), found.end(), few.begin(), few.end()));
    }
}

TEST_CASE("triangles said to be apart are, by CGAL's exact predicates, and most that are apart are said to be",
          "[near][boolean][outside]") {
    std::mt19937 random(11);
    std::size_t apart = 0, wrong = 0, unsaid = 0;
    for (int i = 0; i < 3000; ++i) {
        const bool coarse = i % 3 == 0;
        const Corners a = some_triangle(random, coarse), b = some_triangle(random, coarse, {0.5, 0, 0});
        if (!has_area(a) || !has_area(b)) continue;  // CGAL counts those as crossing themselves
        const bool said = clearly_apart(a, b);
        const bool meet = cgal_says_they_meet(a, b);
        wrong += said && meet;
        apart += !meet;
        unsaid += !said && !meet;
    }
    CHECK(wrong == 0);
    CHECK(apart > 1000);
    CHECK(unsaid * 5 < apart);
}

TEST_CASE("triangles with a corner in common are apart but for it", "[near][boolean][outside]") {
    std::mt19937 random(12);
    std::size_t said = 0, wrong = 0, meeting = 0;
    for (int i = 0; i < 3000; ++i) {
        const bool coarse = i % 3 == 0;
        const Corners a = some_triangle(random, coarse);
        Corners b = some_triangle(random, coarse);
        const int of_a = i % 3, of_b = i / 3 % 3;
        b[static_cast<std::size_t>(of_b)] = a[static_cast<std::size_t>(of_a)];
        if (!has_area(a) || !has_area(b)) continue;
        const bool apart = clearly_apart(a, b, of_a, of_b);
        const bool meet = cgal_says_they_meet(a, b, of_a, 1e-3);
        said += apart;
        meeting += meet;
        wrong += apart && meet;
    }
    CHECK(wrong == 0);
    CHECK(said > 1000);
    CHECK(meeting > 200);
}

TEST_CASE("crossing faces are told up to a number, the same ones on every run", "[near][boolean]") {
    // A hundred sheets through a hundred others: every two cross.
    Array<Vec3> points;
    Array<Index> offsets{0}, corners;
    for (int side = 0; side < 2; ++side)
        for (int i = 0; i < 100; ++i) {
            const float at = static_cast<float>(i) * 0.01f;
            for (const auto& [u, v] : {std::pair{-2.f, -2.f}, {2.f, -2.f}, {2.f, 2.f}, {-2.f, 2.f}}) {
                corners.push_back(static_cast<Index>(points.size()));
                points.push_back(side == 0 ? Vec3(at, u, v) : Vec3(u, at, v));
            }
            offsets.push_back(static_cast<Index>(corners.size()));
        }
    const auto count = static_cast<Index>(points.size());
    const Mesh mesh(std::move(points), make_topology(count, std::move(offsets), std::move(corners), {}));
    const auto all = crossing_faces(mesh, 100000);
    CHECK(all.size() == 10000);
    const auto few = crossing_faces(mesh, 7);
    CHECK(few.size() == 7);
    for (int run = 0; run < 5; ++run) CHECK(crossing_faces(mesh, 7) == few);
    CHECK(std::includes(all.begin(), all.end(), few.begin(), few.end()));
}
