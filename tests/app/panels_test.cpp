// SPDX-License-Identifier: GPL-3.0-or-later
// Panels one by one: parts, dials, details, add bar, strip branches, clipboard, keyboard.
#include <QClipboard>
#include <QCheckBox>
#include <QComboBox>
#include <QAbstractItemView>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QTabBar>

#include "app/document/step_edits.h"
#include "app/dials/dials_panel.h"
#include "app/dials/slider.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

namespace {

QPoint part_row(Room& room, int row) {
    auto* list = room.find<QListWidget>("parts");
    REQUIRE(list);
    return list->viewport()->mapTo(&room.window, list->visualItemRect(list->item(row)).center());
}

}  // namespace

TEST_CASE("parts are chosen, hidden, renamed and deleted", "[app][parts]") {
    Room room(demo_file);
    room.click(part_row(room, 2));
    CHECK(room.session().part() == "bollard");
    CHECK(room.session().step() == "place");
    const auto faces = room.session().made()->faces(room.recipe());
    room.pick([&] { room.click(part_row(room, 1), {}, Qt::RightButton); }, "Hide");
    CHECK(room.recipe().part("belt")->hidden);
    room.settle();
    CHECK(room.session().made()->faces(room.recipe()) < faces);
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, part_row(room, 2));
    QTest::qWait(30);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("Quay post");
    room.key(Qt::Key_Return);
    REQUIRE(room.recipe().part("quay_post"));
    CHECK(room.session().part() == "quay_post");
    // A name that is taken is refused, and the choice stays.
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, part_row(room, 2));
    QTest::qWait(30);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("body");
    room.key(Qt::Key_Return);
    CHECK(room.session().part() == "quay_post");
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.session().part() == "bollard");
    room.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(room.session().part() == "quay_post");
    room.pick([&] { room.click(part_row(room, 2), {}, Qt::RightButton); }, "Delete");
    CHECK(room.recipe().parts.size() == 2);
    for (int i = 0; i < 3; ++i) room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.recipe().part("bollard"));
    CHECK_FALSE(room.recipe().part("belt")->hidden);
}

TEST_CASE("a helper is seen as wire, and is neither counted nor in a picture", "[app][parts]") {
    Room room(demo_file);
    const auto faces = room.session().made()->faces(room.recipe());
    const std::size_t belt = room.part("belt").measures.faces;
    REQUIRE(belt > 0);
    const QImage before = room.window.viewport().picture({400, 300}), seen = room.window.viewport().grab().toImage();
    room.pick([&] { room.click(part_row(room, 1), {}, Qt::RightButton); }, "Helper");
    room.settle();
    CHECK(room.recipe().part("belt")->helper);
    CHECK(room.session().made()->faces(room.recipe()) == faces - belt);
    const QImage helper = room.window.viewport().picture({400, 300}), wire = room.window.viewport().grab().toImage();
    CHECK(helper != before);
    CHECK(wire != seen);
    // In the picture it is as if hidden; in the view it is not.
    room.pick([&] { room.click(part_row(room, 1), {}, Qt::RightButton); }, "Hide");
    room.settle();
    CHECK(room.window.viewport().picture({400, 300}) == helper);
    room.session().choose_part("body");
    room.settle();
    const QImage hidden = room.window.viewport().grab().toImage();
    room.pick([&] { room.click(part_row(room, 1), {}, Qt::RightButton); }, "Show");
    room.settle();
    CHECK(room.window.viewport().grab().toImage() != hidden);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK_FALSE(room.recipe().part("belt")->helper);
}

TEST_CASE("a dial is named, ranged and taken away again", "[app][dials]") {
    Room room(demo_file);
    const auto menu_button = [&](const QString& dial) -> QWidget* {
        auto* field = room.find("dial:" + dial);
        REQUIRE(field);
        for (auto* b : field->parentWidget()->findChildren<QToolButton*>("quiet")) return b;
        return nullptr;
    };
    room.pick([&] { room.click(menu_button("girth")); }, "Name and range");
    QTest::qWait(30);
    auto* name = room.find<QLineEdit>("dialName");
    REQUIRE(name);
    room.click(name);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("Wide");
    room.enter("dialHigh", "2.5");
    {  // the form stands inside its panel, nothing cut off
        QWidget* done = room.find("dialDone");
        REQUIRE(done);
        auto* panels = room.window.findChild<DialsPanel*>();
        REQUIRE(panels);
        const QWidget* seen = panels->findChild<QScrollArea*>()->viewport();
        CHECK(done->mapTo(seen, QPoint(done->width(), 0)).x() <= seen->width());
    }
    room.click(room.find("dialDone"));
    REQUIRE(room.recipe().dial("wide"));
    CHECK(room.recipe().dial("wide")->high == Approx(2.5));
    CHECK(room.step("body", "profile").settings["curves"][0]["knots"][3]["at"][0] == "= wide * 0.5");
    const double volume = *room.part("body").measures.volume;
    room.pick([&] { room.click(menu_button("wide")); }, "Delete");
    CHECK_FALSE(room.recipe().dial("wide"));
    CHECK(*room.part("body").measures.volume == Approx(volume));  // its value stayed in every formula
}

