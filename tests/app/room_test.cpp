// SPDX-License-Identifier: GPL-3.0-or-later
// The window as a whole: strip, numbers, dials, findings, files, views.
#include <QPointer>
#include <QTemporaryDir>
#include <QSplitter>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QLineEdit>
#include <QSettings>
#include <QStandardPaths>
#include <fstream>
#include <map>
#include <unistd.h>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "core/files/export.h"
#include "app/dials/slider.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

std::vector<std::string> order(Room& room) {
    std::vector<std::string> ids;
    for (const auto& step : room.recipe().part(room.session().part())->steps) ids.push_back(step->id);
    return ids;
}

}  // namespace

TEST_CASE("the demo opens with its shape, faces against a budget, and its size", "[app]") {
    Room room(demo_file);
    CHECK(room.part("body").measures.closed);
    CHECK(room.find<QLabel>("status")->text().contains("of 20"));
    CHECK(room.find<QLabel>("boxChip")->text() == "0.940 × 0.940 × 1.480 m");
    // The picture shows clay where the buoy is and ground where it is not.
    const QImage picture = room.window.viewport().grab().toImage();
    const QPointF middle = room.window.viewport().screen_of({0, 0, 0.7});
    const QColor there = picture.pixelColor(middle.toPoint()), corner = picture.pixelColor(5, 60);
    CHECK(std::abs(there.lightness() - corner.lightness()) > 20);
}

TEST_CASE("the add bar finds steps by the word people use and adds them behind the chosen one", "[app][strip]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    room.key(Qt::Key_Slash);
    REQUIRE(room.window.add_bar().hasFocus());
    room.type("refine");
    auto* list = room.window.add_bar().list();
    REQUIRE(list->isVisible());
    CHECK(list->item(0)->data(Qt::UserRole).toString() == "subdivide");
    room.key(Qt::Key_Return);
    CHECK(order(room) == std::vector<std::string>{"profile", "turn", "subdivide"});
    CHECK(room.part("body").measures.faces > 4000);
    CHECK(room.session().step() == "subdivide");
    // What does not fit says why and changes nothing.
    room.key(Qt::Key_Slash);
    room.type("revolve");
    room.key(Qt::Key_Return);
    CHECK(order(room).size() == 3);
    CHECK(room.said().contains("needs curves"));
    room.key(Qt::Key_Escape);
}

TEST_CASE("going back up the strip changes everything below", "[app][strip]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    room.enter("number:segments", "12");
    CHECK(room.part("body").measures.faces == 36 * 12);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.step("body", "turn").settings["segments"] == "= sides");
    room.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(room.step("body", "turn").settings["segments"] == 12);
}

TEST_CASE("peek shows an earlier step, ghost another", "[app][strip]") {
    Room room(demo_file);
    QTest::qWait(250);
    const QImage whole = room.window.viewport().grab().toImage();
    room.click(room.card("profile"));
    room.key(Qt::Key_P);
    CHECK(room.session().peek() == "profile");
    QTest::qWait(250);
    const QImage peeked = room.window.viewport().grab().toImage();
    const QPoint side = room.window.viewport().screen_of({-0.3, 0, 0.6}).toPoint();
    CHECK(peeked.pixelColor(side) != whole.pixelColor(side));
    room.key(Qt::Key_P);
    CHECK(room.session().peek().empty());
    room.pick([&] { room.click(room.card("turn"), {}, Qt::RightButton); }, "Ghost");
    CHECK(room.step("body", "turn").ghost);
}

