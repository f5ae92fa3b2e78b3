// SPDX-License-Identifier: GPL-3.0-or-later
// Drawing a stick figure with the mouse; the body round it follows.
#include "core/recipe/edit.h"
#include "tests/app/room.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A window on an empty figure with its flesh, seen from the front.
struct FigureRoom {
    QTemporaryDir files;
    Room room;

    explicit FigureRoom(const Json& knots = Json::array(), const Json& more = Json::object())
        : room(written(knots, more)) {
        room.window.viewport().set_view(View::front);
        room.session().choose("body", "figure");
        room.settle();
    }
    QString written(const Json& knots, const Json& more) {
        Json figure = step("figure", "sticks", more);
        figure["knots"] = knots;
        figure["girth"] = 0.1;
        const QString path = files.filePath("figure.bricol");
        QFile file(path);
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(QByteArray::fromStdString(
            Json{{"bricol", 1},
                 {"parts", Json::array({{{"name", "body"},
                                         {"steps", Json::array({figure, step("flesh", "flesh", {{"rounds", 2}})})}}})}}
                .dump()));
        return path;
    }
    const Json& knots() { return room.step("body", "figure").settings["knots"]; }
    double height() { return room.part("body").measures.box->size().z; }
};

const Json two_knots = {{{"id", 1}, {"at", {0, 0, 0}}}, {{"id", 2}, {"from", 1}, {"at", {0, 0, 1}}}};

}  // namespace

TEST_CASE("sticks: a click sets the first knot, a pull draws the next out of it, and the flesh follows",
          "[app][sticks]") {
    FigureRoom figure;
    Room& room = figure.room;
    room.click(room.at(0, 0, 0.2));
    REQUIRE(figure.knots().size() == 1);
    CHECK(figure.knots()[0]["at"][2].get<double>() == Approx(0.2).margin(0.02));
    const double ball = figure.height();
    CHECK(ball == Approx(0.2).epsilon(0.05));  // a knot alone is a ball
    room.drag(room.at(0, 0, 0.2), room.at(0.4, 0, 0.6));
    REQUIRE(figure.knots().size() == 2);
    CHECK(figure.knots()[1]["from"] == figure.knots()[0]["id"]);
    CHECK(figure.knots()[1]["at"][0].get<double>() == Approx(0.4).margin(0.02));
    CHECK(room.part("body").measures.closed);
    CHECK(figure.height() == Approx(0.4 + 0.2).epsilon(0.1));
    // A second pull at the first knot branches.
    room.drag(room.at(0, 0, 0.2), room.at(-0.4, 0, 0.6));
    REQUIRE(figure.knots().size() == 3);
    CHECK(figure.knots()[2]["from"] == figure.knots()[0]["id"]);
    CHECK(room.part("body").measures.euler == 2);
    CHECK(room.find("stickBar"));
    room.session().choose("body", "flesh");
    CHECK_FALSE(room.find("stickBar"));  // its buttons belong to sticks alone
    room.session().choose("body", "figure");
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(figure.knots().size() == 2);  // one undo for the whole pull
}

TEST_CASE("sticks: without pulling out a pull moves, with sliding along the bone only", "[app][sticks]") {
    FigureRoom figure(two_knots);
    Room& room = figure.room;
    room.click(room.find("stickPull"));
    room.drag(room.at(0, 0, 1), room.at(0.5, 0, 1));
    REQUIRE(figure.knots().size() == 2);
    CHECK(figure.knots()[1]["at"][0].get<double>() == Approx(0.5).margin(0.02));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_S);
    room.drag(room.at(0, 0, 1), room.at(0.5, 0, 0.7));
    CHECK(figure.knots()[1]["at"][0].get<double>() == Approx(0).margin(1e-6));
    CHECK(figure.knots()[1]["at"][2].get<double>() == Approx(0.7).margin(0.02));
}

