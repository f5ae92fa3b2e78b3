// SPDX-License-Identifier: GPL-3.0-or-later
// Drawing and editing a profile with the mouse; the solid follows.
#include <numbers>

#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

const Json& knots(Room& room) { return room.step("body", "profile").settings["curves"][0]["knots"]; }

/// Draws the profile of a cylinder of radius 0.3 and height 0.5, Shift held, in a fresh recipe.
void draw_cylinder(Room& room) {
    room.window.start_profile();
    room.settle();
    for (const auto& [x, z] : {std::pair{0.0, 0.0}, {0.3, 0.0}, {0.3, 0.5}, {0.0, 0.5}}) {
        const QPoint at = room.at(x, 0, z);
        room.move(at, {}, Qt::NoButton);
        room.click(at);
    }
    room.key(Qt::Key_Return);
    room.settle();
}

}  // namespace

TEST_CASE("clicking a half profile makes the turned solid", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    REQUIRE(knots(room).size() == 4);
    CHECK(knots(room)[1]["at"][0] == Approx(0.3));  // snapped to the grid
    CHECK(knots(room)[3]["at"][0] == 0);            // and to the axis
    const Measures& m = room.part("body").measures;
    CHECK(m.closed);
    const double x = 2 * std::numbers::pi / 32;
    CHECK(*m.volume == Approx(std::numbers::pi * 0.09 * 0.5 * std::sin(x) / x).epsilon(1e-4));
    CHECK(room.window.viewport().camera().view == View::front);
}

TEST_CASE("Shift holds straight runs, Ctrl sets free places", "[app][profile]") {
    Room room;
    room.window.start_profile();
    room.settle();
    room.click(room.at(0, 0, 0));
    room.click(room.at(0.3, 0, 0.02), Qt::ShiftModifier);
    CHECK(knots(room)[1]["at"][1] == 0);
    room.click(room.at(0.287, 0, 0.333), Qt::ControlModifier);
    CHECK(knots(room)[2]["at"][0].get<double>() == Approx(0.287).margin(0.003));
    CHECK(knots(room)[2]["at"][0].get<double>() != Approx(0.3).margin(1e-9));
}

TEST_CASE("the solid follows while a knot is dragged", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    const QPoint from = room.at(0.3, 0, 0.5), to = room.at(0.4, 0, 0.5);
    room.press(from);
    double last = room.part("body").measures.box->size().x;
    int grew = 0;
    for (int i = 1; i <= 10; ++i) {
        room.move(from + (to - from) * i / 10);
        const double now = room.part("body").measures.box->size().x;  // waits for the shape, button still down
        grew += now > last + 1e-6;
        last = now;
    }
    CHECK(grew >= 3);
    room.release(to);
    CHECK(room.part("body").measures.box->size().x == Approx(0.8).epsilon(1e-3));
    const auto undo_steps = room.session().history().position();
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.session().history().position() == undo_steps - 1);
    CHECK(room.part("body").measures.box->size().x == Approx(0.6).epsilon(1e-3));  // one undo for the whole drag
}

