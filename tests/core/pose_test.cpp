// SPDX-License-Identifier: GPL-3.0-or-later
// Joints turned: against rigid motions in closed form, a worked example of glTF's skins, and what files carry.
#include <fstream>
#include <cstring>
#include <nlohmann/json.hpp>
#include <numbers>

#include "core/files/export.h"
#include "core/kernels/pose.h"
#include "tests/support/folder.h"
#include "tests/support/node.h"
#include "tests/support/tried.h"

namespace bricol::test {

namespace {

const Json arm = step("s", "sticks",
                      {{"knots",
                        {{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.1}, {"name", "shoulder"}, {"root", true}},
                         {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}, {"girth", 0.1}, {"name", "elbow"}},
                         {{"id", 3}, {"from", 2}, {"at", {0, 0, 2}}, {"girth", 0.1}}}}});
const Json flesh_on = step("f", "flesh", {{"rounds", 2}, {"blend", 0}});

Vec3 tip(const Mesh& mesh) {
    Vec3 best(0);
    float far = -1;
    for (const Vec3& p : *mesh.positions)
        if (glm::length(p) > far) far = glm::length(p), best = p;
    return best;
}

}  // namespace

TEST_CASE("pose: a joint turns what hangs on it rigidly, and nothing else", "[pose]") {
    const Tried t = tried({arm, flesh_on, step("p", "pose", {{"joints", "elbow"}, {"turn", {90, 0, 0}}})});
    REQUIRE(t.clean("p"));
    const Mesh &before = t.mesh("f"), &after = t.mesh("p");
    for (std::size_t v = 0; v < before.vertex_count(); ++v) {
        const Vec3 p = (*before.positions)[v], q = (*after.positions)[v];
        if (p.z < 0.6f) CHECK(glm::distance(p, q) < 1e-6f);
        // A quarter turn about x through the elbow: y and z - 1 change places.
        if (p.z > 1.4f) CHECK(glm::distance(q, Vec3(p.x, -(p.z - 1), 1 + p.y)) < 1e-5f);
    }
    CHECK(after.skeleton->joints[1].at == DVec3(0, 0, 1));
    CHECK(glm::distance(after.skeleton->joints[1].along, DVec3(0, -1, 0)) < 1e-9);
}

TEST_CASE("pose: several joints are turned each about itself", "[pose]") {
    const Tried t = tried({arm, flesh_on, step("p", "pose", {{"joints", "shoulder, 2"}, {"turn", {45, 0, 0}}})});
    REQUIRE(t.clean("p"));
    // The tip, 1.1 above the elbow, goes to where two links of length 1 and 1.1 at 45 and 90 degrees end.
    const double c = std::cos(std::numbers::pi / 4);
    const Vec3 end = tip(t.mesh("p"));
    CHECK(end.y == Approx(-c - 1.1).margin(0.01));
    CHECK(end.z == Approx(c).margin(0.1));
    CHECK(tried({arm, flesh_on, step("p", "pose", {{"joints", "elbow"}, {"turn", {0, 0, 90}}, {"about", "room"}})})
              .clean("p"));
}

TEST_CASE("pose: joint moves put transforms together as glTF does", "[pose][outside]") {
    // Khronos glTF 2.0, section 3.5.3: a node's global transform is its parent's times its own. A chain of two along x,
    // each turned by 90 degrees about z: the second joint goes to (0, 1), a point at (2, 0) to (-1, 1).
    Skeleton chain;
    chain.joints.resize(2);
    chain.joints[1].at = DVec3(1, 0, 0);
    chain.joints[1].parent = 0;
    const glm::dmat3 quarter = room_turn({0, 0, 90});
    const std::vector<JointTurn> turns{{0, quarter}, {1, quarter}};
    const auto moves = joint_moves(chain, turns);
    CHECK(glm::distance(DVec3(moves[1] * glm::dvec4(1, 0, 0, 1)), DVec3(0, 1, 0)) < 1e-12);
    CHECK(glm::distance(DVec3(moves[1] * glm::dvec4(2, 0, 0, 1)), DVec3(-1, 1, 0)) < 1e-12);
}

