// SPDX-License-Identifier: GPL-3.0-or-later
// Paths in the window: knots with width and roll, curves split and joined, combs, and knots set on other parts.
#include <QTemporaryDir>

#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A path of three knots on the front plane, swept, and a block beside it to set knots on.
QString pipe_recipe(const QTemporaryDir& folder) {
    const QString path = folder.filePath("pipe.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(R"({"bricol":1,"parts":[
      {"name":"block","steps":[{"id":"box","step":"box","size":[0.4,0.4,0.4]},{"id":"at","step":"transform","move":[0.9,0,0]}]},
      {"name":"pipe","steps":[{"id":"path","step":"drawn_curve","curves":[{"knots":[{"at":[-0.8,0.2]},{"at":[-0.3,0.6],"kind":"smooth"},{"at":[0.3,0.2]}]}]},
                              {"id":"tube","step":"sweep","radius":0.05}]}]})");
    return path;
}

const Json& curves(Room& room) { return room.step("pipe", "path").settings["curves"]; }

struct OnPath : QTemporaryDir, Room {
    OnPath() : Room(pipe_recipe(*this)) {
        session().choose("pipe", "path");
        key(Qt::Key_F5);
        window.viewport().frame_all();
        settle();
    }
};

}  // namespace

TEST_CASE("width and roll of a knot are pulled in the view", "[app][spline]") {
    OnPath room;
    room.click(room.at(-0.3, 0, 0.6));
    REQUIRE(room.session().knots() == std::set<int>{1});
    const double before = *room.part("pipe").measures.volume;
    room.click(room.find("knotWidths"));
    // The grip stands above the knot, as far off as the width; pulled twice as far, the pipe is twice as wide there.
    const QPoint knot = room.at(-0.3, 0, 0.6), grip = knot - QPoint(0, 34);
    room.drag(grip, knot - QPoint(0, 68));
    REQUIRE(curves(room)[0]["knots"][1].contains("radius"));
    CHECK(curves(room)[0]["knots"][1]["radius"].get<double>() == Approx(2).margin(0.06));
    CHECK(*room.part("pipe").measures.volume > before * 1.5);
    // Round it: a quarter turn is 90 degrees of roll.
    room.drag(knot - QPoint(0, 68), knot + QPoint(68, 0));
    REQUIRE(curves(room)[0]["knots"][1].contains("roll"));
    CHECK(curves(room)[0]["knots"][1]["roll"].get<double>() == Approx(90).margin(6));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK_FALSE(curves(room)[0]["knots"][1].contains("roll"));  // one undo for the drag
    // The same numbers typed.
    room.enter("number:/curves/0/knots/1/radius", "0.5");
    CHECK(curves(room)[0]["knots"][1]["radius"] == Approx(0.5));
}

TEST_CASE("a curve is split, joined and reversed in its step", "[app][spline]") {
    OnPath room;
    room.click(room.at(-0.3, 0, 0.6));
    room.click(room.find("knotSplit"));
    REQUIRE(curves(room).size() == 2);
    CHECK(curves(room)[0]["knots"].size() == 2);
    CHECK(curves(room)[1]["knots"].size() == 2);
    CHECK(room.part("pipe").measures.pieces == 2);
    room.click(room.at(-0.3, 0, 0.6));
    room.click(room.find("knotJoin"));
    REQUIRE(curves(room).size() == 1);
    CHECK(curves(room)[0]["knots"].size() == 3);
    CHECK(room.part("pipe").measures.pieces == 1);
    const Json first = curves(room)[0]["knots"].front()["at"];
    room.click(room.find("knotReverse"));
    CHECK(curves(room)[0]["knots"].back()["at"] == first);
    // A roll goes the other way round, so that the pipe stands as it did.
    room.click(room.at(-0.3, 0, 0.6));
    room.enter("number:/curves/0/knots/1/roll", "30");
    room.click(room.find("knotReverse"));
    CHECK(curves(room)[0]["knots"][1]["roll"] == Approx(-30));
}

