// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the room, from the table of commands.
#include <QMenuBar>

#include "app/commands/command.h"
#include "app/window/main_window.h"

namespace bricol {

namespace {

QAction* add_command(MainWindow& room, QMenu& menu, const Command& command) {
    if (command.line_above) menu.addSeparator();
    if (command.fill) {
        QMenu* within = &menu;
        if (*command.text) {
            within = menu.addMenu(command.text);
            within->setToolTip(command.tip);
        }
        command.fill(room, *within);
        return nullptr;
    }
    auto* action = menu.addAction(command.text);
    action->setObjectName(QString::fromUtf8(command.text).remove("…"));
    if (*command.key) action->setShortcut(QKeySequence(command.key));
    action->setToolTip(command.tip);
    action->setStatusTip(command.tip);
    if (command.set) {
        action->setCheckable(true);
        action->setChecked(command.on(room));
        QObject::connect(action, &QAction::toggled, &room, [&room, set = command.set](bool on) { set(room, on); });
    } else {
        QObject::connect(action, &QAction::triggered, &room, [&room, run = command.run] { run(room); });
    }
    room.addAction(action);
    return action;
}

}  // namespace

void MainWindow::make_menus() {
    for (const CommandMenu& menu : all_menus()) {
        QMenu* shown = menu_bar_->addMenu(menu.title);
        for (const Command& command : menu.commands) {
            QAction* action = add_command(*this, *shown, command);
            if (command.id == "edit.undo") undo_ = action;
            if (command.id == "edit.redo") redo_ = action;
        }
    }
}

}  // namespace bricol
