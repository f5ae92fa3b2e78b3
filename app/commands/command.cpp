// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include <fmt/format.h>

#include "app/sheet/sheet_actions.h"
#include "app/viewport/knot_actions.h"
#include "app/viewport/pick_actions.h"
#include "app/viewport/shadings.h"

namespace bricol {

std::span<const CommandMenu> all_menus() {
    static const CommandMenu menus[] = {{"File", file_commands()},   {"Edit", edit_commands()},
                                        {"Add", add_commands()},     {"View", view_commands()},
                                        {"Check", check_commands()}, {"Help", help_commands()}};
    return menus;
}

namespace {

std::string key_row(const char* key, const char* words) {
    return fmt::format("| {} | {} |\n", key_text(key).toStdString(), words);
}

template <class Actions>
std::string tool_keys(const char* title, const Actions& actions) {
    std::string text = fmt::format("\n## {}\n| key | |\n|---|---|\n", title);
    for (const auto& action : actions)
        if (action.key) text += key_row(action.key, action.words);
    return text;
}

}  // namespace

std::string key_map() {
    std::string text = "# Keys\n\nMade from the room's own table of commands: `bricol-room --keys`.\n";
    for (const CommandMenu& menu : all_menus()) {
        text += fmt::format("\n## {}\n| key | |\n|---|---|\n", menu.title);
        for (const Command& command : menu.commands) {
            if (*command.key)
                text += key_row(command.key,
                                *command.tip ? fmt::format("{}: {}", command.text, command.tip).c_str() : command.text);
            if (command.id == "view.shadings")
                for (const ShadingInfo* shading : all_shadings()) text += key_row(shading->key, shading->text);
        }
    }
    text += tool_keys("Knots of a drawn curve", knot_actions());
    text += tool_keys("Picking", pick_actions());
    text += tool_keys("Sheet", sheet_actions());
    text +=
        "\n## In number fields and while pulling\n| key | |\n|---|---|\n"
        "| Up, Down | Step the number; Shift coarse, Ctrl fine |\n"
        "| figures, Enter | Finish a pull exactly; Esc takes it back |\n"
        "| arrows | Nudge chosen knots; Shift coarse, Ctrl fine |\n";
    return text;
}

}  // namespace bricol