TEST_CASE("pose: the other side is turned as a mirror shows it", "[pose]") {
    const Json figure = step("s", "sticks",
                             {{"mirror", "x"},
                              {"knots",
                               {{{"id", 1}, {"at", {0, 0, 0}}, {"girth", 0.2}, {"root", true}},
                                {{"id", 2}, {"from", 1}, {"at", {0.5, 0, 0.2}}, {"girth", 0.1}, {"name", "arm"}},
                                {{"id", 3}, {"from", 2}, {"at", {1, 0.1, 0.1}}, {"girth", 0.1}}}}});
    const Tried t =
        tried({figure, flesh_on, step("p", "pose", {{"joints", "arm"}, {"turn", {20, 30, 10}}, {"other", "x"}})});
    REQUIRE(t.clean("p"));
    const Box box = *t.part().measures.box;
    CHECK(box.high.x == Approx(-box.low.x).margin(2e-3));
    CHECK(box.high.z > t.step("f").shape->mesh.positions->front().z);
    const auto& joints = t.mesh("p").skeleton->joints;
    const auto other = joint_called(*t.mesh("p").skeleton, "other arm");
    REQUIRE(other);
    const auto own = joint_called(*t.mesh("p").skeleton, "ARM");
    REQUIRE(own);
    CHECK(glm::distance(joints[*other].at, DVec3(-1, 1, 1) * joints[*own].at) < 1e-9);
    CHECK(glm::distance(joints[*other].along, DVec3(-1, 1, 1) * joints[*own].along) < 1e-9);
}

TEST_CASE("pose: joints that are gone are named with the nearest", "[pose][findings]") {
    const Tried t = tried({arm, flesh_on, step("p", "pose", {{"joints", "elbwo"}, {"turn", {10, 0, 0}}})});
    REQUIRE(t.finding("p", "no-joint"));
    CHECK(t.finding("p", "no-joint")->text.find("“elbow”") != std::string::npos);
    CHECK(tried({arm, flesh_on, step("p", "pose")}).finding("p", "no-joint-chosen"));
    CHECK(tried({step("b", "box"), step("p", "pose", {{"joints", "elbow"}})}).finding("p", "no-joints"));
    CHECK(tried({arm, step("f", "flesh", {{"joints", false}}), step("p", "pose", {{"joints", "elbow"}})})
              .finding("p", "no-joints"));
}

TEST_CASE("pose: joints go along when the body is moved, and through later steps", "[pose]") {
    const Tried t = tried({arm, flesh_on, step("t", "transform", {{"move", {5, 0, 0}}, {"turn", {0, 90, 0}}}),
                           step("d", "subdivide"), step("p", "pose", {{"joints", "elbow"}, {"turn", {90, 0, 0}}})});
    REQUIRE(t.clean("p"));
    const auto& joints = t.mesh("p").skeleton->joints;
    CHECK(glm::distance(joints[1].at, DVec3(6, 0, 0)) < 1e-6);
    CHECK(measure(t.mesh("p")).box->size().y > 1);
}

TEST_CASE("pose: a skin in glTF that the Khronos validator passes, and that poses as we do",
          "[pose][export][outside]") {
    const Tried t = tried({arm, flesh_on});
    const Folder folder;
    const std::string file = folder / "arm.glb";
    REQUIRE_FALSE(export_shapes(std::vector<NamedShape>{{"arm", t.step("f").shape}}, file));
    const auto report = node("validate_glb.mjs", file);
    INFO(report.dump(1));
    CHECK(report["errors"] == 0);
    CHECK(report["warnings"] == 0);
    std::ifstream in(file, std::ios::binary);
    const std::string bytes((std::istreambuf_iterator<char>(in)), {});
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    const auto json = nlohmann::json::parse(bytes.substr(20, length));
    REQUIRE(json["skins"].size() == 1);
    REQUIRE(json["skins"][0]["joints"].size() == 2);
    const auto& joint = json["nodes"][json["skins"][0]["joints"][1].get<int>()];
    CHECK(joint["name"] == "elbow");
    CHECK(joint["translation"] == nlohmann::json({0.0, 1.0, 0.0}));  // y is up in glTF
    const SkinWeights skin = skin_weights(t.mesh("f"));
    for (const Vec4& w : skin.weights) CHECK(w.x + w.y + w.z + w.w == Approx(1));
}

}  // namespace bricol::test
