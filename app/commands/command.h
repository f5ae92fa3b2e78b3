// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done in the room, once: menus, keys and the key map are made from one table per menu.
#pragma once

#include <QMenu>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace bricol {

class MainWindow;

/// One line of a menu. Text, key and tip are shown as they are; the key as QKeySequence reads it.
struct Command {
    std::string_view id;  ///< "file.open"; names the action for whoever looks for it
    const char* text;
    const char* key = "";
    const char* tip = "";
    void (*run)(MainWindow& room) = nullptr;
    bool line_above = false;
    bool (*on)(MainWindow& room) = nullptr;                 ///< for what is on or off: how it stands at the start
    void (*set)(MainWindow& room, bool on) = nullptr;       ///< instead of `run` for what is on or off
    void (*fill)(MainWindow& room, QMenu& menu) = nullptr;  ///< instead of `run` for a menu within the menu
};

struct CommandMenu {
    const char* title;
    std::span<const Command> commands;
};

std::span<const Command> file_commands();
std::span<const Command> edit_commands();
std::span<const Command> add_commands();
std::span<const Command> view_commands();
std::span<const Command> check_commands();
std::span<const Command> help_commands();
/// All menus, in their order.
std::span<const CommandMenu> all_menus();

/// Keys that belong together, each with what it does.
struct KeyGroup {
    std::string title;
    std::vector<std::pair<std::string, std::string>> keys;
};
/// The key map of the whole room: of menus, tools and fields.
std::vector<KeyGroup> key_groups();
/// The same as Markdown, as docs/KEYS.md holds it.
std::string key_map();

}  // namespace bricol
