// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include <fmt/format.h>

#include "app/sheet/sheet_actions.h"
#include "app/viewport/knot_actions.h"
#include "app/viewport/stick_actions.h"
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

template <class Actions>
KeyGroup tool_keys(const char* title, const Actions& actions) {
    KeyGroup group{title, {}};
    for (const auto& action : actions)
        if (action.key) group.keys.emplace_back(key_text(action.key).toStdString(), action.words);
    return group;
}

std::string words_of(const Command& command) {
    const std::string text = QString::fromUtf8(command.text).remove("…").toStdString();
    const std::string_view tip = command.tip;
    return tip.empty() || tip.starts_with(text) ? std::string(tip.empty() ? text : tip)
                                                : fmt::format("{}. {}", text, tip);
}

}  // namespace

std::vector<KeyGroup> key_groups() {
    std::vector<KeyGroup> groups;
    for (const CommandMenu& menu : all_menus()) {
        KeyGroup group{menu.title, {}};
        for (const Command& command : menu.commands) {
            if (*command.key) group.keys.emplace_back(key_text(command.key).toStdString(), words_of(command));
            if (command.id == "view.shadings")
                for (const ShadingInfo* shading : all_shadings())
                    group.keys.emplace_back(key_text(shading->key).toStdString(), shading->text);
        }
        groups.push_back(std::move(group));
    }
    groups.push_back(tool_keys("Knots of a drawn curve", knot_actions()));
    groups.push_back(tool_keys("Knots of a stick figure", stick_actions()));
    groups.push_back(tool_keys("Picking", pick_actions()));
    groups.push_back(tool_keys("Sheet", sheet_actions()));
    groups.push_back({"Numbers and pulling",
                      {{"Up, Down", "Step the number in hand; Shift coarse, Ctrl fine"},
                       {"figures, Enter", "Finish a pull exactly"},
                       {"Esc", "Take back a pull, leave a tool"},
                       {"arrows", "Nudge chosen knots; Shift coarse, Ctrl fine"}}});
    return groups;
}

std::string key_map() {
    std::string text = "# Keys\n\nMade from the room's own tables: `bricol-room --keys`.\n";
    for (const KeyGroup& group : key_groups()) {
        text += fmt::format("\n## {}\n| key | what it does |\n|---|---|\n", group.title);
        for (const auto& [key, words] : group.keys) text += fmt::format("| {} | {} |\n", key, words);
    }
    return text;
}

}  // namespace bricol
