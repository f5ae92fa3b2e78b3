// SPDX-License-Identifier: GPL-3.0-or-later
// Names and functions offered while a formula is typed, in the real window.
#include <QLineEdit>
#include <QListWidget>

#include "tests/app/room.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

QStringList offered(Room& room) {
    QStringList names;
    for (auto* list : room.window.findChildren<QListWidget*>("formulaOffers"))
        if (list->isVisible())
            for (int i = 0; i < list->count(); ++i) names << list->item(i)->text();
    return names;
}

/// A number field of the chosen step with its text marked.
QLineEdit* field_in_hand(Room& room, const QString& name) {
    auto* field = room.find<QLineEdit>(name);
    REQUIRE(field);
    room.click(field);
    room.key(Qt::Key_A, Qt::ControlModifier);
    return field;
}

}  // namespace

TEST_CASE("a number field offers dials, functions and what was made, and puts them in", "[app][offers]") {
    Room room(demo_file);
    room.session().choose("body", "turn");
    QTest::qWait(30);
    auto* field = field_in_hand(room, "number:segments");
    room.type("= gir");
    CHECK(offered(room).contains("girth"));
    CHECK(offered(room).front() == "girth");
    room.key(Qt::Key_Tab);
    CHECK(field->text() == "= girth");
    CHECK(offered(room).isEmpty());
    CHECK(field->hasFocus());
    room.type(" * 40 + rou");
    REQUIRE(offered(room).contains("round("));
    // Down chooses, Enter puts in; a second Enter takes the formula.
    room.key(Qt::Key_Down);
    room.key(Qt::Key_Return);
    CHECK(field->text() == "= girth * 40 + " + offered(room).join("") + "round(");
    room.type("2.2)");
    room.key(Qt::Key_Return);
    CHECK(room.step("body", "turn").settings["segments"] == "= girth * 40 + round(2.2)");
    CHECK(room.part("body").measures.faces > 0);
    // What other steps gave.
    field_in_hand(room, "number:segments");
    room.type("= profile.made.len");
    CHECK(offered(room).contains("profile.made.length"));
    room.key(Qt::Key_Escape);
    CHECK(offered(room).isEmpty());
    CHECK(field->text() == "= profile.made.len");
    room.key(Qt::Key_Escape);  // now the field itself is left, as it was
    CHECK(room.step("body", "turn").settings["segments"] == "= girth * 40 + round(2.2)");
}

TEST_CASE("plain numbers and units are not taken for names", "[app][offers]") {
    Room room(demo_file);
    room.session().choose("body", "turn");
    QTest::qWait(30);
    field_in_hand(room, "number:segments");
    room.type("12m");
    CHECK(offered(room).isEmpty());
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("= 12m");  // a length, not a name
    CHECK(offered(room).isEmpty());
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("= m");
    CHECK(offered(room).contains("min("));
    // A click takes one too.
    auto lists = room.window.findChildren<QListWidget*>("formulaOffers");
    auto* list = *std::ranges::find_if(lists, [](QListWidget* one) { return one->isVisible(); });
    const QString first = list->item(0)->text();
    room.click(room.in_window(list->viewport(), list->visualItemRect(list->item(0)).center()));
    CHECK(room.find<QLineEdit>("number:segments")->text() == "= " + first);
}

TEST_CASE("rows over elements are offered what stands on them", "[app][offers]") {
    Room room;
    const Json recipe{
        {"bricol", 1},
        {"parts",
         Json::array(
             {{{"name", "p"},
               {"steps", Json::array({step("b", "box"), step("w", "attribute", {{"attribute", "dampness"}}),
                                      step("f", "formula",
                                           {{"rows", Json::array({{{"target", "z"}, {"formula", "z"}}})}})})}}})}};
    room.open_recipe(recipe);
    room.session().choose("p", "f");
    QTest::qWait(30);
    auto* cell = room.find<QLineEdit>("cell:rows:0:1");
    REQUIRE(cell);
    room.click(cell);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("z + 0.1 * damp");
    REQUIRE(offered(room).contains("dampness"));
    room.key(Qt::Key_Tab);
    CHECK(cell->text() == "z + 0.1 * dampness");
    room.key(Qt::Key_Return);
    CHECK(room.step("p", "f").settings["rows"][0]["formula"] == "z + 0.1 * dampness");
    // The target beside it is a name of its own: nothing is offered there.
    room.click(room.find<QLineEdit>("cell:rows:0:0"));
    room.type("z");
    CHECK(offered(room).isEmpty());
}
