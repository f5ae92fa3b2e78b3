// SPDX-License-Identifier: GPL-3.0-or-later
// The tabs Variants and Trial in the real window.
#include <QAbstractItemView>
#include <QCheckBox>
#include <QTemporaryDir>
#include <QLineEdit>
#include <QSpinBox>
#include <QTabBar>

#include "app/trial/trial_panel.h"
#include "app/variants/variants_panel.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

VariantsPanel& variants_of(Room& room) { return room.panel<VariantsPanel>(Qt::Key_A, "variantsPanel"); }

void set_box(Room& room, const QString& name, int value) {
    auto* box = room.find<QSpinBox>(name);
    REQUIRE(box);
    room.click(box->findChild<QLineEdit*>());
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type(QString::number(value));
    room.key(Qt::Key_Return);
    CHECK(box->value() == value);
}

void wait_for_pictures(VariantsPanel& panel) {
    REQUIRE(QTest::qWaitFor(
        [&] {
            return !panel.maker().busy() && panel.sheet().undrawn() == 0 &&
                   std::ranges::all_of(panel.sheet().cells(),
                                       [](const VariantCell& cell) { return cell.made != nullptr; });
        },
        20000));
}

QPoint cell_middle(Room& room, VariantsPanel& panel, std::size_t number) {
    const QRect rect = panel.sheet().cell_rect(number);
    REQUIRE(panel.sheet().viewport()->rect().contains(rect.center()));
    return room.in_window(panel.sheet().viewport(), rect.center());
}

void make_twelve(Room& room, VariantsPanel& panel) {
    set_box(room, "variantsCount", 12);
    room.click(room.find<QPushButton>("variantsMake"));
    REQUIRE(panel.sheet().cells().size() == 12);
    wait_for_pictures(panel);
}

}  // namespace

TEST_CASE("variants are made, seen, opened, pinned and thrown out", "[app][variants]") {
    Room room(demo_file);
    VariantsPanel& panel = variants_of(room);
    make_twelve(room, panel);
    int different = 0;
    for (const VariantCell& cell : panel.sheet().cells()) {
        REQUIRE_FALSE(cell.picture.isNull());
        CHECK(cell.made->shapes.empty());  // let go once it was drawn
        CHECK(cell.made->faces > 100);
        CHECK(cell.words.contains("girth"));
        different += cell.picture.toImage() != panel.sheet().cells()[0].picture.toImage();
    }
    CHECK(different == 11);
    // What a picture shows is what its dials make.
    const VariantCell& third = panel.sheet().cells()[2];
    const Made made = Maker().make(*with_dials(room.recipe(), third.dials));
    CHECK(made.faces(room.recipe()) == third.made->faces);

    room.click(cell_middle(room, panel, 2));
    room.click(room.find<QPushButton>("variantsOpen"));
    CHECK(room.recipe().dial("girth")->value == third.dials.at("girth").get<double>());
    CHECK(room.recipe().dial("sides")->value == third.dials.at("sides").get<double>());
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.recipe().dial("girth")->value == 0.94);

    room.click(room.find<QPushButton>("variantsPin"));
    REQUIRE(room.recipe().preset("Variant 3"));
    CHECK(room.recipe().preset("Variant 3")->dials.at("girth") == third.dials.at("girth"));
    CHECK(third.preset == "Variant 3");
    // A pin of another batch does not take this one's place.
    room.click(room.find<QPushButton>("variantsMake"));
    wait_for_pictures(panel);
    room.click(cell_middle(room, panel, 2));
    room.click(room.find<QPushButton>("variantsPin"));
    CHECK(room.recipe().preset("Variant 3, 2"));
    CHECK(room.recipe().presets.size() == 2);
    room.click(cell_middle(room, panel, 0));
    room.click(cell_middle(room, panel, 1), Qt::ControlModifier);
    CHECK(panel.sheet().chosen() == std::set<std::size_t>{0, 1});
    room.click(room.find<QPushButton>("variantsOut"));
    CHECK(panel.sheet().shown().size() == 10);
    CHECK(panel.sheet().shown().front() == 2);
    // With none chosen the same button brings them back.
    CHECK(room.find<QPushButton>("variantsOut")->text() == "Bring back");
    room.click(room.find<QPushButton>("variantsOut"));
    CHECK(panel.sheet().shown().size() == 12);
    CHECK_FALSE(room.find<QPushButton>("variantsOut")->isEnabled());
}

TEST_CASE("which dials vary is remembered recipe by recipe", "[app][variants]") {
    QTemporaryDir folder;
    const QString path = folder.filePath("own.bricol");
    REQUIRE(QFile::copy(demo_file, path));
    const auto tick = [](Room& room) {
        auto* box = room.find<QCheckBox>("varies:girth");
        REQUIRE(box);
        return box;
    };
    {
        Room room(path);
        VariantsPanel& panel = variants_of(room);
        CHECK(tick(room)->isChecked());
        room.click(room.in_window(tick(room), QPoint(8, tick(room)->height() / 2)));
        CHECK_FALSE(tick(room)->isChecked());
        make_twelve(room, panel);
        for (const VariantCell& cell : panel.sheet().cells()) CHECK_FALSE(cell.dials.contains("girth"));
    }
    {
        Room room(demo_file);
        variants_of(room);
        CHECK(tick(room)->isChecked());
    }
    Room room(path);
    variants_of(room);
    CHECK_FALSE(tick(room)->isChecked());
}