TEST_CASE("steps are skipped, renamed, reordered, duplicated and deleted, and all of it is undone", "[app][strip]") {
    Room room(demo_file);
    const Recipe first = room.recipe();
    room.session().choose_part("bollard");
    room.settle();
    room.pick([&] { room.click(room.card("place"), {}, Qt::RightButton); }, "Skip");
    CHECK(room.step("bollard", "place").skipped);
    CHECK(room.part("bollard").measures.box->centre().x == Approx(0).margin(1e-4));
    room.pick([&] { room.click(room.card("place"), {}, Qt::RightButton); }, "Do not skip");
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, room.card("place"));
    auto* name = room.find<QLineEdit>("renameStep");
    REQUIRE(name);
    room.type("Out of the way");
    room.key(Qt::Key_Return);
    CHECK(room.step("bollard", "place").title == "Out of the way");
    room.pick([&] { room.click(room.card("place"), {}, Qt::RightButton); }, "Duplicate");
    CHECK(order(room) == std::vector<std::string>{"profile", "turn", "place", "place2"});
    CHECK(room.part("bollard").measures.box->centre().x == Approx(2 * 1.22).epsilon(1e-3));
    room.drag(room.card("place2"), room.card("place") - QPoint(90, 0));
    CHECK(order(room) == std::vector<std::string>{"profile", "turn", "place2", "place"});
    room.click(room.card("place2"));
    room.key(Qt::Key_Delete);
    CHECK(order(room) == std::vector<std::string>{"profile", "turn", "place"});
    CHECK(room.session().history().undo_name() == "Delete a step");
    while (room.session().history().can_undo()) room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(same(room.recipe(), first));
}

TEST_CASE("a number becomes a dial, and links to others", "[app][numbers]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    const auto button = [&](const QString& row) -> QWidget* {
        for (auto* b : room.window.findChildren<QToolButton*>("quiet"))
            if (b->property("row").toString() == row && b->isVisible()) return b;
        return nullptr;
    };
    room.pick([&] { room.click(button("angle")); }, "Make it a dial");
    CHECK(room.step("body", "turn").settings["angle"] == "= angle");
    REQUIRE(room.recipe().dial("angle"));
    room.settle();
    auto* slider = room.find<Slider>("slider:angle");
    REQUIRE(slider);
    QTest::qWait(50);
    const QPoint handle = room.in_window(slider, QPoint(slider->handle_x(), 8));
    room.drag(handle, handle - QPoint(60, 0));
    CHECK(room.recipe().dial("angle")->value < 300);
    CHECK(room.part("body").measures.closed);  // a wedge with caps
    // Copy a link and paste it elsewhere, negated.
    room.pick([&] { room.click(button("rise")); }, "Copy link");
    CHECK(room.session().copied_link == "body.turn.rise");
    room.session().choose("bollard", "turn");
    room.settle();
    room.pick([&] { room.click(button("rise")); }, "Paste link, negated");
    CHECK(room.step("bollard", "turn").settings["rise"] == "= -body.turn.rise");
    room.pick([&] { room.click(button("smooth")); }, "Paste link, keeping the offset");
    CHECK(room.step("bollard", "turn").settings["smooth"] == "= body.turn.rise + 40");
    room.pick([&] { room.click(button("smooth")); }, "Reset");
    CHECK_FALSE(room.step("bollard", "turn").settings.contains("smooth"));
    room.pick([&] { room.click(button("weld")); }, "Link to", "rounding");
    CHECK(room.step("bollard", "turn").settings["weld"] == "= rounding");
}

TEST_CASE("a number follows what another part made, and leads there", "[app][numbers]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("post.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(R"json({"bricol": 1, "parts": [
        {"name": "post", "steps": [{"id": "block", "step": "box", "size": [1, 1, 3]},
                                   {"id": "scaled", "step": "transform", "size": [1, 1, 2]}]},
        {"name": "pin", "steps": [{"id": "rod", "step": "cylinder", "height": 1}]}]})json");
    file.close();
    Room room(path);
    room.session().choose("pin", "rod");
    room.settle();
    const auto button = [&]() -> QWidget* {
        for (auto* b : room.window.findChildren<QToolButton*>("quiet"))
            if (b->property("row") == "height" && b->isVisible()) return b;
        return nullptr;
    };
    REQUIRE(button());
    room.pick([&] { room.click(button()); }, "Link to", "post, made", "size.z");
    CHECK(room.step("pin", "rod").settings["height"] == "= post.made.size.z");
    room.settle();
    CHECK(room.part("pin").measures.box->size().z == Approx(6));
    room.pick([&] { room.click(button()); }, "Explain");
    CHECK(room.said().contains("is 6 m, from “= post.made.size.z”"));
    // It follows when the other part changes.
    room.session().edit(set_setting(room.recipe(), "post", "block", "/size/2", 2), "Change");
    room.settle();
    CHECK(room.part("pin").measures.box->size().z == Approx(4));
    // The menu that leads there stands on what gives way to the other step's numbers, and still has its own to do.
    QPointer<QWidget> menu;
    bool stands = false;
    const auto watched = QObject::connect(&room.session(), &Session::choiceChanged, [&] { stands = !menu.isNull(); });
    room.pick(
        [&] {
            room.click(button());
            menu = QApplication::activePopupWidget();
        },
        "Go to post.made.size.z");
    QObject::disconnect(watched);
    CHECK(stands);
    CHECK(room.session().part() == "post");
    CHECK(room.session().step() == "scaled");
}