TEST_CASE("the comb shows where the path bends", "[app][spline]") {
    OnPath room;
    const QImage plain = room.window.viewport().grab().toImage();
    room.key(Qt::Key_C);
    REQUIRE(room.window.viewport().knot_tool().comb());
    const QImage combed = room.window.viewport().grab().toImage();
    int changed = 0;
    for (int y = 0; y < plain.height(); ++y)
        for (int x = 0; x < plain.width(); ++x) changed += plain.pixel(x, y) != combed.pixel(x, y);
    CHECK(changed > 200);
    room.key(Qt::Key_C);
    CHECK_FALSE(room.window.viewport().knot_tool().comb());
}

TEST_CASE("knots are set on points and edges of other parts", "[app][spline]") {
    OnPath room;
    // The block's near upper corner, in the drawing plane: x 0.7, z 0.4.
    room.drag(room.at(0.3, 0, 0.2), room.at(0.7, -0.2, 0.4) + QPoint(3, 2));
    const Json at = curves(room)[0]["knots"][2]["at"];
    CHECK(at[0].get<double>() == Approx(0.7).margin(1e-5));
    CHECK(at[1].get<double>() == Approx(0.4).margin(1e-5));
    // On the upright edge, away from its ends: the height is free, the side is the edge's.
    room.drag(room.at(0.7, 0, 0.4), room.at(0.7, -0.2, 0.23) + QPoint(4, 0));
    const Json on_edge = curves(room)[0]["knots"][2]["at"];
    CHECK(on_edge[0].get<double>() == Approx(0.7).margin(1e-5));
    CHECK(on_edge[1].get<double>() == Approx(0.23).margin(0.02));
    // Ctrl sets it freely.
    room.drag(room.at(0.7, 0, on_edge[1].get<double>()), room.at(0.68, 0, 0.37), Qt::ControlModifier);
    CHECK(curves(room)[0]["knots"][2]["at"][0].get<double>() != Approx(0.7).margin(1e-5));
}

TEST_CASE("knots are drawn on the surface of another part, and pulled over it", "[app][spline]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("ball.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"ball","steps":[{"id":"s","step":"geodesic_sphere","origin":"centre","radius":0.5,"frequency":16}]},{"name":"seam","steps":[{"id":"line","step":"drawn_curve"}]}]})");
    file.close();
    Room room(path);
    room.session().choose_part("ball");
    room.window.viewport().frame_all();
    room.session().choose("seam", "line");
    room.key(Qt::Key_F8);
    room.settle();
    if (!room.window.viewport().knot_tool().drawing()) room.key(Qt::Key_D);
    room.key(Qt::Key_S);
    REQUIRE(room.window.viewport().knot_tool().on_surfaces());
    const QPoint middle = room.at(0, 0, 0);
    for (const QPoint& by : {QPoint(-60, -20), QPoint(0, 10), QPoint(60, -30)}) room.click(middle + by);
    room.key(Qt::Key_Return);
    const auto& knots = room.step("seam", "line").settings["curves"][0]["knots"];
    REQUIRE(knots.size() == 3);
    const auto off = [](const Json& at) {
        return std::abs(
            std::hypot(at[0].get<double>(), at[1].get<double>(), at.size() > 2 ? at[2].get<double>() : 0.0) - 0.5);
    };
    for (const Json& knot : knots) CHECK(off(knot["at"]) < 0.003);  // the facets of the sphere
    const Json before = knots[1]["at"];
    room.drag(middle + QPoint(0, 10), middle + QPoint(15, 60));
    const Json after = room.step("seam", "line").settings["curves"][0]["knots"][1]["at"];
    CHECK(after != before);
    CHECK(off(after) < 0.003);
}