TEST_CASE("dials take typed units and refuse formulas and values outside", "[app][dials]") {
    Room room(demo_file);
    room.enter("dial:girth", "120 cm");
    CHECK(room.recipe().dial("girth")->value == Approx(1.2));
    CHECK(room.part("body").measures.box->size().x == Approx(1.2).epsilon(1e-4));
    room.enter("dial:girth", "9");
    CHECK(room.said().contains("outside"));
    CHECK(room.recipe().dial("girth")->value == Approx(1.2));
    room.key(Qt::Key_Escape);
    room.enter("dial:girth", "= height");
    CHECK(room.said().contains("plain number"));
    CHECK(room.recipe().dial("girth")->value == Approx(1.2));
    // The slider answers to the keyboard.
    auto* slider = room.find<Slider>("slider:sides");
    room.click(room.in_window(slider, QPoint(slider->handle_x(), 8)));
    const double before = room.recipe().dial("sides")->value;
    room.key(Qt::Key_Right);
    CHECK(room.recipe().dial("sides")->value == before + 1);
}

TEST_CASE("choices, toggles and inputs change the recipe", "[app][details]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    auto* caps = room.find<QCheckBox>("toggle:caps");
    REQUIRE(caps);
    room.click(room.in_window(caps, QPoint(8, caps->height() / 2)));
    CHECK(room.step("body", "turn").settings["caps"] == false);
    room.choose_entry("choice:side", 1);
    CHECK(room.step("body", "turn").settings["side"] == "inner");
    // A step with several inputs lists the steps and parts it can take.
    REQUIRE(add_step(room.session(), *find_step_info("merge")));
    room.settle();
    auto* with = room.find<QComboBox>("input:with");
    REQUIRE(with);
    CHECK(with->findData("part:bollard") > 0);
    with->setCurrentIndex(with->findData("part:bollard"));
    emit with->activated(with->currentIndex());
    CHECK(room.step("body", "merge").inputs.at("with") == "part:bollard");
    CHECK(room.part("body").measures.faces > 1900);
    // A circle is refused, and nothing changes.
    const Recipe before = room.recipe();
    CHECK_FALSE(room.session().edit(link_input(room.recipe(), "body", "turn", "shape", "merge"), "Link"));
    CHECK(room.said().contains("circle"));
    CHECK(same(room.recipe(), before));
}

namespace {

/// A ring whose bore a dial asks for and a block holds at 80 mm, telling so.
Json held_ring(double bore) {
    Json recipe = Json::parse(
        R"json({"bricol":1,"dials":[{"name":"bore","value":0.07,"min":0.01,"max":0.2}],"parts":[{"name":"ring","steps":[
        {"id":"blank","step":"cylinder","radius":"= held.value","height":0.02},
        {"id":"held","step":"limit","wanted":"= bore","hold":"most","most":0.08,"as":"length"}]}]})json");
    recipe["dials"][0]["value"] = bore;
    return recipe;
}

}  // namespace

TEST_CASE("a block beside the strip shows on its card that it has something to say", "[app][strip]") {
    Room room;
    room.open_recipe(held_ring(0.09));
    const auto marked = [&] {
        const QRect card = room.window.strip().card_rect("held");
        REQUIRE_FALSE(card.isEmpty());
        const QImage strip = room.window.strip().grab().toImage();
        return strip.pixelColor(card.right() - 3, card.top() + 12) == theme::color(theme::Role::caution);
    };
    CHECK(marked());
    CHECK(box_of(*room.part("ring").shape)->size().x == Approx(0.16));
    CHECK(room.session().edit(turn_dial(room.recipe(), "bore", 0.07), "Turn"));  // what the finding says to do
    room.settle();
    CHECK_FALSE(marked());
    CHECK(box_of(*room.part("ring").shape)->size().x == Approx(0.14));
}