TEST_CASE("a field refuses nonsense, keeps what was typed and says why", "[app][numbers][bad input]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    const Recipe before = room.recipe();
    room.enter("number:angle", "= 3 lightyears");
    CHECK(room.said().contains("lightyears"));
    auto* field = room.find<NumberField>("number:angle");
    CHECK(field->text() == "= 3 lightyears");
    CHECK(same(room.recipe(), before));
    room.key(Qt::Key_Escape);
    CHECK(field->text() == "360");
    room.enter("number:segments", "0");
    CHECK(room.said().contains("outside"));
    room.key(Qt::Key_Escape);
    CHECK(same(room.recipe(), before));
}

TEST_CASE("numbers are dragged, and stepped by keys and wheel", "[app][numbers]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    auto* field = room.find<NumberField>("number:turns");
    const QPoint at = room.in_window(field, QPoint(20, 12));
    room.drag(at, at + QPoint(40, 0));
    CHECK(room.step("body", "turn").settings["turns"].get<double>() > 1);
    room.click(room.find<NumberField>("number:angle"));
    room.key(Qt::Key_Down);
    room.key(Qt::Key_Down, Qt::ShiftModifier);
    CHECK(room.step("body", "turn").settings["angle"] == Approx(349));
    room.wheel(room.middle(room.find<NumberField>("number:angle")), 120);
    CHECK(room.step("body", "turn").settings["angle"] == Approx(350));
}

TEST_CASE("a finding is shown at its step and its remedy mends it", "[app][findings]") {
    Room room(demo_file);
    room.click(room.card("profile"));
    room.session().choose_knots(0, {0});
    QTest::qWait(20);
    room.enter("number:/curves/0/knots/0/at/0", "0.8 mm");
    room.settle();
    room.click(room.card("turn"));
    auto* card = room.find<QFrame>("finding:near-axis");
    REQUIRE(card);
    CHECK(card->findChild<QLabel*>()->text().contains("0.8 mm"));
    QPushButton* remedy = nullptr;
    for (auto* b : card->findChildren<QPushButton*>("link"))
        if (b->text() == "Set them on the axis") remedy = b;
    room.click(remedy);
    room.settle();
    CHECK(room.step("body", "profile").settings["curves"][0]["knots"][0]["at"][0] == 0);
    CHECK_FALSE(room.find<QFrame>("finding:near-axis"));
    CHECK(room.session().history().undo_name() == "Set them on the axis");
}

