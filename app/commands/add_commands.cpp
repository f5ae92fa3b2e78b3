// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include "app/document/step_edits.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/window/main_window.h"

namespace bricol {

namespace {

void add_or_say(Session& session, const StepInfo& info) {
    const QString why = why_not(session, info);
    if (why.isEmpty())
        add_step(session, info);
    else
        session.say(text_of(info.name) + " " + why, true);
}

/// A menu per family of steps.
void fill_families(MainWindow& room, QMenu& menu) {
    QMenu* family_menu = nullptr;
    std::string_view family;
    for (const StepInfo* info : all_steps()) {
        if (family != family_name(info->family)) {
            family = family_name(info->family);
            family_menu = menu.addMenu(text_of(family));
            family_menu->setToolTipsVisible(true);
        }
        auto* item = family_menu->addAction(theme::glyph_icon(info->glyph), text_of(info->name), &room,
                                            [&room, info] { add_or_say(room.session(), *info); });
        item->setToolTip(text_of(info->purpose));
    }
}

void add_a_part(MainWindow& room) {
    std::string name;
    if (room.session().edit(add_part(room.session().recipe(), "part", &name), "Add a part"))
        room.session().choose_part(name);
}

constexpr Command add_table[] = {
    {.id = "add.find",
     .text = "Find a step…",
     .key = "/",
     .tip = "Finds steps by name or by the word you know",
     .run = [](MainWindow& room) { room.add_bar().start(); }},
    {.id = "add.steps", .text = "", .line_above = true, .fill = fill_families},
    {.id = "add.part", .text = "New part", .key = "Ctrl+Shift+N", .run = add_a_part, .line_above = true},
};

}  // namespace

std::span<const Command> add_commands() { return add_table; }

}  // namespace bricol
