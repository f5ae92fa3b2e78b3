// SPDX-License-Identifier: GPL-3.0-or-later
// The stock in the real window: looked through, searched, added; and a list typed into its table.
#include <QClipboard>
#include <QLineEdit>
#include <QListWidget>
#include <QTableWidget>

#include "app/stock/stock_panel.h"
#include "core/files/stock.h"
#include "tests/app/room.h"
#include "tests/support/shapes.h"

using namespace bricol;
using namespace bricol::test;

namespace {

std::size_t seen(const QListWidget& parts) {
    std::size_t count = 0;
    for (int i = 0; i < parts.count(); ++i) count += parts.item(i)->isHidden() ? 0 : 1;
    return count;
}

Room& with_list(Room& room) {
    const Json recipe{
        {"bricol", 1},
        {"dials",
         Json::array({{{"name", "size"}, {"kind", "choice"}, {"choices", {"small", "large"}}, {"value", "large"}}})},
        {"parts",
         Json::array({{{"name", "p"},
                       {"steps", Json::array({step("post", "box", {{"size", {"= sizes.wide", 1, 1}}}),
                                              step("sizes", "list",
                                                   {{"table",
                                                     {{"heads", {"wide mm"}},
                                                      {"rows", Json::array({Json::array({"small", 100}),
                                                                            Json::array({"large", 300})})}}}})})}}})}};
    room.open_recipe(recipe);
    room.session().choose("p", "sizes");
    QTest::qWait(30);
    return room;
}

double wide(Room& room) { return room.part("p").measures.box->size().x; }

}  // namespace

TEST_CASE("the stock shows a picture of every part, is searched by any word, and adds what is chosen", "[app][stock]") {
    Room room(demo_file);
    auto& panel = room.panel<StockPanel>(Qt::Key_K, "stockPanel");
    auto* parts = panel.findChild<QListWidget*>("stockParts");
    REQUIRE(parts);
    CHECK(seen(*parts) == stock_parts().size());
    // Pictures come, and are of shapes: more than the ground is in them.
    REQUIRE(QTest::qWaitFor(
        [&] {
            for (int i = 0; i < parts->count(); ++i)
                if (parts->item(i)->data(Qt::DecorationRole).value<QPixmap>().isNull()) return false;
            return true;
        },
        60000));
    for (int i = 0; i < parts->count(); ++i) {
        const QImage picture = parts->item(i)->data(Qt::DecorationRole).value<QPixmap>().toImage();
        const QRgb ground = picture.pixel(1, picture.height() / 2);
        int other = 0;
        for (int y = 0; y < picture.height(); ++y)
            for (int x = 0; x < picture.width(); ++x)
                other += std::abs(qGray(picture.pixel(x, y)) - qGray(ground)) > 24 ? 1 : 0;
        INFO(parts->item(i)->text().toStdString());
        CHECK(other > picture.width() * picture.height() / 100);
    }
    // A word of the trade that is not in its name.
    auto* search = panel.findChild<QLineEdit*>("stockSearch");
    room.click(search);
    room.type("cotter");
    CHECK(seen(*parts) == 1);
    CHECK(parts->currentItem()->text() == "Split pin");
    for (int i = 0; i < 6; ++i) room.key(Qt::Key_Backspace);
    room.type("4032");
    REQUIRE(seen(*parts) == 1);
    const std::size_t before = room.recipe().parts.size();
    room.key(Qt::Key_Return);
    room.settle();
    REQUIRE(room.recipe().parts.size() == before + 1);
    const Part& added = *room.recipe().parts.back();
    CHECK(added.name == "hex_nut");
    CHECK(added.steps[0]->settings["kit"] == "stock:hex-nut");
    CHECK(room.part("hex_nut").measures.closed);
    CHECK(room.part("hex_nut").measures.faces > 500);
    // One undo takes it all away (from outside the field, which has an undo of its own).
    room.click(room.in_window(parts->viewport(), parts->visualItemRect(parts->currentItem()).center()));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(room.recipe().parts.size() == before);
    // A family alone.
    search->clear();
    auto* families = panel.findChild<QListWidget*>("stockFamilies");
    const auto springs = families->findItems("Springs and handles", Qt::MatchExactly);
    REQUIRE(springs.size() == 1);
    room.click(room.in_window(families->viewport(), families->visualItemRect(springs[0]).center()));
    CHECK(seen(*parts) < stock_parts().size());
    CHECK(seen(*parts) >= 4);
    room.type("nothing at all");  // into the list of families: nothing is lost by it
    CHECK(room.recipe().parts.size() == before);
}

