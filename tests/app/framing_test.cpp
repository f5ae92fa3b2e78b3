// SPDX-License-Identifier: GPL-3.0-or-later
// What the view shows of a recipe that is opened.
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json part(const char* name, std::initializer_list<Json> steps) {
    return {{"name", name}, {"steps", Json(std::vector<Json>(steps))}};
}
Json crate(const char* name, double x) {
    return part(name, {Json{{"id", "b"}, {"step", "box"}, {"size", {0.5, 0.5, 0.5}}},
                       Json{{"id", "t"}, {"step", "transform"}, {"move", {x, 0, 0}}}});
}
const Json eye = part("eye", {Json{{"id", "c"}, {"step", "camera"}, {"at", {0, -4, 2}}, {"aim", {0.5, 0, 0.3}}}});
const Json skerry = part("skerry", {Json{{"id", "r"}, {"step", "box"}, {"size", {30, 30, 10}}},
                                    Json{{"id", "t"}, {"step", "transform"}, {"move", {0, 300, 0}}}});

Json recipe(std::initializer_list<Json> parts) { return {{"bricol", 1}, {"parts", Json(std::vector<Json>(parts))}}; }

}  // namespace

TEST_CASE("a recipe is framed whole, but not for a ground's sake", "[view]") {
    Room room;
    room.open_recipe(recipe({crate("one", 0), crate("two", 1)}));
    const Camera without = room.window.viewport().camera();
    CHECK(glm::distance(without.target, DVec3(0.5, 0, 0.25)) < 0.05);
    const Json sea = part("sea", {Json{{"id", "g"}, {"step", "grid"}, {"width", 400}, {"depth", 400}}});
    room.open_recipe(recipe({crate("one", 0), sea, crate("two", 1)}));
    const Camera with = room.window.viewport().camera();
    CHECK(glm::distance(with.target, without.target) < 1e-6);
    CHECK(with.distance == Approx(without.distance));
}

TEST_CASE("a scene whose parts would be specks is seen from where its first camera stands", "[view]") {
    Room room;
    room.open_recipe(recipe({crate("one", 0), crate("two", 1), skerry}));
    CHECK(room.window.viewport().camera().distance > 100);
    room.open_recipe(recipe({crate("one", 0), crate("two", 1), skerry, eye}));
    const Camera seen = room.window.viewport().camera();
    CHECK_FALSE(room.window.viewport().through());
    CHECK(glm::distance(seen.target, DVec3(0.5, 0, 0.3)) < 1e-6);
    const DVec3 from(-0.5, -4, 1.7);
    CHECK(glm::dot(seen.direction(), from / glm::length(from)) > 1 - 1e-9);
    CHECK(seen.distance > 0.5 * glm::length(from));
    CHECK(seen.distance < 8 * glm::length(from));
    // Everything is framed when it is asked for.
    room.window.viewport().frame_all();
    CHECK(room.window.viewport().camera().distance > 100);
    // Parts that can be seen are framed, camera or not.
    room.open_recipe(recipe({crate("one", 0), crate("two", 1), eye}));
    CHECK(glm::distance(room.window.viewport().camera().target, DVec3(0.5, 0, 0.25)) < 0.05);
}
