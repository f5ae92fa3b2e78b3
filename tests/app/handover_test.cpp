// SPDX-License-Identifier: GPL-3.0-or-later
// The tab Hand over in the real window.
#include <QLineEdit>
#include <QSettings>
#include <filesystem>
#include <fstream>

#include "app/handover/handover_panel.h"
#include "core/files/files.h"
#include "tests/app/room.h"
#include "tests/support/folder.h"

using namespace bricol;
using namespace bricol::test;
namespace fs = std::filesystem;

namespace {

HandoverPanel& handover_of(Room& room) { return room.panel<HandoverPanel>(Qt::Key_E, "handoverPanel"); }

void fill(Room& room, const QString& name, const QString& text) {
    auto* field = room.find<QLineEdit>(name);
    REQUIRE(field);
    room.click(field);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type(text);
    room.key(Qt::Key_Tab);
    CHECK(field->text() == text);
}

void tick(Room& room, const QString& name, bool on) {
    auto* box = room.find<QCheckBox>(name);
    REQUIRE(box);
    if (box->isChecked() != on) room.click(room.in_window(box, QPoint(9, box->height() / 2)));
    CHECK(box->isChecked() == on);
}

QString problem_of(Room& room) { return room.window.findChild<QLabel*>("handoverProblem")->text(); }

}  // namespace

TEST_CASE("the tab hands the lantern over, tells what stays out, and remembers its settings", "[app][handover]") {
    const Folder folder;
    QSettings().remove("handover");
    const QString lantern = QString(SOURCE_FOLDER) + "/demo/lantern.bricol";
    {
        Room room(lantern);
        HandoverPanel& panel = handover_of(room);
        auto* start = room.find<QPushButton>("handoverStart");
        room.click(start);
        CHECK(problem_of(room).contains("no folder"));
        fill(room, "handover:folder", QString::fromStdString(folder / "out"));
        fill(room, "handover:levels", "50, 60");
        room.click(start);
        CHECK(problem_of(room).contains("each less than the one before"));
        CHECK_FALSE(fs::exists(folder / "out"));
        fill(room, "handover:levels", "50, 25");
        tick(room, "handover:kind.usda", true);
        tick(room, "handover:light", true);
        tick(room, "handover:kind.stl", true);
        room.click(start);
        CHECK(start->text() == "Stop");
        REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy() && start->text() == "Hand over"; }, 30000));
        INFO(problem_of(room).toStdString());
        CHECK(problem_of(room).isEmpty());
        for (const char* name :
             {"Quay_lantern.glb", "Quay_lantern.usda", "Quay_lantern.stl", "preview.html", "handover.json"})
            CHECK(fs::exists(folder / (std::string("out/") + name)));
        CHECK(panel.findChildren<QPushButton*>("handedFile").size() == 4);
        bool told = false;
        for (const QLabel* note : panel.findChildren<QLabel*>("handoverNote"))
            told |= note->text().contains("STL") && note->text().contains("neither levels");
        CHECK(told);
        CHECK(read_file(folder / "out/Quay_lantern.usda")->find("\"Squat\" {") != std::string::npos);
    }
    Room again(lantern);
    handover_of(again);
    CHECK(again.find<QLineEdit>("handover:levels")->text() == "50, 25");
    CHECK(again.find<QCheckBox>("handover:kind.usda")->isChecked());
    QSettings().remove("handover");
}

TEST_CASE("a hand-over is stopped from the tab, and a broken recipe is not handed over", "[app][handover]") {
    const Folder folder;
    QSettings().remove("handover");
    {
        std::ofstream(folder / "slow.bricol") << R"({"bricol": 1, "parts": [{"name": "p", "steps": [
               {"id": "g", "step": "grid", "across": 200, "deep": 200},
               {"id": "s", "step": "subdivide", "levels": 1, "export_levels": 3}]}]})";
    }
    Room room(QString::fromStdString(folder / "slow.bricol"));
    HandoverPanel& panel = handover_of(room);
    fill(room, "handover:folder", QString::fromStdString(folder / "out"));
    auto* start = room.find<QPushButton>("handoverStart");
    room.click(start);
    CHECK(panel.job().busy());
    QTest::qWait(100);
    room.click(start);
    CHECK_FALSE(panel.job().busy());
    CHECK(start->text() == "Hand over");
    QTest::qWait(50);
    CHECK_FALSE(fs::exists(folder / "out/handover.json"));

    {
        std::ofstream(folder / "broken.bricol") << R"json({"bricol": 1, "parts": [{"name": "p", "steps": [
                 {"id": "b", "step": "box", "size": ["= sqrt(0 - 1)", 1, 1]}]}]})json";
    }
    REQUIRE(room.window.open(QString::fromStdString(folder / "broken.bricol")));
    room.click(start);
    REQUIRE(QTest::qWaitFor([&] { return !panel.job().busy() && !problem_of(room).isEmpty(); }, 10000));
    CHECK(problem_of(room).contains("errors"));
    QSettings().remove("handover");
}
