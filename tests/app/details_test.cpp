// SPDX-License-Identifier: GPL-3.0-or-later
// The panel of the one step in hand: its head, its rows, and what the menus beside them do.
#include <fmt/format.h>

#include <QDialogButtonBox>
#include <QFileDialog>
#include <QHelpEvent>
#include <QToolButton>
#include <QToolTip>

#include "app/details/details_panel.h"
#include "app/details/number_field.h"
#include "app/kinds/editor.h"
#include "app/theme/small_parts.h"
#include "core/files/files.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

Json strip_of(const Json& steps) {
    return {{"bricol", 1}, {"parts", Json::array({{{"name", "p"}, {"steps", steps}}})}};
}

/// The button beside the row of a number, of one component of a vector where one is asked for.
QToolButton* menu_of(Room& room, const QString& row) {
    for (auto* button : room.window.findChildren<QToolButton*>("quiet"))
        if (button->property("row") == row && button->isVisible()) return button;
    return nullptr;
}

Json two_boxes() {
    return Json::array({{{"id", "block"}, {"step", "box"}, {"size", Json::array({1, 2, 3})}},
                        {{"id", "moved"}, {"step", "transform"}, {"move", Json::array({0, 0, 0})}}});
}

}  // namespace

TEST_CASE("a component of a vector is linked to a component of another, and alone let go again", "[app][details]") {
    Room room;
    room.open_recipe(strip_of(two_boxes()));
    room.session().choose("p", "moved");
    QTest::qWait(30);
    REQUIRE(menu_of(room, "move.y"));
    room.pick([&] { room.click(menu_of(room, "move.y")); }, "Link to", "block", "Size y");
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, "= block.size.y", 0}));
    CHECK(room.part("p").measures.box->low.y == Approx(1));  // from -1 to 1, moved by the two metres it is long
    // What is asked for changes; the component follows.
    room.session().edit(set_setting(room.recipe(), "p", "block", "/size/1", 4), "Change");
    CHECK(room.part("p").measures.box->low.y == Approx(2));
    room.pick([&] { room.click(menu_of(room, "move.y")); }, "Go to block.size.y");
    CHECK(room.session().step() == "block");
    room.session().choose("p", "moved");
    QTest::qWait(30);
    room.pick([&] { room.click(menu_of(room, "move.z")); }, "Link to", "block, made", "size.z");
    room.pick([&] { room.click(menu_of(room, "move.y")); }, "Keep the value, drop the formula");
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, 4, "= block.made.size.z"}));
    room.pick([&] { room.click(menu_of(room, "move.z")); }, "Reset");
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, 4, 0}));
    // One component as a dial; the others stay numbers.
    room.pick([&] { room.click(menu_of(room, "move.x")); }, "Make it a dial");
    REQUIRE(room.recipe().dials.size() == 1);
    const std::string dial = room.recipe().dials.front().name;
    CHECK(room.step("p", "moved").settings["move"] == Json::array({"= " + dial, 4, 0}));
    for (int i = 0; i < 8; ++i) room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, 0, 0}));
}

TEST_CASE("a step gets another name in formulas, and what reads it follows", "[app][details]") {
    Room room;
    Json steps = two_boxes();
    steps[1]["move"] = Json::array({0, "= block.size.y", 0});
    room.open_recipe(strip_of(steps));
    const auto named = [&](const char* word) {
        QTest::qWait(30);
        auto* field = room.window.findChild<QLineEdit*>("stepId");
        REQUIRE(field);
        room.click(field);
        field->selectAll();
        QTest::keyClicks(field, word);
        QTest::keyClick(field, Qt::Key_Return);
        QTest::qWait(30);
    };
    room.session().choose("p", "block");
    named("crate");
    CHECK(room.session().step() == "crate");
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, "= crate.size.y", 0}));
    CHECK(room.part("p").measures.box->low.y == Approx(1));
    // A name that is taken, and one no formula could read, change nothing and say why.
    for (const auto& [word, why] : {std::pair{"moved", "already a step"}, std::pair{"4 corners", "4 corners"}}) {
        named(word);
        CHECK(room.said().contains(why));
        CHECK(room.session().step() == "crate");
        CHECK(room.window.findChild<QLineEdit*>("stepId")->text() == "crate");
    }
    // What is chosen, and looked at, stays chosen under whichever name it has.
    room.session().set_peek("crate");
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.step("p", "moved").settings["move"] == Json::array({0, "= block.size.y", 0}));
    CHECK(room.session().step() == "block");
    CHECK(room.session().peek() == "block");
    room.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(room.session().step() == "crate");
    // Knots that were chosen stay so.
    room.session().choose_knots(0, {1});
    named("bin");
    CHECK(room.session().step() == "bin");
    CHECK(room.session().knots() == std::set<int>{1});
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.session().step() == "crate");
    CHECK(room.session().knots() == std::set<int>{1});
    // A step that goes is not taken for one that is called otherwise.
    room.session().edit(remove_step(room.recipe(), "p", "crate"), "Delete");
    CHECK(room.session().step() == "moved");
    CHECK(room.session().peek().empty());
}