TEST_CASE("views, shadings and the tripod change the picture", "[app][view]") {
    Room room(demo_file);
    auto& viewport = room.window.viewport();
    const auto picture = [&] {
        QTest::qWait(260);
        return viewport.grab().toImage();
    };
    QImage last = picture();
    for (const auto key : {Qt::Key_1, Qt::Key_3, Qt::Key_4, Qt::Key_5, Qt::Key_2}) {
        room.key(key, Qt::ControlModifier);
        const QImage now = picture();
        CHECK(now != last);
        last = now;
    }
    for (const auto& [key, view] : {std::pair{Qt::Key_F5, View::front},
                                    {Qt::Key_F6, View::side},
                                    {Qt::Key_F7, View::top},
                                    {Qt::Key_F8, View::free}}) {
        room.key(key);
        CHECK(viewport.camera().view == view);
        const QImage now = picture();
        CHECK(now != last);
        last = now;
    }
    const double yaw = viewport.camera().yaw, distance = viewport.camera().distance;
    room.drag(room.at(0, 0, 1.9), room.at(0, 0, 1.9) + QPoint(80, 20), {}, Qt::RightButton);
    CHECK(viewport.camera().yaw != yaw);
    // Zooming keeps what is under the pointer in place.
    const QPointF before = viewport.screen_of(viewport.camera().target);
    room.wheel(room.in_window(&viewport, before), 360);
    CHECK(viewport.camera().distance < distance);
    const QPointF after = viewport.screen_of(viewport.camera().target);
    CHECK(std::hypot(after.x() - before.x(), after.y() - before.y()) < 2);
    room.click(room.in_window(&viewport, QPoint(viewport.width() - 62, viewport.height() - 58)));
    CHECK(viewport.camera().view == View::free);
    room.key(Qt::Key_Home);
    CHECK(picture() == picture());  // the same picture every time
}

TEST_CASE("the first start shows the demo kit and the way to something of one's own", "[app][start]") {
    Room room;
    room.window.show_start_page();
    QTest::qWait(50);
    REQUIRE(room.find("startProfile"));
    room.click(room.find("open:buoy.bricol"));
    room.settle();
    CHECK(room.recipe().parts.size() == 3);
    CHECK_FALSE(room.session().changed());
}

TEST_CASE("what is begun on the start page is begun in sight", "[app][start]") {
    Room room;
    room.window.show_start_page();
    room.settle();
    REQUIRE(room.find("startProfile"));
    room.key(Qt::Key_Slash);
    room.type("torus");
    room.key(Qt::Key_Return);
    room.settle();
    REQUIRE(room.recipe().parts.size() == 1);
    CHECK(room.recipe().parts[0]->steps.front()->type == "torus");
    REQUIRE(QTest::qWaitFor([&] { return room.find("startProfile") == nullptr; }, 2000));
    CHECK(room.window.viewport().isVisible());
}

TEST_CASE("the parts list takes the rows it needs where the dials leave room", "[app][parts]") {
    Room room(demo_file);
    room.settle();
    auto* split = room.find<QSplitter>("leftSplit");
    REQUIRE(split);
    const int before = split->sizes()[0];
    Recipe recipe = room.recipe();
    recipe.dials.clear();
    for (int i = 0; i < 9; ++i) recipe = *add_part(recipe, "part_" + std::to_string(i));
    room.session().edit(recipe, "Add parts");
    room.settle();
    CHECK(split->sizes()[0] > before);
    CHECK(split->sizes()[0] >= 44 + 26 * static_cast<int>(room.recipe().parts.size()));
}

TEST_CASE("text can be read in both themes", "[app][theme]") {
    // WCAG 2.1, level AA: 4.5 to 1.
    using theme::Role;
    for (const bool night : {false, true}) {
        theme::set_night(night);
        for (const Role ground : {Role::panel, Role::card})
            for (const Role ink : {Role::ink, Role::soft_ink, Role::act, Role::chosen, Role::caution, Role::error}) {
                INFO("night " << night << " ground " << static_cast<int>(ground) << " ink " << static_cast<int>(ink));
                CHECK(theme::contrast(theme::color(ink), theme::color(ground)) >= 4.5);
            }
    }
    theme::set_night(false);
}

TEST_CASE("everything sits inside the window at its smallest intended size", "[app][layout]") {
    Room room(demo_file);
    for (const char* name : {"status", "addBar", "boxChip", "shadingChip", "parts", "bandTabs", "dial:girth"}) {
        auto* widget = room.find(name);
        INFO(name);
        REQUIRE(widget);
        const QRect rect(room.in_window(widget, QPoint(0, 0)), widget->size());
        CHECK(room.window.rect().contains(rect));
    }
}