TEST_CASE("kinds, handles, rounding and aligning work on chosen knots", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    room.click(room.at(0.3, 0, 0.5));
    REQUIRE(room.session().knots() == std::set<int>{2});
    room.click(room.find("knotSmooth"));
    CHECK(knots(room)[2]["kind"] == "smooth");
    const auto bent_faces = room.part("body").measures.faces;
    CHECK(bent_faces > 3 * 32);  // bends get pieces, straight runs do not
    room.key(Qt::Key_3);
    REQUIRE(knots(room)[2]["kind"] == "free");
    // Drag its outgoing handle: only that one moves.
    const Json before = knots(room)[2];
    const double hx = 0.3 + before["out"][0].get<double>(), hz = 0.5 + before["out"][1].get<double>();
    room.drag(room.at(hx, 0, hz), room.at(hx - 0.05, 0, hz + 0.1));
    CHECK(knots(room)[2]["in"] == before["in"]);
    CHECK(knots(room)[2]["out"][1].get<double>() > before["out"][1].get<double>() + 0.05);
    room.key(Qt::Key_1);
    CHECK(knots(room)[2]["kind"] == "corner");
    CHECK(room.part("body").measures.faces == 3 * 32);
    room.enter("knotFillet", "50");  // millimetres
    CHECK(knots(room)[2]["fillet"] == Approx(0.05));
    const double rounded = *room.part("body").measures.volume;
    room.drag(room.at(0.3, 0, 0.5), room.at(0.4, 0, 0.5));
    CHECK(knots(room)[2]["fillet"] == Approx(0.05));  // the number stayed, the arc was made again
    CHECK(*room.part("body").measures.volume > rounded);
    // Choose two with Shift and align them across.
    room.click(room.at(0.3, 0, 0), Qt::ShiftModifier);
    REQUIRE(room.session().knots().size() == 2);
    room.click(room.find("knotAlignAcross"));
    CHECK(knots(room)[1]["at"][0] == Approx(0.35));
    CHECK(knots(room)[2]["at"][0] == Approx(0.35));
}

TEST_CASE("knots are inserted by double click, chosen by a box, and deleted", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    const QPoint on_side = room.at(0.3, 0, 0.25);
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, on_side);
    REQUIRE(knots(room).size() == 5);
    CHECK(knots(room)[2]["at"][1].get<double>() == Approx(0.25).margin(0.02));
    CHECK(room.part("body").measures.volume.has_value());
    room.key(Qt::Key_Delete);
    CHECK(knots(room).size() == 4);
    room.drag(room.at(0.2, 0, 0.6), room.at(0.4, 0, -0.1));
    CHECK(room.session().knots() == std::set<int>{1, 2});
    room.key(Qt::Key_Delete);
    CHECK(knots(room).size() == 2);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(knots(room).size() == 4);
}

TEST_CASE("typed numbers finish a drag exactly, with units and formulas", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    room.click(room.at(0.3, 0, 0.5));
    room.enter("number:/curves/0/knots/2/at/0", "345 mm");
    CHECK(knots(room)[2]["at"][0] == Approx(0.345));
    room.enter("number:/curves/0/knots/2/at/1", "= 1 / 4");
    CHECK(knots(room)[2]["at"][1] == "= 1 / 4");
    CHECK(room.part("body").measures.box->high.z == Approx(0.5));
    // A formula keeps its form when its knot is dragged: the drag becomes an offset.
    room.drag(room.at(0.345, 0, 0.25), room.at(0.345, 0, 0.35));
    CHECK(knots(room)[2]["at"][1].get<std::string>().starts_with("= 1 / 4 + 0.1"));
}

TEST_CASE("a reference picture stands on the front plane with a real height", "[app][profile]") {
    Room room;
    draw_cylinder(room);
    const QImage before = room.window.viewport().grab().toImage();
    room.window.findChild<PartsPanel*>()->add_picture(QString(SOURCE_FOLDER) + "/demo/buoy-sketch.svg");
    room.settle();
    QTest::qWait(250);
    REQUIRE(room.recipe().pictures.size() == 1);
    const QImage with = room.window.viewport().grab().toImage();
    CHECK(before != with);
    room.enter("picture:height", "1.48");
    CHECK(room.recipe().pictures[0].height == Approx(1.48));
    QTest::qWait(250);
    CHECK(room.window.viewport().grab().toImage() != with);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.recipe().pictures[0].height == Approx(1));
}

TEST_CASE("a missing picture is told by name and the recipe keeps its place", "[app][profile][bad input]") {
    Room room;
    draw_cylinder(room);
    room.window.findChild<PartsPanel*>()->add_picture(room.folder.filePath("gone.png"));
    QTest::qWait(50);
    CHECK(room.said().contains("gone.png"));
    CHECK(room.said().contains("could not be read"));
    CHECK(room.recipe().pictures.size() == 1);
    CHECK(room.part("body").measures.closed);
}