TEST_CASE("a long name in the details' head is shortened in sight and whole in its tooltip", "[app][details][layout]") {
    Room room;
    Json steps = two_boxes();
    room.open_recipe(strip_of(steps));
    room.session().choose("p", "block");
    QTest::qWait(30);
    auto* panel = room.window.findChild<DetailsPanel*>();
    REQUIRE(panel);
    const int usual = panel->width();
    steps[0]["name"] = "The upper of the two mooring blocks that stand at the end of the slipway";
    room.open_recipe(strip_of(steps));
    room.session().choose("p", "block");
    QTest::qWait(50);
    CHECK(panel->width() == usual);
    CHECK(room.window.minimumSizeHint().width() <= 1280);
    HeadLabel* head = nullptr;
    for (auto* label : panel->findChildren<HeadLabel*>())
        if (label->text().contains("slipway")) head = label;
    REQUIRE(head);
    CHECK(room.in_window(head, head->rect().topRight()).x() < room.window.width());
    CHECK(head->fontMetrics().horizontalAdvance(head->text()) > head->width());
    const QPoint middle = head->rect().center();
    QHelpEvent ask(QEvent::ToolTip, middle, head->mapToGlobal(middle));
    QApplication::sendEvent(head, &ask);
    REQUIRE(QTest::qWaitFor([] { return QToolTip::isVisible(); }, 2000));
    CHECK(QToolTip::text().contains("slipway"));
    CHECK(QToolTip::text().contains("block"));  // the name formulas know it by
    QToolTip::hideText();
}

TEST_CASE("a choice too long for its field is shortened, not cut through", "[app][details][layout]") {
    Room room;
    room.open_recipe(
        strip_of(Json::array({{{"id", "block"}, {"step", "box"}}, {{"id", "look"}, {"step", "material"}}})));
    room.session().choose("p", "look");
    QTest::qWait(30);
    auto* combo = room.find<Combo>("choice:kit");
    REQUIRE(combo);
    std::size_t longer = 0;
    for (int entry = 0; entry < combo->count(); ++entry) {
        combo->setCurrentIndex(entry);
        const QRect words = combo->words_room();
        if (combo->fontMetrics().horizontalAdvance(combo->currentText()) <= words.width()) continue;
        ++longer;
        INFO(combo->currentText().toStdString());
        const QImage seen = combo->grab().toImage();
        const qreal pixels = seen.devicePixelRatio();
        const int edge = static_cast<int>((words.right() + 1) * pixels);
        const QRgb empty = seen.pixel(edge, static_cast<int>(4 * pixels));
        for (int y = static_cast<int>(4 * pixels); y < seen.height() - 4 * pixels; ++y)
            CHECK(seen.pixel(edge, y) == empty);
    }
    CHECK(longer > 0);
}

TEST_CASE("a mesh's file is picked in the dialog, named from the recipe's folder, and read again when it changes",
          "[app][details][import]") {
    Room room;
    const std::string folder = room.folder.path().toStdString();
    const auto plate = [&](double length) {
        return fmt::format("v 0 0 0\nv {0} 0 0\nv {0} 1 0\nv 0 1 0\nf 1 2 3 4\n", length);
    };
    REQUIRE_FALSE(write_file(folder + "/plate.obj", plate(2)));
    room.open_recipe(strip_of(Json::array({{{"id", "in"}, {"step", "mesh_from_file"}, {"up", "z"}, {"unit", "m"}}})));
    room.session().choose("p", "in");
    QTest::qWait(30);
    auto* field = room.find<QLineEdit>("kit:file");
    REQUIRE(field);
    CHECK(field->text().isEmpty());
    QToolButton* choose = nullptr;
    for (auto* button : field->parentWidget()->findChildren<QToolButton*>())
        if (button->text() == "…") choose = button;
    REQUIRE(choose);
    QTimer look;
    bool seen = false;
    QObject::connect(&look, &QTimer::timeout, [&] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        look.stop();
        seen = true;
        CHECK(dialog->nameFilters().join(" ").contains("obj"));
        dialog->findChild<QLineEdit*>()->setText(room.folder.filePath("plate.obj"));
        QTest::mouseClick(dialog->findChild<QDialogButtonBox*>()->button(QDialogButtonBox::Open), Qt::LeftButton);
    });
    look.start(50);
    room.click(choose);
    REQUIRE(QTest::qWaitFor([&] { return seen; }, 5000));
    QTest::qWait(30);
    CHECK(room.step("p", "in").settings["file"] == "plate.obj");
    CHECK(room.part("p").measures.box->size().x == Approx(2));
    CHECK(room.part("p").measures.faces == 1);
    REQUIRE_FALSE(write_file(folder + "/plate.obj", plate(5)));
    CHECK(QTest::qWaitFor(
        [&] {
            const PartOutcome* made = room.session().made() ? room.session().made()->part(room.recipe(), "p") : nullptr;
            return made && made->measures.box && std::abs(made->measures.box->size().x - 5) < 1e-6;
        },
        10000));
    // A name that leads nowhere is told at the step, and the recipe keeps it.
    room.click(field);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("gone.obj");
    room.key(Qt::Key_Return);
    room.settle();
    CHECK(room.step("p", "in").settings["file"] == "gone.obj");
    const StepOutcome* made = room.session().outcome("p", "in");
    REQUIRE(made);
    REQUIRE(made->findings.size() == 1);
    CHECK(made->findings.front().text.find("gone.obj") != std::string::npos);
}

