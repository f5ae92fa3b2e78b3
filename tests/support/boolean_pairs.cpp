// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/boolean_pairs.h"

#include <cmath>

#include "core/kernels/primitives.h"
#include "core/kernels/rebuild.h"
#include "core/kernels/solids.h"
#include "core/kernels/transform.h"
#include "tests/support/shapes.h"

namespace bricol::test {

namespace {

double any(Chance& chance) { return std::uniform_real_distribution<double>(-1, 1)(chance); }
int whole(Chance& chance, int low, int high) { return std::uniform_int_distribution<int>(low, high)(chance); }
/// A multiple of a quarter from -1 to 1.
double grid(Chance& chance) { return whole(chance, -4, 4) / 4.0; }
DVec3 anywhere(Chance& chance) {
    const double x = any(chance), y = any(chance), z = any(chance);
    return {x, y, z};
}
DVec3 on_grid(Chance& chance) {
    const double x = grid(chance), y = grid(chance), z = grid(chance);
    return {x, y, z};
}
Mesh block(const DVec3& size) { return make_box(size, {1, 1, 1}); }
Mesh drum(double radius, int sides) { return make_cylinder({radius, 1, sides, 1, CapStyle::face, 1}); }

SolidPair general(Chance& chance) {
    const Mesh a = lump(chance), b = lump(chance);
    return {a, placed(b, anywhere(chance) * 0.7)};
}

SolidPair boxes_on_a_lattice(Chance& chance) {
    const auto one = [&] {
        const DVec3 size = glm::abs(on_grid(chance)) + 0.25;
        return placed(block(size), on_grid(chance));
    };
    const Mesh a = one();
    return {a, one()};
}

SolidPair drums_in_one_plane(Chance& chance) {
    const Mesh a = drum(0.5, whole(chance, 3, 40));
    const double turn = whole(chance, 0, 2) ? any(chance) * 180 : 0;
    const Mesh b = drum(0.25 + 0.25 * std::abs(grid(chance)), whole(chance, 3, 40));
    return {a, placed(b, {grid(chance), grid(chance), 0}, {0, 0, turn})};
}

/// A block with another that shares a point, an edge or a face of it, or a part of one.
SolidPair touching_blocks(Chance& chance) {
    DVec3 at(0);
    const int shared = whole(chance, 1, 3);  // axes along which they only touch
    for (int k = 0; k < 3; ++k) at[k] = k < shared ? (whole(chance, 0, 1) ? 1 : -1) : 0.5 * grid(chance);
    for (int k = 2; k > 0; --k) std::swap(at[k], at[whole(chance, 0, k)]);
    const DVec3 turn(0, 0, whole(chance, 0, 3) * 90);
    return {block(DVec3(1)), placed(placed(block(DVec3(1)), DVec3(0), turn), at)};
}

SolidPair alike(Chance& chance) {
    const Mesh one = lump(chance);
    return {one, one};
}

SolidPair turned_by_next_to_nothing(Chance& chance) {
    const Mesh one = whole(chance, 0, 1) ? lump(chance) : drum(0.5, whole(chance, 3, 60));
    return {one, placed(one, DVec3(0), {0, 0, std::pow(10, -9 * std::abs(any(chance))) * 57})};
}

SolidPair nested(Chance& chance) {
    const Mesh outer = lump(chance), inner = lump(chance);
    return {outer, placed(inner, anywhere(chance) * 0.1, anywhere(chance) * 90.0, DVec3(0.3))};
}

SolidPair tangent(Chance& chance) {
    const Mesh ball = make_geodesic_sphere(0.5, whole(chance, 2, 6));
    // From within or without, or somewhere between, on the axes: points and faces meet.
    return {placed(ball, DVec3(0), DVec3(0), DVec3(2)), placed(ball, {0, 0, grid(chance) * 1.5})};
}

/// Loose boxes side by side, which may touch or overlap.
Mesh lattice(Chance& chance) {
    std::vector<Mesh> boxes;
    const double size = whole(chance, 0, 1) ? 0.25 : 0.3;
    for (int x = 0; x < 3; ++x)
        for (int y = 0; y < 3; ++y)
            if (whole(chance, 0, 3) > 0) boxes.push_back(placed(block(DVec3(size)), DVec3(x, y, 0) * 0.25));
    if (boxes.empty()) boxes.push_back(block(DVec3(size)));
    return joined_meshes(boxes);
}
SolidPair lattices(Chance& chance) {
    const Mesh a = lattice(chance), b = lattice(chance);
    return {a, placed(b, {0.25 * whole(chance, 0, 2), 0.125 * whole(chance, 0, 4), 0.125 * whole(chance, -1, 1)})};
}

/// Needles and fans: a double cone of thin triangles with its tip anywhere near the axis.
Mesh fan(Chance& chance) {
    Mesh cone = make_cone(0.5, 0, 1, whole(chance, 20, 60), 1);
    Array<Vec3> points = *cone.positions;
    const float flat = std::pow(10.0f, static_cast<float>(-2 * std::abs(any(chance))));
    for (Vec3& p : points) p.y *= flat;
    return {std::move(points), cone.topology};
}
SolidPair slivers(Chance& chance) {
    const Mesh a = fan(chance), b = fan(chance);
    return {a, placed(b, anywhere(chance) * 0.3, anywhere(chance) * 180.0)};
}

}  // namespace

Mesh lump(Chance& chance) {
    const Mesh ball = make_geodesic_sphere(1, 3);
    std::uniform_real_distribution<float> radius(0.6f, 1.0f);
    Array<Vec3> points = *ball.positions;
    for (Vec3& p : points) p *= radius(chance);
    return {std::move(points), ball.topology};
}

const std::vector<PairFamily>& pair_families() {
    static const std::vector<PairFamily> families = {{"general", general},
                                                     {"boxes on a lattice", boxes_on_a_lattice},
                                                     {"drums in one plane", drums_in_one_plane},
                                                     {"touching blocks", touching_blocks},
                                                     {"alike", alike},
                                                     {"turned by next to nothing", turned_by_next_to_nothing},
                                                     {"nested", nested},
                                                     {"tangent", tangent},
                                                     {"lattices of loose boxes", lattices},
                                                     {"slivers", slivers}};
    return families;
}

}  // namespace bricol::test
