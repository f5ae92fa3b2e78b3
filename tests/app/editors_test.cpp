// SPDX-License-Identifier: GPL-3.0-or-later
// Editors of what is more than a number, in the real details panel: each drag, click and key is looked for in the
// recipe.
#include <QCheckBox>
#include <QColorDialog>
#include <QFile>

#include "app/kinds/editor.h"
#include "app/kinds/gradient_edit.h"
#include "app/kinds/ramp_edit.h"
#include "app/kinds/screen_colour.h"
#include "app/theme/theme.h"
#include "tests/app/room.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

/// A room with a recipe of one part, written to a file of its own, and its last step in hand.
struct Bench {
    QTemporaryDir folder;
    std::unique_ptr<Room> room;
    std::string last;

    explicit Bench(const Json& steps) {
        const QString file = folder.filePath("one.bricol");
        const Json recipe{{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}};
        QFile out(file);
        REQUIRE(out.open(QIODevice::WriteOnly));
        out.write(recipe.dump().c_str());
        out.close();
        room = std::make_unique<Room>(file);
        last = steps.back()["id"].get<std::string>();
        room->session().choose("p", last);
        QTest::qWait(30);
    }
    Json setting(const char* key) { return room->step("p", last).settings.value(key, Json()); }
    std::size_t steps() { return room->recipe().part("p")->steps.size(); }
    /// Where a point of an editor lies in the window, scrolled into sight.
    QPoint at(QWidget* editor, const QPointF& place) {
        for (QWidget* w = editor->parentWidget(); w; w = w->parentWidget())
            if (auto* area = qobject_cast<QScrollArea*>(w)) area->ensureWidgetVisible(editor, 0, 60);
        QTest::qWait(10);
        return room->in_window(editor, place);
    }
    void double_click(const QPoint& where) {
        QTest::mouseDClick(room->handle(), Qt::LeftButton, {}, where);
        QTest::qWait(10);
    }
};

/// Answers the next colour dialog with a colour.
void answer_colour(const QColor& colour) {
    QTimer::singleShot(50, [colour] {
        auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
        REQUIRE(dialog);
        dialog->setCurrentColor(colour);
        dialog->accept();
    });
}

Json ramped_sweep() {
    return Json::array({step("c", "line", {{"to", {1, 0, 0}}, {"pieces", 16}}),
                        step("s", "sweep", {{"ramped", true}, {"ramp", {{"knots", {{0, 1}, {0.5, 0.5}, {1, 1}}}}}})});
}

}  // namespace

TEST_CASE("every setting of every step has an editor in the details", "[app][details]") {
    Room room(demo_file);
    std::size_t settings = 0;
    for (const StepInfo* info : all_steps())
        for (const ParameterInfo& p : info->parameters) {
            INFO(info->key << "." << p.key);
            const std::unique_ptr<QWidget> widget(editor_for({&room.session(), "body", "turn", p, {}}).widget);
            CHECK(widget);
            ++settings;
        }
    CHECK(settings > 400);
}

TEST_CASE("a ramp is drawn by dragging its knots, adding and deleting them", "[app][details][ramp]") {
    Bench bench(ramped_sweep());
    auto* ramp = bench.room->find<RampEdit>("ramp:ramp");
    REQUIRE(ramp);
    REQUIRE(ramp->ramp().knots.size() == 3);
    // The middle knot, up by a quarter of the field.
    const QPointF middle = ramp->at(ramp->ramp().knots[1]), higher = ramp->at({0.6, 0.75});
    bench.room->drag(bench.at(ramp, middle), bench.at(ramp, higher));
    REQUIRE(ramp->ramp().knots.size() == 3);
    CHECK(bench.setting("ramp")["knots"][1][0].get<double>() == Approx(0.6).margin(0.01));
    CHECK(bench.setting("ramp")["knots"][1][1].get<double>() == Approx(0.75).margin(0.02));
    // One undo takes the whole drag back.
    bench.room->key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(bench.setting("ramp")["knots"][1] == Json::array({0.5, 0.5}));
    bench.double_click(bench.at(ramp, ramp->at({0.25, 0.9})));
    REQUIRE(bench.setting("ramp")["knots"].size() == 4);
    CHECK(bench.setting("ramp")["knots"][1][0].get<double>() == Approx(0.25).margin(0.01));
    CHECK(bench.setting("ramp")["knots"][1][1].get<double>() == Approx(0.9).margin(0.02));
    // Delete means the chosen knot, not the step.
    bench.room->key(Qt::Key_Delete);
    CHECK(bench.setting("ramp")["knots"].size() == 3);
    CHECK(bench.steps() == 2);
    bench.room->click(bench.room->find<QCheckBox>("smooth:ramp"));
    CHECK(bench.setting("ramp")["smooth"] == true);
}