TEST_CASE("rows that other settings rule come and go with them, and keep what was typed", "[app][details]") {
    Room room;
    room.open_recipe(
        strip_of(Json::array({{{"id", "block"}, {"step", "box"}}, {{"id", "many"}, {"step", "array"}, {"count", 3}}})));
    room.session().choose("p", "many");
    QTest::qWait(30);
    const auto rows = [&] {
        QStringList seen;
        for (auto* field : room.window.findChildren<NumberField*>())
            if (field->isVisible() && field->objectName().startsWith("number:")) seen << field->objectName().mid(7);
        return seen;
    };
    const auto copies = [&] { return room.part("p").shape->instances.at(0).count(); };
    CHECK(rows().contains("count"));
    CHECK(rows().contains("offset.x"));
    CHECK_FALSE(rows().contains("total"));
    CHECK_FALSE(rows().contains("counts.x"));
    room.enter("number:offset.x", "0.75");
    CHECK(copies() == 3);
    // Round an axis: an angle instead of a step.
    room.choose_entry("choice:kind", 1);
    CHECK(room.step("p", "many").settings["kind"] == "radial");
    CHECK(rows().contains("count"));
    CHECK(rows().contains("total"));
    CHECK_FALSE(rows().contains("offset.x"));
    CHECK_FALSE(rows().contains("each"));  // ruled by a choice that has just come
    room.choose_entry("choice:angle_by", 1);
    CHECK(rows().contains("each"));
    CHECK_FALSE(rows().contains("total"));
    room.enter("number:each", "30");
    // On a grid: three counts; and back again nothing is lost of what was typed before.
    room.choose_entry("choice:kind", 2);
    CHECK(rows().contains("counts.z"));
    CHECK_FALSE(rows().contains("each"));
    CHECK(copies() == 4 * 4);
    room.choose_entry("choice:kind", 0);
    CHECK(room.step("p", "many").settings["offset"][0] == 0.75);
    CHECK(room.find<NumberField>("number:offset.x")->text() == "0.75");
    CHECK(room.part("p").measures.box->size().x == Approx(2 * 0.75 + 0.5));  // of three boxes half a metre wide
    room.choose_entry("choice:kind", 1);
    CHECK(room.find<NumberField>("number:each")->text().startsWith("30"));
    CHECK(room.step("p", "many").settings["each"] == 30);
}

TEST_CASE("units are read where they are typed, and a formula shows in the tooltip", "[app][details]") {
    Room room;
    room.open_recipe(
        strip_of(Json::array({{{"id", "block"}, {"step", "box"}}, {{"id", "many"}, {"step", "array"}, {"count", 3}}})));
    room.session().choose("p", "many");
    QTest::qWait(30);
    room.enter("number:count", "4");
    CHECK(room.step("p", "many").settings["count"] == 4);
    room.enter("number:offset.x", "250 mm");
    CHECK(room.step("p", "many").settings["offset"][0].get<double>() == Approx(0.25));
    room.enter("number:offset.x", "2 ft");
    CHECK(room.step("p", "many").settings["offset"][0].get<double>() == Approx(0.6096));  // the international foot
    room.enter("number:offset.x", "= 1/3");
    CHECK(room.step("p", "many").settings["offset"][0] == "= 1/3");
    room.settle();
    auto* field = room.find<NumberField>("number:offset.x");
    REQUIRE(field);
    CHECK(field->toolTip().contains("= 1/3"));
}
