// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include "app/window/main_window.h"

namespace bricol {

namespace {

void ask_then_draw(MainWindow& room) {
    room.unless_unsaved([&room] { room.start_profile(); });
}
void ask_then_open(MainWindow& room) {
    room.unless_unsaved([&room] { room.open_with_dialog(); });
}
void ask_then_start(MainWindow& room) {
    room.unless_unsaved([&room] { room.show_start_page(); });
}

constexpr Command file_table[] = {
    {.id = "file.new",
     .text = "New profile",
     .key = "Ctrl+N",
     .tip = "A new recipe with a profile to draw",
     .run = ask_then_draw},
    {.id = "file.open", .text = "Open…", .key = "Ctrl+O", .tip = "Open a recipe", .run = ask_then_open},
    {.id = "file.start", .text = "Start page", .tip = "The demo kit", .run = ask_then_start},
    {.id = "file.save",
     .text = "Save",
     .key = "Ctrl+S",
     .tip = "Save the recipe",
     .run = [](MainWindow& room) { room.save(); },
     .line_above = true},
    {.id = "file.save_as",
     .text = "Save as…",
     .key = "Ctrl+Shift+S",
     .tip = "Save under another name",
     .run = [](MainWindow& room) { room.save_as(); }},
    {.id = "file.export",
     .text = "Export…",
     .key = "Ctrl+E",
     .tip = "Write the shapes to a file",
     .run = [](MainWindow& room) { room.export_with_dialog(); }},
    {.id = "file.handover",
     .text = "Hand over…",
     .key = "Ctrl+Shift+E",
     .tip = "A folder that an engine or a renderer takes as it is",
     .run = [](MainWindow& room) { room.show_panel("handover"); }},
    {.id = "file.picture",
     .text = "Reference picture…",
     .tip = "A picture on one of the flat views",
     .run = [](MainWindow& room) { room.choose_reference_picture(); },
     .line_above = true},
    {.id = "file.quit",
     .text = "Quit",
     .key = "Ctrl+Q",
     .run = [](MainWindow& room) { room.close(); },
     .line_above = true},
};

}  // namespace

std::span<const Command> file_commands() { return file_table; }

}  // namespace bricol