TEST_CASE("what a ramp says is what is made", "[app][details][ramp]") {
    Bench bench(ramped_sweep());
    auto* ramp = bench.room->find<RampEdit>("ramp:ramp");
    const double before = *bench.room->part("p").measures.volume;
    bench.room->drag(bench.at(ramp, ramp->at(ramp->ramp().knots[0])), bench.at(ramp, ramp->at({0, 0.25})));
    bench.room->settle();
    CHECK(*bench.room->part("p").measures.volume < before);
}

TEST_CASE("a gradient's stops slide, take colours, come and go", "[app][details][gradient]") {
    Bench bench(Json::array(
        {step("b", "box"),
         step("c", "colour",
              {{"by", "axis"},
               {"gradient", {{"stops", {{{"at", 0}, {"colour", {0, 0, 0}}}, {{"at", 1}, {"colour", {1, 1, 1}}}}}}}})}));
    auto* gradient = bench.room->find<GradientEdit>("gradient:gradient");
    REQUIRE(gradient);
    const auto stop_at = [&](std::size_t k) { return bench.at(gradient, gradient->at(gradient->gradient().stops[k])); };
    GradientStop there = gradient->gradient().stops[1];
    there.at = 0.7;
    bench.room->drag(stop_at(1), bench.at(gradient, gradient->at(there)));
    CHECK(bench.setting("gradient")["stops"][1]["at"].get<double>() == Approx(0.7).margin(0.01));
    answer_colour(QColor(255, 0, 0));
    bench.double_click(stop_at(0));
    CHECK(bench.setting("gradient")["stops"][0]["colour"] == Json::array({1.0, 0.0, 0.0}));
    // On the bar a new stop has the colour that was there.
    const DVec3 half = gradient->gradient().colour(0.35);
    bench.double_click(bench.at(gradient, QPointF(7 + 0.35 * (gradient->width() - 14), 10)));
    REQUIRE(bench.setting("gradient")["stops"].size() == 3);
    CHECK(bench.setting("gradient")["stops"][1]["colour"][0].get<double>() == Approx(half.x).margin(0.02));
    bench.room->key(Qt::Key_Delete);
    CHECK(bench.setting("gradient")["stops"].size() == 2);
    CHECK(bench.steps() == 2);
}

TEST_CASE("a colour is chosen on the screen and kept linear", "[app][details][colour]") {
    Bench bench(Json::array({step("b", "box"), step("c", "colour", {{"by", "one"}})}));
    auto* button = bench.room->find<QPushButton>("colour:colour");
    REQUIRE(button);
    answer_colour(QColor(188, 188, 188));  // half the light: IEC 61966-2-1 gives 0.502886
    bench.room->click(button);
    bench.room->settle();
    REQUIRE(bench.setting("colour").is_array());
    for (std::size_t i = 0; i < 3; ++i) CHECK(bench.setting("colour")[i].get<double>() == Approx(0.503).margin(0.001));
    CHECK(button->text() == "#bcbcbc");
    // Cancelled, nothing changes.
    QTimer::singleShot(50, [] { qobject_cast<QColorDialog*>(QApplication::activeModalWidget())->reject(); });
    const Json before = bench.setting("colour");
    bench.room->click(button);
    CHECK(bench.setting("colour") == before);
}