TEST_CASE("the list of findings is true whenever it is looked at, however much was changed before", "[app][findings]") {
    Room room;
    room.open_recipe(held_ring(0.07));
    auto* tabs = room.find<QTabBar>("bandTabs");
    REQUIRE(tabs);
    const auto tab_called = [&](const QString& name) {
        for (int i = 0; i < tabs->count(); ++i)
            if (tabs->tabText(i).startsWith(name)) return i;
        return -1;
    };
    const auto turn = [&](double bore) {
        CHECK(room.session().edit(turn_dial(room.recipe(), "bore", bore), "Turn"));
        room.settle();
    };
    const auto shown = [&] {  // what stands in it, line by line
        QStringList lines;
        for (const auto* link : room.find<QScrollArea>("findingsList")->findChildren<QPushButton*>("link"))
            if (link->isVisible()) lines << link->text();
        return lines;
    };
    const auto look = [&] {
        room.click(room.in_window(tabs, tabs->tabRect(tab_called("Findings")).center()));
        QTest::qWait(20);
    };
    CHECK(tabs->tabText(tab_called("Findings")) == "Findings");
    turn(0.09);  // nobody looks at the list yet, but its tab counts
    CHECK(tabs->tabText(tab_called("Findings")) == "Findings  1");
    look();
    CHECK(shown().contains("ring › held"));
    turn(0.06);
    CHECK_FALSE(shown().contains("ring › held"));
    CHECK(tabs->tabText(tab_called("Findings")) == "Findings");
    room.click(room.in_window(tabs, tabs->tabRect(tab_called("Strip")).center()));
    turn(0.1);
    look();
    CHECK(shown().contains("ring › held"));
}

TEST_CASE("a second input is tucked under its card and opens as a strip of its own", "[app][strip]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    REQUIRE(add_step(room.session(), *find_step_info("sphere")));
    room.settle();
    CHECK(room.session().peek() == "sphere");  // a branch of its own is looked at until it is linked
    CHECK(room.part("body").measures.faces == 1152);
    room.session().choose("body", "turn");
    REQUIRE(add_step(room.session(), *find_step_info("merge")));
    room.session().edit(link_input(room.recipe(), "body", "merge", "with", "sphere"), "Link");
    room.settle();
    CHECK(room.part("body").measures.faces == 1152 + 512);
    CHECK(room.window.strip().card_rect("sphere").isEmpty());  // tucked, not in the row
    const QRect card = room.window.strip().card_rect("merge");
    room.click(room.in_window(&room.window.strip(), QPoint(card.center().x(), card.bottom() + 22)));
    CHECK(room.session().step() == "sphere");
    CHECK_FALSE(room.window.strip().card_rect("sphere").isEmpty());
    room.window.strip().setFocus();
    room.key(Qt::Key_Escape);
    CHECK_FALSE(room.window.strip().card_rect("merge").isEmpty());
}

TEST_CASE("steps are copied and pasted as text", "[app][strip]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    room.key(Qt::Key_C, Qt::ControlModifier);
    CHECK(QApplication::clipboard()->text().contains("\"lathe\""));
    room.session().choose("bollard", "turn");
    room.window.strip().setFocus();
    room.key(Qt::Key_V, Qt::ControlModifier);
    CHECK(room.recipe().part("bollard")->steps[2]->type == "lathe");
    CHECK(room.recipe().part("bollard")->steps[2]->id == "turn2");
    QApplication::clipboard()->setText("not a step");
    room.key(Qt::Key_V, Qt::ControlModifier);
    CHECK(room.said().contains("holds no step"));
    CHECK(room.recipe().part("bollard")->steps.size() == 4);
}

TEST_CASE("the strip is walked with the keyboard", "[app][strip]") {
    Room room(demo_file);
    room.click(part_row(room, 2));
    room.click(room.card("place"));
    room.key(Qt::Key_Left);
    CHECK(room.session().step() == "turn");
    room.key(Qt::Key_Home);
    CHECK(room.session().step() == "profile");
    room.key(Qt::Key_Left);
    CHECK(room.session().step() == "profile");
    room.key(Qt::Key_End);
    CHECK(room.session().step() == "place");
    room.key(Qt::Key_K);
    CHECK(room.step("bollard", "place").skipped);
    room.key(Qt::Key_D, Qt::ControlModifier);
    CHECK(room.recipe().part("bollard")->steps.size() == 4);
    room.key(Qt::Key_Delete);
    CHECK(room.recipe().part("bollard")->steps.size() == 3);
}