TEST_CASE("more like one, between two, two side by side", "[app][variants]") {
    Room room(demo_file);
    VariantsPanel& panel = variants_of(room);
    make_twelve(room, panel);
    const double low = panel.sheet().cells()[0].dials.at("girth").get<double>(),
                 high = panel.sheet().cells()[1].dials.at("girth").get<double>();
    room.click(cell_middle(room, panel, 0));
    room.click(cell_middle(room, panel, 1), Qt::ControlModifier);
    room.click(room.find<QPushButton>("variantsCompare"));
    auto* compare = room.find<CompareView>("compareView");
    REQUIRE(compare);
    REQUIRE(QTest::qWaitFor([&] { return !panel.comparing().busy(); }, 10000));
    QTest::qWait(50);
    const QImage before = compare->grab().toImage();
    const double yaw = compare->camera().yaw;
    const QPoint middle = room.middle(compare);
    room.drag(middle, middle + QPoint(80, 0));
    CHECK(compare->camera().yaw != yaw);
    CHECK(compare->grab().toImage() != before);
    room.key(Qt::Key_Escape);
    CHECK_FALSE(compare->isVisible());

    room.click(room.find<QPushButton>("variantsBetween"));
    wait_for_pictures(panel);
    for (const VariantCell& cell : panel.sheet().cells()) {
        const double girth = cell.dials.at("girth").get<double>();
        CHECK(girth > std::min(low, high));
        CHECK(girth < std::max(low, high));
    }
    room.click(cell_middle(room, panel, 1));
    const double centre = panel.sheet().cells()[1].dials.at("girth").get<double>();
    room.click(room.find<QPushButton>("variantsMore"));
    wait_for_pictures(panel);
    for (const VariantCell& cell : panel.sheet().cells())
        CHECK(std::abs(cell.dials.at("girth").get<double>() - centre) <= 0.121);
}

TEST_CASE("variants that break are told, come first when asked to, and are exported with an index", "[app][variants]") {
    QTemporaryDir folder;
    const QString file = folder.filePath("root.bricol");
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(R"json({"bricol": 1, "dials": [{"name": "n", "value": 1, "min": 1, "max": 6, "unit": "count"}],
        "parts": [{"name": "p", "steps": [{"id": "b", "step": "box", "size": ["= sqrt(0.5 - (n == 3))", 1, 1]}]}]})json");
    out.close();
    Room room(file);
    VariantsPanel& panel = variants_of(room);
    panel.make(*grid_plan(room.recipe(), "n=6"));
    wait_for_pictures(panel);
    CHECK(panel.sheet().cells()[2].made->errors > 0);
    CHECK(panel.sheet().cells()[3].made->errors == 0);
    auto* order = room.find<QComboBox>("variantsOrder");
    room.click(order);
    QTest::qWait(30);
    QTest::keyClick(order->view(), Qt::Key_Down);
    QTest::keyClick(order->view(), Qt::Key_Return);
    QTest::qWait(30);
    CHECK(panel.sheet().shown().front() == 2);
    const QString into = folder.filePath("variants");
    panel.export_to(into, false);
    REQUIRE(QTest::qWaitFor([&] { return QFile::exists(into + "/index.json"); }, 10000));
    QTest::qWait(50);
    CHECK(room.said().contains("1 broken"));
    // The sheet's order is the folder's: the broken one is its first.
    CHECK_FALSE(QFile::exists(into + "/0000.glb"));
    CHECK(QFile::exists(into + "/0001.glb"));
    CHECK(QFile::exists(into + "/index.csv"));
}

TEST_CASE("a trial shows where a dial breaks, opens what broke and narrows the dial", "[app][trial]") {
    QTemporaryDir folder;
    const QString file = folder.filePath("root.bricol");
    QFile out(file);
    REQUIRE(out.open(QIODevice::WriteOnly));
    out.write(R"json({"bricol": 1, "dials": [{"name": "a", "value": 1, "min": 0, "max": 2},
        {"name": "b", "value": 1, "min": 0, "max": 2}],
        "parts": [{"name": "p", "steps": [{"id": "b1", "step": "box", "size": [1, 1, "= b + 1"]},
            {"id": "t", "step": "transform", "size": ["= 0.1 + sqrt(1.5 - a)", 1, 1]}]}]})json");
    out.close();
    Room room(file);
    room.key(Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
    QTest::qWait(30);
    auto* panel = room.find<TrialPanel>("trialPanel");
    REQUIRE(panel);
    set_box(room, "trialSamples", 60);
    room.click(room.find<QPushButton>("trialStart"));
    REQUIRE(QTest::qWaitFor([&] { return panel->trial() != nullptr; }, 20000));
    QTest::qWait(30);
    CHECK(panel->trial()->broke > 0);
    auto* tabs = room.find<QTabBar>("bandTabs");
    CHECK(tabs->tabText(tabs->currentIndex()).startsWith("Trial  "));
    // A picture of what could still be made stands beside it.
    auto* picture = room.find<QLabel>("trialPicture");
    REQUIRE(picture);
    REQUIRE(QTest::qWaitFor([&] { return !picture->pixmap().isNull(); }, 20000));
    const QImage seen = picture->pixmap().toImage();
    CHECK(seen.pixel(seen.width() / 2, seen.height() / 2) != seen.pixel(1, 1));
    room.click(room.find<QPushButton>("trialFinding"));
    CHECK(room.recipe().dial("a")->value > 1.5);
    room.settle();
    CHECK(room.session().made()->has_errors());
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.click(room.find<QPushButton>("narrow:a"));
    CHECK(room.recipe().dial("a")->high <= 1.5);
    CHECK(room.recipe().dial("a")->high > 1.48);
    CHECK(room.recipe().dial("b")->high == 2);
    room.click(room.find<QPushButton>("trialStart"));
    REQUIRE(QTest::qWaitFor([&] { return panel->trial() != nullptr; }, 20000));
    CHECK(panel->trial()->holds());
}