TEST_CASE("a kit that is saved by someone else is made again in the open room", "[app][kit]") {
    QTemporaryDir folder;
    const auto write = [&](const QString& name, const Json& recipe) {
        QFile file(folder.filePath(name + ".new"));
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(recipe.dump().c_str());
        file.close();
        QFile::remove(folder.filePath(name));
        REQUIRE(QFile::rename(folder.filePath(name + ".new"), folder.filePath(name)));
    };
    const auto kit = [](double width) {
        return Json{
            {"bricol", 1},
            {"parts",
             Json::array({{{"name", "k"}, {"steps", Json::array({step("b", "box", {{"size", {width, 1, 1}}})})}}})}};
    };
    write("kit.bricol", kit(1));
    write("user.bricol",
          {{"bricol", 1},
           {"parts",
            Json::array({{{"name", "p"}, {"steps", Json::array({step("r", "recipe", {{"kit", "kit.bricol"}})})}}})}});
    Room room(folder.filePath("user.bricol"));
    REQUIRE(room.part("p").measures.volume);
    CHECK(*room.part("p").measures.volume == Approx(1));
    write("kit.bricol", kit(3));
    CHECK(QTest::qWaitFor([&] { return *room.part("p").measures.volume > 2.9; }, 4000));
    // And once more: the watch is set anew on the file that took the old one's place.
    write("kit.bricol", kit(2));
    CHECK(QTest::qWaitFor([&] { return std::abs(*room.part("p").measures.volume - 2) < 0.01; }, 4000));
}

TEST_CASE("a recipe inside takes one of its presets from a list", "[app][kit]") {
    QTemporaryDir folder;
    const auto write = [&](const QString& name, const Json& recipe) {
        QFile file(folder.filePath(name));
        REQUIRE(file.open(QIODevice::WriteOnly));
        file.write(recipe.dump().c_str());
    };
    write("kit.bricol",
          {{"bricol", 1},
           {"dials", Json::array({{{"name", "wide"}, {"value", 1}, {"min", 1}, {"max", 4}, {"unit", "m"}}})},
           {"presets", Json::array({{{"name", "Broad"}, {"dials", {{"wide", 3}}}}})},
           {"parts",
            Json::array({{{"name", "k"}, {"steps", Json::array({step("b", "box", {{"size", {"= wide", 1, 1}}})})}}})}});
    write("user.bricol",
          {{"bricol", 1},
           {"parts",
            Json::array({{{"name", "p"}, {"steps", Json::array({step("r", "recipe", {{"kit", "kit.bricol"}})})}}})}});
    Room room(folder.filePath("user.bricol"));
    room.click(room.card("r"));
    auto* list = room.find<QComboBox>("preset:preset");
    REQUIRE(list);
    REQUIRE(list->isVisible());
    list->setFocus();
    room.key(Qt::Key_Down);
    room.settle();
    CHECK(*room.part("p").measures.volume == Approx(3));
    CHECK(list->currentText() == "Broad");
    room.key(Qt::Key_Up);
    room.settle();
    CHECK(*room.part("p").measures.volume == Approx(1));
}

TEST_CASE("night and day change every pixel of the room and come back to the same", "[app][theme]") {
    Room room(demo_file);
    const auto picture = [&] {
        room.window.setFocus();
        QTest::qWait(400);  // at rest: the fine picture
        return room.window.grab().toImage();
    };
    const QImage day = picture();
    room.key(Qt::Key_F12);
    const QImage night = picture();
    std::size_t same = 0;
    for (int y = 0; y < day.height(); y += 4)
        for (int x = 0; x < day.width(); x += 4) same += day.pixel(x, y) == night.pixel(x, y);
    CHECK(same < static_cast<std::size_t>(day.width() / 4) * (day.height() / 4) / 50);
    // Paper is dark and ink light, in panels, fields and view alike.
    for (const char* name : {"parts", "bandTabs", "viewport"}) {
        auto* widget = room.find(name);
        REQUIRE(widget);
        const QPoint at = room.in_window(widget, QPoint(widget->width() - 12, widget->height() - 5));
        INFO(name);
        CHECK(qGray(night.pixel(at)) < qGray(day.pixel(at)));
        CHECK(qGray(night.pixel(at)) < 90);
    }
    room.key(Qt::Key_F12);
    const QImage again = picture();
    std::size_t off = 0;
    for (int y = 0; y < day.height(); y += 4)
        for (int x = 0; x < day.width(); x += 4) off += day.pixel(x, y) != again.pixel(x, y);
    CHECK(off < 200);  // the milliseconds in the top bar and on the cards
}