TEST_CASE("sticks: the ring's grip sizes a knot both ways", "[app][sticks]") {
    FigureRoom figure(two_knots);
    Room& room = figure.room;
    room.click(room.at(0, 0, 1));
    REQUIRE(room.session().knots() == std::set<int>{1});
    auto& view = room.window.viewport();
    const double before = room.part("body").measures.box->size().x;
    const Projector projector(view.camera(), view.width(), view.height());
    const glm::dvec2 grip = view.stick_tool().size_grip(1, projector, view.camera());
    const glm::dvec2 middle = projector.to_screen(DVec3(0, 0, 1)), out = middle + (grip - middle) * 2.0;
    room.drag(room.in_window(&view, QPointF(grip.x, grip.y)), room.in_window(&view, QPointF(out.x, out.y)));
    REQUIRE(figure.knots()[1].contains("girth"));
    CHECK(figure.knots()[1]["girth"].is_number());
    CHECK(figure.knots()[1]["girth"].get<double>() > 0.15);
    CHECK_FALSE(figure.knots()[0].contains("girth"));
    CHECK(room.part("body").measures.box->size().x > 1.3 * before);
}

TEST_CASE("sticks: a girth that is a formula stays one when it is pulled", "[app][sticks]") {
    Json knots = two_knots;
    knots[1]["girth"] = "= 2 * 0.05";
    FigureRoom figure(knots);
    Room& room = figure.room;
    room.click(room.at(0, 0, 1));
    auto& view = room.window.viewport();
    const Projector projector(view.camera(), view.width(), view.height());
    const glm::dvec2 grip = view.stick_tool().size_grip(1, projector, view.camera());
    const glm::dvec2 middle = projector.to_screen(DVec3(0, 0, 1)), out = middle + (grip - middle) * 1.5;
    room.drag(room.in_window(&view, QPointF(grip.x, grip.y)), room.in_window(&view, QPointF(out.x, out.y)));
    REQUIRE(figure.knots()[1]["girth"].is_string());
    CHECK(figure.knots()[1]["girth"].get<std::string>().starts_with("= 2 * 0.05"));
    CHECK(*room.session().resolver().number("body", figure.knots()[1]["girth"]) > 0.12);
}

TEST_CASE("sticks: keys insert, split, join, cut and delete", "[app][sticks]") {
    FigureRoom figure(two_knots);
    Room& room = figure.room;
    room.click(room.at(0, 0, 1));
    room.key(Qt::Key_I);
    REQUIRE(figure.knots().size() == 3);
    CHECK(figure.knots()[2]["at"][2].get<double>() == Approx(0.5));
    CHECK(figure.knots()[1]["from"] == figure.knots()[2]["id"]);
    REQUIRE(room.session().knots() == std::set<int>{2});
    room.key(Qt::Key_3);
    REQUIRE(figure.knots().size() == 5);
    CHECK(figure.knots()[1]["from"] == figure.knots()[4]["id"]);  // what hung on the knot hangs on the last of three
    CHECK(room.part("body").measures.closed);
    room.key(Qt::Key_J);
    REQUIRE(figure.knots().size() == 3);
    CHECK(figure.knots()[2]["at"][2].get<double>() == Approx(0.5).margin(0.01));
    room.key(Qt::Key_Delete);
    REQUIRE(figure.knots().size() == 2);
    CHECK(figure.knots()[1]["from"] == figure.knots()[0]["id"]);
    room.click(room.at(0, 0, 1));
    room.key(Qt::Key_X);
    CHECK_FALSE(figure.knots()[1].contains("from"));
    room.settle();
    CHECK(room.part("body").measures.pieces == 2);
}

