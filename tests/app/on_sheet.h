// SPDX-License-Identifier: GPL-3.0-or-later
// The real window with the sheet in front, and a recipe to work on.
#pragma once

#include <QLineEdit>

#include "tests/app/room.h"

namespace bricol::test {

const QString demo = QString(SOURCE_FOLDER) + "/demo/";

struct OnSheet : Room {
    explicit OnSheet(const QString& recipe) : Room(recipe) {
        click_tab(1);
        QTest::qWait(60);
        sheet().fit(false);
        QTest::qWait(20);
    }
    StepSheet& sheet() { return window.sheet(); }
    void click_tab(int index) {
        auto* tabs = find<QTabBar>("bandTabs");
        REQUIRE(tabs);
        click(in_window(tabs, tabs->tabRect(index).center()));
        REQUIRE(tabs->currentIndex() == index);
    }
    QPoint on(const std::string& id) { return in_window(&sheet(), sheet().card_view_at(id)); }
    QPoint out(const std::string& id) { return in_window(&sheet(), sheet().output_view_at(id)); }
    QPoint in(const std::string& id, const std::string& input) {
        return in_window(&sheet(), sheet().input_view_at(id, input));
    }
    QPoint on_sheet(const QPointF& p) { return in_window(&sheet(), sheet().to_view(p)); }
    const Part& the_part() { return *recipe().part(session().part()); }
    std::string source(const std::string& id, const std::string& input) {
        return source_of(the_part(), step_index(the_part(), id), input);
    }
    /// The menu that a right click opens, and an entry of it.
    void right_click(const QPoint& at, const QString& entry) {
        pick(
            [&] {
                QTimer::singleShot(0, [this, at] {
                    press(at, {}, Qt::RightButton);
                    release(at, {}, Qt::RightButton);
                });
            },
            entry);
    }
};

/// A box, a ball beside it, a merge of both.
inline QString small_recipe(const QTemporaryDir& folder) {
    const QString path = folder.filePath("small.bricol");
    QFile file(path);
    REQUIRE(file.open(QIODevice::WriteOnly));
    file.write(
        R"({"bricol":1,"dials":[{"name":"wide","value":1,"min":0.5,"max":2,"unit":"m"}],"parts":[{"name":"p","steps":[
        {"id":"block","step":"box","size":["= wide",1,1]},{"id":"moved","step":"transform","move":[2,0,0]},{"id":"ball","step":"sphere"},{"id":"path","step":"circle"},
        {"id":"both","step":"merge","in":{"shape":"moved","with":"ball"}}]}]})");
    return path;
}

}  // namespace bricol::test