TEST_CASE("drawing goes on from either end of a curve", "[app][spline]") {
    OnPath room;
    const double before = *room.part("pipe").measures.volume;
    room.click(room.at(-0.8, 0, 0.2));
    REQUIRE(room.session().knots() == std::set<int>{0});
    room.key(Qt::Key_D);
    room.click(room.at(-0.5, 0, 0.02), Qt::ControlModifier);
    room.click(room.at(-0.2, 0, 0.1), Qt::ControlModifier);
    room.key(Qt::Key_Return);
    REQUIRE(curves(room)[0]["knots"].size() == 5);
    CHECK(curves(room)[0]["knots"][0]["at"][0].get<double>() == Approx(-0.2).margin(0.01));
    CHECK(curves(room)[0]["knots"][1]["at"][0].get<double>() == Approx(-0.5).margin(0.01));
    CHECK(curves(room)[0]["knots"][2]["at"][0].get<double>() == Approx(-0.8));
    CHECK(*room.part("pipe").measures.volume > before * 1.2);
    // With no end chosen, or the last one, it goes on from there.
    room.click(room.at(0.3, 0, 0.2));
    room.key(Qt::Key_D);
    room.click(room.at(0.5, 0, 0.6), Qt::ControlModifier);
    room.key(Qt::Key_Return);
    REQUIRE(curves(room)[0]["knots"].size() == 6);
    CHECK(curves(room)[0]["knots"][5]["at"][0].get<double>() == Approx(0.5).margin(0.01));
}

TEST_CASE("a face of another part gives the plane that is drawn in", "[app][spline]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("board.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"parts":[{"name":"block","steps":[{"id":"box","step":"box","size":[0.8,0.4,0.6]},{"id":"at","step":"transform","move":[0.1,0.2,0],"turn":[0,0,25]}]},{"name":"board","steps":[{"id":"line","step":"drawn_curve"}]}]})");
    file.close();
    Room room(path);
    room.session().choose_part("block");
    room.window.viewport().frame_all();
    room.session().choose("board", "line");
    room.key(Qt::Key_F8);
    room.settle();
    KnotTool& tool = room.window.viewport().knot_tool();
    room.key(Qt::Key_F);
    REQUIRE(tool.choosing_plane());
    room.click(QPoint(room.window.viewport().mapTo(&room.window, QPoint(60, room.window.viewport().height() - 60))));
    CHECK(tool.choosing_plane());  // nothing there: said, and still waiting
    CHECK_FALSE(room.step("board", "line").settings.contains("plane"));
    // The block's front face looks along (sin 25, -cos 25); a spot on it, off its middle.
    const double c = std::cos(glm::radians(25.0)), s = std::sin(glm::radians(25.0));
    const auto on_face = [&](double across, double up) {
        return DVec3(0.1 + c * across + s * 0.2, 0.2 + s * across - c * 0.2, up);
    };
    const DVec3 spot = on_face(0.1, 0.35);
    room.click(room.at(spot.x, spot.y, spot.z));
    CHECK_FALSE(tool.choosing_plane());
    CHECK(tool.drawing());
    const Json settings = room.step("board", "line").settings;
    REQUIRE(settings.value("plane", "") == "own");
    CHECK(settings["plane_turn"][0].get<double>() == Approx(90).margin(1e-3));
    CHECK(settings["plane_turn"][2].get<double>() == Approx(25).margin(1e-3));
    CHECK(glm::distance(room.window.viewport().camera().direction(), DVec3(s, -c, 0)) <
          1e-4);  // and is looked at face on
    room.settle();
    for (const DVec2& at : {DVec2(-0.2, 0.2), DVec2(0.2, 0.2), DVec2(0.15, 0.45)}) {
        const DVec3 p = on_face(at.x, at.y);
        room.click(room.at(p.x, p.y, p.z), Qt::ControlModifier);
    }
    room.key(Qt::Key_Return);
    const Shape& drawn = *room.part("board").shape;
    REQUIRE(drawn.curves.size() == 1);
    REQUIRE(drawn.curves[0].knots.size() == 3);
    for (const Knot& knot : drawn.curves[0].knots)
        CHECK(std::abs(glm::dot(DVec3(knot.at) - spot, DVec3(s, -c, 0))) < 1e-5);
    CHECK(glm::distance(DVec3(drawn.curves[0].knots[1].at), on_face(0.2, 0.2)) < 0.01);
    // Pulled, a knot stays in the plane.
    const DVec3 from = on_face(0.2, 0.2), to = on_face(0.3, 0.1);
    room.drag(room.at(from.x, from.y, from.z), room.at(to.x, to.y, to.z), Qt::ControlModifier);
    const DVec3 now(room.part("board").shape->curves[0].knots[1].at);
    CHECK(glm::distance(now, to) < 0.01);
    CHECK(std::abs(glm::dot(now - spot, DVec3(s, -c, 0))) < 1e-5);
}