TEST_CASE("the add bar scores names above words above purposes", "[app][addbar]") {
    const auto best = [](const QString& typed) {
        const StepInfo* found = nullptr;
        int score = 0;
        for (const StepInfo* info : all_steps())
            if (const int s = match_score(*info, typed); s > score) score = s, found = info;
        return found ? std::string(found->key) : std::string();
    };
    CHECK(best("lathe") == "lathe");
    CHECK(best("lat") == "lathe");
    CHECK(best("revolve") == "lathe");
    CHECK(best("cube") == "box");
    CHECK(best("reflect") == "mirror");
    CHECK(best("catmull") == "subdivide");
    CHECK(best("ball") == "sphere");
    CHECK(best("xyzzy").empty());
}

TEST_CASE("units and budget change what is said, not what is made", "[app]") {
    Room room(demo_file);
    const double volume = *room.part("body").measures.volume;
    Recipe recipe = room.recipe();
    recipe.unit = "mm";
    recipe.budget = 2000;
    room.session().edit(recipe, "Change the unit");
    room.settle();
    CHECK(room.find<QLabel>("boxChip")->text() == "940 × 940 × 1480 mm");
    CHECK(room.find<NumberField>("dial:girth")->text() == "940");
    room.enter("dial:girth", "950");
    CHECK(room.recipe().dial("girth")->value == Approx(0.95));
    CHECK(*room.part("body").measures.volume > volume);
    CHECK(room.find<QLabel>("status")->text().contains("of 2"));
    CHECK(room.find<QLabel>("status")->toolTip().contains("Over the budget"));
    recipe.budget = 0;  // none
    room.session().edit(recipe, "No budget");
    room.settle();
    CHECK_FALSE(room.find<QLabel>("status")->text().contains(" of "));
    CHECK(room.find<QLabel>("status")->text().contains(" faces · "));
}

TEST_CASE("typing in a field never triggers a key of the window", "[app][numbers]") {
    Room room(demo_file);
    room.click(room.card("turn"));
    auto* note = room.find<QLineEdit>("note");
    room.click(note);
    room.type("pkgd/123");
    CHECK(note->text() == "pkgd/123");
    CHECK(room.session().peek().empty());
    CHECK_FALSE(room.step("body", "turn").skipped);
    room.key(Qt::Key_Delete);
    CHECK(room.recipe().part("body")->steps.size() == 2);
    room.key(Qt::Key_Return);
    CHECK(room.step("body", "turn").note == "pkgd/123");
}

TEST_CASE("the newest request wins and every state is reached", "[app][make]") {
    Room room(demo_file);
    for (int i = 0; i < 60; ++i)
        room.session().edit(turn_dial(room.recipe(), "girth", 0.7 + i * 0.01), "Turn", "dial girth");
    room.settle();
    CHECK(room.part("body").measures.box->size().x == Approx(0.7 + 59 * 0.01).epsilon(1e-3));
    CHECK(room.session().history().position() == 1);
}

TEST_CASE("a preset is gone to by one click and left by the next, kept under a name, changed and removed",
          "[app][dials]") {
    Room room(QString(SOURCE_FOLDER) + "/demo/lantern.bricol");
    const auto preset = [&](const QString& name) -> QPushButton* {
        for (auto* button : room.window.findChildren<QPushButton*>("preset"))
            if (button->text() == name && button->isVisible()) return button;
        return nullptr;
    };
    const double height = room.recipe().dial("height")->value;
    const auto& before = room.part("glass");
    const double tall = before.measures.box->size().z;
    REQUIRE(preset("Squat"));
    CHECK(preset("Anchor light")->isChecked());
    room.click(preset("Squat"));
    CHECK(room.recipe().dial("height")->value < height);
    CHECK(room.recipe().dial("fittings")->word() == "steel");
    CHECK(room.part("glass").measures.box->size().z < tall);
    CHECK(preset("Squat")->isChecked());
    CHECK_FALSE(preset("Anchor light")->isChecked());
    room.click(preset("Squat"));
    CHECK(room.recipe().dial("height")->value == height);
    CHECK(preset("Anchor light")->isChecked());

    for (auto* button : room.window.findChildren<QToolButton*>())
        if (button->property("does") == "keep preset") room.click(button);
    QTest::qWait(20);
    auto* name = room.find<QLineEdit>("presetName");
    REQUIRE(name);
    CHECK(name->text() == "Preset 1");
    room.type("Mine");
    room.key(Qt::Key_Return);
    REQUIRE(room.recipe().preset("Mine"));
    QTest::qWait(20);
    room.enter("dial:height", "30 cm");
    room.pick([&] { room.click(room.middle(preset("Mine")), {}, Qt::RightButton); }, "Keep the dials as they stand");
    CHECK(room.recipe().preset("Mine")->dials.at("height") == 0.3);
    room.pick([&] { room.click(room.middle(preset("Mine")), {}, Qt::RightButton); }, "Remove");
    CHECK_FALSE(room.recipe().preset("Mine"));
    CHECK(room.recipe().presets.size() == 4);
}