TEST_CASE("sticks: a double click puts a knot on the bone, marks and names are kept", "[app][sticks]") {
    FigureRoom figure(two_knots);
    Room& room = figure.room;
    const QPoint middle = room.at(0, 0, 0.5);
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, middle);
    QTest::qWait(5);
    REQUIRE(figure.knots().size() == 3);
    CHECK(figure.knots()[2]["at"][2].get<double>() == Approx(0.5).margin(0.02));
    room.click(room.at(0, 0, 0));
    room.click(room.find("stickFlat"));
    CHECK(figure.knots()[0]["flat"] == true);
    CHECK(room.part("body").measures.box->low.z == Approx(0).margin(1e-5));
    room.click(room.find("stickRoot"));
    CHECK(figure.knots()[0]["root"] == true);
    room.click(room.find("stickJoint"));
    CHECK(figure.knots()[0]["joint"] == false);
    auto* name = room.find<QLineEdit>("stickName");
    REQUIRE(name);
    room.click(name);
    room.type("foot");
    room.key(Qt::Key_Return);
    CHECK(figure.knots()[0]["name"] == "foot");
}

TEST_CASE("sticks: with a mirror the other side follows", "[app][sticks]") {
    FigureRoom figure(two_knots, {{"mirror", "x"}});
    Room& room = figure.room;
    room.drag(room.at(0, 0, 1), room.at(0.5, 0, 1.2));
    REQUIRE(figure.knots().size() == 3);
    const Box box = *room.part("body").measures.box;
    CHECK(box.high.x == Approx(-box.low.x).margin(1e-4));
    CHECK(box.size().x > 1);
}

TEST_CASE("sticks: the flesh is seen through while they are worked on", "[app][sticks]") {
    FigureRoom figure(two_knots);
    Room& room = figure.room;
    const auto middle = [&] {
        const QPoint at = room.window.viewport().mapFrom(&room.window, room.at(0.05, 0, 0.5));
        return QColor(room.window.viewport().grab().toImage().pixel(at));
    };
    const QColor through = middle();
    room.session().choose("body", "flesh");
    room.settle();
    const QColor solid = middle();
    CHECK(through.lightness() > solid.lightness() + 8);
}

TEST_CASE("joints are lit under the pointer and chosen in the view, several at once", "[app][sticks]") {
    const Json arm = {{{"id", 1}, {"at", {0, 0, 0}}, {"name", "foot"}},
                      {{"id", 2}, {"from", 1}, {"at", {0, 0, 0.5}}, {"name", "knee"}},
                      {{"id", 3}, {"from", 2}, {"at", {0, 0, 1}}, {"name", "hip"}},
                      {{"id", 4}, {"from", 3}, {"at", {0, 0, 1.5}}}};
    FigureRoom figure(arm);
    Room& room = figure.room;
    CHECK_FALSE(room.window.viewport().joint_tool().active());
    room.session().choose("body", "flesh");
    room.key(Qt::Key_Slash);
    room.type("pose");
    room.key(Qt::Key_Return);
    room.settle();
    JointTool& joints = room.window.viewport().joint_tool();
    REQUIRE(joints.active());
    const std::string& pose = room.session().step();
    const auto named = [&] {
        const auto& settings = room.step("body", pose).settings;
        return settings.contains("joints") ? settings["joints"].get<std::string>() : std::string();
    };
    const QImage before = room.window.viewport().grab().toImage();
    room.move(room.at(0, 0, 0.5), {}, Qt::NoButton);
    QTest::qWait(40);
    CHECK(room.window.viewport().grab().toImage() != before);  // it is lit, with its name
    room.click(room.at(0, 0, 0.5));
    CHECK(named() == "knee");
    room.click(room.at(0, 0, 1), Qt::ShiftModifier);
    CHECK(named() == "knee, hip");
    room.session().edit(set_setting(room.recipe(), "body", pose, "turn", Json{30, 0, 0}), "Turn");
    room.settle();
    CHECK(room.part("body").measures.box->size().y > 0.5);
    // Where the joint stands now, not where it stood: it is taken away there.
    const auto hip = std::ranges::find(joints.skeleton().joints, "hip", &Joint::name);
    REQUIRE(hip != joints.skeleton().joints.end());
    const DVec3 at = hip->at;
    CHECK(glm::distance(at, DVec3(0, 0, 1)) > 0.1);
    room.click(room.at(at.x, at.y, at.z), Qt::ShiftModifier);
    CHECK(named() == "knee");
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(named() == "knee, hip");
}
