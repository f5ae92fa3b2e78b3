// SPDX-License-Identifier: GPL-3.0-or-later
// Not a test: makes the pictures of docs/screenshots/ from the demo. Run app_tests "[.pictures]" with BRICOL_PICTURES
// set.
#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QSettings>

#include "app/stock/stock_panel.h"
#include "app/theme/theme.h"
#include "app/trial/trial_panel.h"
#include "app/variants/variants_panel.h"
#include "core/recipe/edit.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

void save(Room& room, const QString& name) {
    const QStringList only = qEnvironmentVariable("BRICOL_ONLY").split(',', Qt::SkipEmptyParts);
    if (!only.isEmpty() && !only.contains(name)) return;
    room.settle();
    QTest::qWait(400);
    const QString folder = qEnvironmentVariable("BRICOL_PICTURES", QString(SOURCE_FOLDER) + "/docs/screenshots");
    REQUIRE(room.window.grab().save(folder + "/" + name + ".png"));
}

}  // namespace

/// BRICOL_ONLY names the pictures wanted; all without it.
TEST_CASE("pictures for the documents", "[.pictures]") {
    Room::patience = 60000;
    {
        Room room;
        room.window.show_start_page();
        QTest::qWait(6000);  // its pictures come in one after another
        save(room, "start");
    }
    {
        Room room(demo_file);
        save(room, "room");
        room.click(room.card("turn"));
        room.key(Qt::Key_Slash);
        room.type("smooth");
        save(room, "add-bar");
    }
    {
        Room room(demo_file);
        room.click(room.card("profile"));
        room.key(Qt::Key_F5);
        room.window.viewport().frame_choice();
        room.key(Qt::Key_4, Qt::ControlModifier);
        room.session().choose_knots(0, {7});
        save(room, "profile");
    }
    {
        Room room(demo_file);
        room.session().choose("body", "profile");
        room.session().choose_knots(0, {0});
        QTest::qWait(20);
        room.enter("number:/curves/0/knots/0/at/0", "0.8 mm");
        room.click(room.card("turn"));
        room.window.viewport().camera().turn(20, -30);
        room.window.viewport().frame_choice();
        save(room, "finding");
    }
    {
        theme::set_night(true);
        Room room(demo_file);
        room.key(Qt::Key_5, Qt::ControlModifier);
        save(room, "night");
        theme::set_night(false);
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/winch.bricol");
        room.key(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
        room.session().choose("lights", "key");
        Camera& camera = room.window.viewport().camera();
        camera.target = {0.05, -0.1, 0.4}, camera.distance = 5.4, camera.yaw = -52, camera.pitch = 20;
        room.key(Qt::Key_8, Qt::ControlModifier);
        QTest::qWait(15000);  // it refines meanwhile
        save(room, "picture");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/lantern.bricol");
        room.window.show_panel("variants");
        QTest::qWait(50);
        auto* panel = room.find<VariantsPanel>("variantsPanel");
        REQUIRE(panel);
        panel->make(even_plan(room.recipe(), {"height", "belly", "neck", "fittings"}, 60, 3));
        REQUIRE(QTest::qWaitFor([&] { return !panel->maker().busy() && panel->sheet().undrawn() == 0; }, 60000));
        panel->sheet().choose({1, 4});
        save(room, "variants");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/lantern.bricol");
        room.window.show_panel("handover");
        QTest::qWait(50);
        QTemporaryDir out;
        room.find<QLineEdit>("handover:folder")->setText(out.path() + "/quay-lantern");
        room.find<QLineEdit>("handover:levels")->setText("50, 25, 10");
        room.find<QCheckBox>("handover:kind.usda")->setChecked(true);
        room.find<QCheckBox>("handover:kind.3mf")->setChecked(true);
        room.find<QCheckBox>("handover:light")->setChecked(true);
        room.find<QComboBox>("handover:pivot")->setCurrentIndex(1);
        room.find<QComboBox>("handover:collision")->setCurrentIndex(1);
        room.click(room.find<QPushButton>("handoverStart"));
        REQUIRE(QTest::qWaitFor([&] { return room.find<QPushButton>("handoverStart")->text() == "Hand over"; }, 60000));
        room.find<QLineEdit>("handover:folder")->setText("hand-over/quay-lantern");
        QTest::qWait(100);
        save(room, "handover");
        QSettings().remove("handover");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/daymark.bricol");
        room.window.show_panel("trial");
        QTest::qWait(50);
        auto* panel = room.find<TrialPanel>("trialPanel");
        REQUIRE(panel);
        room.click(room.find<QPushButton>("trialStart"));
        REQUIRE(QTest::qWaitFor([&] { return panel->trial() != nullptr; }, 60000));
        REQUIRE(QTest::qWaitFor(
            [&] {
                const auto pictures = panel->findChildren<QLabel*>("trialPicture");
                return std::ranges::none_of(pictures,
                                            [](QLabel* p) { return p->pixmap().isNull() && p->text().isEmpty(); });
            },
            20000));
        save(room, "trial");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/winch.bricol");
        room.session().choose("housing", "block");
        std::string made;
        REQUIRE(room.session().edit(insert_step(room.recipe(), "housing", "place", Step{{}, "nudge"}, &made), "Add"));
        room.session().choose("housing", made);
        room.settle();
        room.window.viewport().frame_choice();
        room.window.viewport().pick_tool().set_picking(true);
        room.window.viewport().pick_tool().set_kind(Domain::face);
        room.settle();
        const Box box = *room.window.viewport().shown_box(false);
        room.click(room.at(box.low.x + 0.08, box.low.y, box.centre().z));
        room.settle();
        save(room, "picking");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/otter.bricol");
        room.session().choose("otter", "figure");
        room.settle();
        room.window.viewport().frame_choice();
        room.session().choose_knots(0, {12});
        save(room, "sticks");
    }
    {
        // Bodies from sticks and a fused one, four on one sheet.
        const QSize one(636, 477);
        QImage sheet(one.width() * 2, one.height() * 2, QImage::Format_RGB32);
        QPainter painter(&sheet);
        int k = 0;
        for (const char* piece : {"otter", "tree", "float", "kelp"}) {
            Room room(QString(SOURCE_FOLDER) + "/demo/" + piece + ".bricol");
            room.window.viewport().set_shading(shading_named("materials"));
            room.window.viewport().set_grid(false);
            room.settle();
            room.window.viewport().frame_all();
            QTest::qWait(600);
            painter.drawImage(
                QPoint(k % 2 * one.width(), k / 2 * one.height()),
                room.window.viewport().picture(one * 2).scaled(one, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            ++k;
        }
        painter.end();
        const QString folder = qEnvironmentVariable("BRICOL_PICTURES", QString(SOURCE_FOLDER) + "/docs/screenshots");
        REQUIRE(sheet.save(folder + "/bodies.png"));
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/capstan.bricol");
        room.session().choose("drum", "ring");
        room.session().set_peek("ring");
        room.settle();
        room.window.viewport().frame_choice();
        save(room, "handles");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/rock.bricol");
        room.window.show_panel("sheet");
        room.session().choose("rock", "spots");
        room.window.viewport().set_shading(shading_named("materials"));
        room.window.viewport().frame_all();
        room.window.sheet().fit(false);
        save(room, "sheet");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/fender-wired.bricol");
        room.session().choose("fender", "shrink");
        room.window.mixer().show_step("fender", "shrink");
        room.window.show_panel("sheet");
        emit room.window.sheet().mixerWanted("shrink");
        room.window.viewport().show_attribute("weight");
        room.window.viewport().frame_all();
        save(room, "mixer");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/fender.bricol");
        room.session().choose("fender", "blur");
        room.session().set_peek("blur");
        room.window.viewport().show_attribute("weight");
        room.window.viewport().frame_all();
        room.window.show_panel("table");
        save(room, "table");
    }
    {
        Room room(QString(SOURCE_FOLDER) + "/demo/gear-winch.bricol");
        room.window.viewport().frame_all();
        auto& stock = room.panel<StockPanel>(Qt::Key_K, "stockPanel");
        auto* parts = stock.findChild<QListWidget*>("stockParts");
        REQUIRE(QTest::qWaitFor([&] { return stock.pictured() == parts->count(); }, 60000));
        save(room, "stock");
    }
    const QStringList only = qEnvironmentVariable("BRICOL_ONLY").split(',', Qt::SkipEmptyParts);
    if (only.isEmpty() || only.contains("splines")) {
        // Seven pieces on one sheet, each as its own view shows it.
        const QSize one(424, 318);
        QImage sheet(one.width() * 3, one.height() * 3, QImage::Format_RGB32);
        sheet.fill(theme::color(theme::Role::view_high));
        QPainter painter(&sheet);
        const std::pair<const char*, const char*> splines[] = {
            {"netline", "Net-float line"}, {"pier", "Pier walkway"}, {"windsock", "Windsock"},
            {"lantern", "Quay lantern"},   {"icebox", "Ice box"},    {"loom", "Cable loom"},
            {"creel", "Lobster creel"}};
        int k = 0;
        const auto add = [&](Room& room, const QString& title) {
            room.window.viewport().set_shading(shading_named("materials"));
            room.window.viewport().frame_all();
            room.settle();
            QTest::qWait(400);
            const QPoint at(k % 3 * one.width(), k / 3 * one.height());
            painter.drawImage(at, room.window.viewport().picture(one * 2).scaled(one, Qt::IgnoreAspectRatio,
                                                                                 Qt::SmoothTransformation));
            painter.setPen(theme::color(theme::Role::ink));
            painter.drawText(at + QPoint(10, 20), title);
            ++k;
        };
        for (const auto& [piece, title] : splines) {
            Room room(QString(SOURCE_FOLDER) + "/demo/" + piece + ".bricol");
            add(room, title);
        }
        for (const double on : {0.5, 0.0}) {
            Room room(QString(SOURCE_FOLDER) + "/demo/creel.bricol");
            REQUIRE(room.session().edit(turn_dial(room.recipe(), "on", on), "Turn"));
            add(room, on > 0 ? "The creel half on" : "and flat");
        }
        painter.end();
        const QString folder = qEnvironmentVariable("BRICOL_PICTURES", QString(SOURCE_FOLDER) + "/docs/screenshots");
        REQUIRE(sheet.save(folder + "/splines.png"));
    }
}
