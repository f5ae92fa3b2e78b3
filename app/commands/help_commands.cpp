// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include "app/commands/key_page.h"
#include "app/theme/text.h"
#include "app/window/main_window.h"
#include "core/formula/functions.h"
#include "core/ground/version.h"

namespace bricol {

namespace {

void say_formulas(MainWindow& room) {
    QString text = text_of(formula_grammar()) + "\n\n";
    for (const FunctionInfo& f : all_functions()) text += QString::fromStdString(f.call()) + "  ";
    room.notice(text, {});
}

void say_version(MainWindow& room) {
    room.notice("Bricol " + text_of(version()) +
                    " — parametric assets from recipes. Free software under the GPL, version 3 or later.",
                {});
}

constexpr Command help_table[] = {
    {.id = "help.keys",
     .text = "Keys",
     .key = "F1",
     .tip = "What every key does, in the room and in each tool",
     .run = [](MainWindow& room) { show_key_page(room); }},
    {.id = "help.formulas", .text = "What formulas understand", .run = say_formulas},
    {.id = "help.about", .text = "About Bricol", .run = say_version},
};

}  // namespace

std::span<const Command> help_commands() { return help_table; }

}  // namespace bricol
