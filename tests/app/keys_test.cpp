// SPDX-License-Identifier: GPL-3.0-or-later
// The key map is made from what the keys do, and says so in the room and on paper.
#include <QFile>
#include <QTextBrowser>
#include <set>

#include "app/commands/command.h"
#include "app/viewport/knot_actions.h"
#include "app/viewport/pick_actions.h"
#include "app/viewport/shadings.h"
#include "tests/app/room.h"

using namespace bricol;
using namespace bricol::test;

TEST_CASE("F1 lays the key map over the room, Esc takes it away", "[app][keys]") {
    Room room(demo_file);
    room.key(Qt::Key_F1);
    auto* page = room.find<QFrame>("keyPage");
    REQUIRE(page);
    const QString text = room.find<QTextBrowser>("keyText")->toPlainText();
    for (const char* words : {"Save as", "Ctrl+Shift+S", "Which way faces point", "Draw a lasso", "Tidy everything"}) {
        INFO(words);
        CHECK(text.contains(words));
    }
    QTest::keyClick(room.find("keyText"), Qt::Key_Escape);
    QTest::qWait(20);
    CHECK_FALSE(room.find<QFrame>("keyPage"));
    room.key(Qt::Key_F1);
    room.click(room.find("closeKeys"));
    QTest::qWait(20);
    CHECK_FALSE(room.find<QFrame>("keyPage"));
}

TEST_CASE("the written key map is that of the room", "[keys]") {
    QFile file(QString(SOURCE_FOLDER) + "/docs/KEYS.md");
    REQUIRE(file.open(QIODevice::ReadOnly));
    CHECK(file.readAll().toStdString() == key_map());
}

TEST_CASE("no key means two things at once, and every command can be reached", "[app][keys]") {
    std::set<QString> keys;
    const auto add = [&](const char* key) {
        if (!key || !*key) return;
        INFO(key);
        CHECK(keys.insert(key_text(key)).second);
        CHECK_FALSE(key_text(key).isEmpty());
    };
    for (const CommandMenu& menu : all_menus())
        for (const Command& command : menu.commands) {
            INFO(command.id);
            add(command.key);
            CHECK((command.run != nullptr) + (command.set != nullptr) + (command.fill != nullptr) == 1);
        }
    for (const ShadingInfo* shading : all_shadings()) add(shading->key);
    const auto tool = [&](const auto& actions) {
        std::set<QString> own;
        for (const auto& action : actions)
            if (action.key) {
                INFO(action.words);
                CHECK(own.insert(key_text(action.key)).second);
            }
    };
    tool(knot_actions());
    tool(pick_actions());
    // And all of it stands in the menus of the real window.
    Room room(demo_file);
    std::size_t shown = 0;
    for (const QAction* action : room.window.actions())
        shown += keys.contains(action->shortcut().toString(QKeySequence::NativeText));
    CHECK(shown == keys.size());
}

TEST_CASE("each shading has a name, a key and a picture of its own", "[app][view]") {
    Room room(demo_file);
    std::vector<QImage> pictures;
    for (const ShadingInfo* shading : all_shadings()) {
        INFO(shading->id);
        const QKeySequence keys(shading->key);
        room.key(keys[0].key(), keys[0].keyboardModifiers());
        CHECK(room.window.viewport().shading().id == shading->id);
        CHECK(room.find<QToolButton>("shadingChip")->text() == shading->chip);
        Viewport& view = room.window.viewport();
        QImage picture = view.picture({300, 200});
        if (shading->still) {  // what takes its place at rest
            REQUIRE(QTest::qWaitFor([&] { return view.stills().samples() > 0; }, 20000));
            picture = view.stills().picture(view.size() * view.devicePixelRatio())->scaled(300, 200);
        }
        for (const QImage& other : pictures) CHECK(other != picture);
        pictures.push_back(picture);
    }
}