TEST_CASE("the add bar finds parts of the stock by their words", "[app][stock]") {
    Room room(demo_file);
    room.click(room.find<QLineEdit>("addBar"));
    room.type("grub");
    auto* list = room.find<QListWidget>("addList");
    REQUIRE(list);
    REQUIRE(list->count() > 0);
    CHECK(list->item(0)->data(Qt::UserRole).toString() == "stock:set-screw");
    room.key(Qt::Key_Return);
    room.settle();
    REQUIRE(room.recipe().part("set_screw"));
    CHECK(room.session().part() == "set_screw");
    CHECK(room.part("set_screw").measures.closed);
}

TEST_CASE("a list is typed cell by cell, pasted, and its row chosen by hand or by a dial", "[app][stock]") {
    Room room;
    with_list(room);
    CHECK(wide(room) == Approx(0.1));
    auto* grid = room.find<QTableWidget>("table:table");
    REQUIRE(grid);
    REQUIRE(grid->isVisible());
    const auto cell = [&](int line, int column) {
        return room.in_window(grid->viewport(), grid->visualItemRect(grid->item(line, column)).center());
    };
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, cell(1, 1));
    QTest::qWait(20);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("250");
    room.key(Qt::Key_Return);
    CHECK(wide(room) == Approx(0.25));
    // The row, from the combo's list.
    auto* row = room.find<QComboBox>("row:row");
    REQUIRE(row);
    QStringList offered;
    for (int i = 0; i < row->count(); ++i) offered << row->itemText(i);
    CHECK(offered.contains("large"));
    CHECK(offered.contains("= size"));
    room.click(room.in_window(row, QPoint(40, 12)));
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("= size");
    room.key(Qt::Key_Return);
    CHECK(room.step("p", "sizes").settings["row"] == "= size");
    CHECK(wide(room) == Approx(0.3));
    // A head's new name goes into the formulas that ask for it; undone, both are as before.
    const auto asked = [&] { return room.step("p", "post").settings["size"][0].get<std::string>(); };
    const std::string old_head = room.step("p", "sizes").settings["table"]["heads"][0], old_formula = asked();
    QTest::mouseDClick(room.handle(), Qt::LeftButton, {}, cell(0, 1));
    QTest::qWait(20);
    room.key(Qt::Key_A, Qt::ControlModifier);
    room.type("breadth mm");
    room.key(Qt::Key_Return);
    CHECK(room.step("p", "sizes").settings["table"]["heads"][0] == "breadth mm");
    CHECK(asked() == "= sizes.breadth");
    CHECK(wide(room) == Approx(0.3));
    room.key(Qt::Key_Z, Qt::ControlModifier);
    CHECK(asked() == old_formula);
    CHECK(room.step("p", "sizes").settings["table"]["heads"][0] == old_head);
    room.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    CHECK(wide(room) == Approx(0.3));
    QTest::qWait(20);
    // Figures from a sheet, pasted over the second line: they make a head and a row of their own.
    room.click(cell(2, 0));
    QApplication::clipboard()->setText("large\t420\t7\nhuge\t900\t8");
    room.key(Qt::Key_V, Qt::ControlModifier);
    const Json& table = room.step("p", "sizes").settings["table"];
    CHECK(table["rows"].size() == 3);
    CHECK(table["heads"].size() == 2);
    CHECK(table["rows"][2] == Json::array({"huge", 900, 8}));
    CHECK(wide(room) == Approx(0.42));
    // A head goes with its numbers.
    QTest::qWait(20);
    room.click(cell(0, 2));
    room.click(room.find<QPushButton>("removeTableHead:table"));
    CHECK(room.step("p", "sizes").settings["table"]["rows"][2] == Json::array({"huge", 900}));
    room.click(room.find<QPushButton>("addTableRow:table"));
    CHECK(room.step("p", "sizes").settings["table"]["rows"].size() == 4);
    CHECK(wide(room) == Approx(0.42));
}