TEST_CASE("words, boxes and swatches turn dials, and a dial hides what it rules", "[app][dials]") {
    Room room(QString(SOURCE_FOLDER) + "/demo/lantern.bricol");
    const auto metal = [&] { return materials_of(*room.part("cap").shape).front().name; };
    CHECK(metal() == "brass");
    auto* dials = room.find<DialsPanel>("panel");
    for (auto* panel : room.window.findChildren<DialsPanel*>()) dials = panel;
    REQUIRE(dials);
    const auto word = [&](const QString& text) -> QPushButton* {
        for (auto* button : dials->findChildren<QPushButton*>("word"))
            if (button->text() == text) return button;
        return nullptr;
    };
    auto* area = dials->findChild<QScrollArea*>();
    const auto bring = [&](QWidget* widget) {
        REQUIRE(widget);
        area->ensureWidgetVisible(widget);
        QTest::qWait(10);
    };
    bring(word("zinc"));
    room.click(word("zinc"));
    CHECK(room.recipe().dial("fittings")->word() == "zinc");
    CHECK(metal() == "galvanised zinc");
    CHECK(word("zinc")->isChecked());
    CHECK_FALSE(word("brass")->isChecked());

    CHECK(dials->findChild<NumberField*>("dial:brightness"));
    auto* lit = dials->findChild<QCheckBox*>("dial:lit");
    bring(lit);
    room.click(lit);
    CHECK(room.recipe().dial("lit")->value == 0);
    CHECK(room.part("flame").shape->face_count() > 0);
    CHECK(glm::length(materials_of(*room.part("flame").shape).front().emission) == 0);
    QTest::qWait(30);
    CHECK_FALSE(dials->findChild<NumberField*>("dial:brightness"));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    QTest::qWait(30);
    CHECK(dials->findChild<NumberField*>("dial:brightness"));
    bool heading = false;
    for (auto* label : dials->findChildren<QLabel*>()) heading |= label->text() == "Finish";
    CHECK(heading);
}

TEST_CASE("a choice, a box and a colour of a step are made dials and let go again", "[app][dials][details]") {
    Room room(QString(SOURCE_FOLDER) + "/demo/lantern.bricol");
    room.session().choose("handle", "metal");
    QTest::qWait(20);
    const auto menu_of = [&](const QString& key) {
        for (auto* button : room.window.findChildren<QToolButton*>("quiet"))
            if (button->property("row") == key && button->isVisible()) return button;
        return static_cast<QToolButton*>(nullptr);
    };
    REQUIRE(menu_of("kit"));
    room.pick([&] { room.click(menu_of("kit")); }, "Make it a dial");
    REQUIRE(room.recipe().dial("material"));
    CHECK(room.recipe().dial("material")->kind == DialKind::choice);
    CHECK(room.recipe().dial("material")->word() == "zinc");
    CHECK(room.step("handle", "metal").settings["kit"] == "= material");
    CHECK(materials_of(*room.part("handle").shape).front().name == "galvanised zinc");
    room.pick([&] { room.click(menu_of("kit")); }, "Keep the value, drop the formula");
    CHECK(room.step("handle", "metal").settings["kit"] == "zinc");
    room.pick([&] { room.click(menu_of("kit")); }, "Link to", "fittings");
    CHECK(room.step("handle", "metal").settings["kit"] == "= fittings");
    CHECK(materials_of(*room.part("handle").shape).front().name == "brass");
}
