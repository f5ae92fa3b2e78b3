// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include <QSettings>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "app/viewport/shadings.h"
#include "app/window/main_window.h"

namespace bricol {

namespace {

void fill_shadings(MainWindow& room, QMenu& menu) {
    for (const ShadingInfo* shading : all_shadings()) {
        auto* item = menu.addAction(shading->text, &room, [&room, shading] { room.viewport().set_shading(*shading); });
        item->setShortcut(QKeySequence(shading->key));
        item->setToolTip(shading->tip);
        room.addAction(item);
    }
}

void peek(MainWindow& room) {
    Session& session = room.session();
    session.set_peek(session.peek() == session.step() ? "" : session.step());
}

void ghost(MainWindow& room) {
    change_chosen_step(room.session(), "Ghost", [](Step& step) { step.ghost = !step.ghost; });
}

void show_time(MainWindow& room, bool on) {
    QSettings().setValue("timeBar", on);
    room.time_bar().setVisible(on);
    if (!on) room.time_bar().play(false);
}

void strip_or_sheet(MainWindow& room) { room.show_panel(room.panel() == "sheet" ? "strip" : "sheet"); }

void set_night(MainWindow& room, bool on) {
    QSettings().setValue("night", on);
    theme::set_night(on);
    emit room.session().choiceChanged();
    emit room.session().recipeChanged();
    emit room.session().madeChanged();
}

constexpr Command view_table[] = {
    {.id = "view.front",
     .text = "Front view",
     .key = "F5",
     .run = [](MainWindow& room) { room.viewport().set_view(View::front); }},
    {.id = "view.side",
     .text = "Side view",
     .key = "F6",
     .run = [](MainWindow& room) { room.viewport().set_view(View::side); }},
    {.id = "view.top",
     .text = "Top view",
     .key = "F7",
     .run = [](MainWindow& room) { room.viewport().set_view(View::top); }},
    {.id = "view.free",
     .text = "Free view",
     .key = "F8",
     .run = [](MainWindow& room) { room.viewport().set_view(View::free); }},
    {.id = "view.frame",
     .text = "Frame the choice",
     .key = "Home",
     .run = [](MainWindow& room) { room.viewport().frame_choice(); },
     .line_above = true},
    {.id = "view.frame_all",
     .text = "Frame everything",
     .key = "Shift+Home",
     .run = [](MainWindow& room) { room.viewport().frame_all(); }},
    {.id = "view.shadings", .text = "", .line_above = true, .fill = fill_shadings},
    {.id = "view.peek",
     .text = "Peek at the chosen step",
     .key = "P",
     .tip = "Shows the output of the chosen step instead of the result",
     .run = peek,
     .line_above = true},
    {.id = "view.ghost",
     .text = "Ghost the chosen step",
     .key = "G",
     .tip = "Draws the step's output faintly behind",
     .run = ghost},
    {.id = "view.grid",
     .text = "Grid",
     .key = "Ctrl+G",
     .line_above = true,
     .on = [](MainWindow& room) { return room.viewport().grid(); },
     .set = [](MainWindow& room, bool on) { room.viewport().set_grid(on); }},
    {.id = "view.handles",
     .text = "Handles",
     .key = "H",
     .on = [](MainWindow&) { return true; },
     .set = [](MainWindow& room, bool on) { room.viewport().set_handles(on); }},
    {.id = "view.shadow",
     .text = "Soft shadow",
     .tip =
         "The shapes' shadow on the ground: of the recipe's lamps and suns, each as soft as its size makes it; without "
         "lamps of light from above",
     .on = [](MainWindow& room) { return room.viewport().shadow(); },
     .set = [](MainWindow& room, bool on) { room.viewport().set_shadow(on); }},
    {.id = "view.occlusion",
     .text = "Dark corners",
     .key = "Ctrl+Shift+D",
     .tip = "Ambient occlusion: darker where light from all around hardly reaches",
     .on = [](MainWindow& room) { return room.viewport().occlusion(); },
     .set = [](MainWindow& room, bool on) { room.viewport().set_occlusion(on); }},
    {.id = "view.left",
     .text = "Parts and dials",
     .key = "F9",
     .line_above = true,
     .on = [](MainWindow&) { return true; },
     .set = [](MainWindow& room, bool on) { room.left().setVisible(on); }},
    {.id = "view.details",
     .text = "Details",
     .key = "F10",
     .on = [](MainWindow&) { return true; },
     .set = [](MainWindow& room, bool on) { room.right().setVisible(on); }},
    {.id = "view.band",
     .text = "Strip and sheet",
     .key = "F11",
     .on = [](MainWindow&) { return true; },
     .set = [](MainWindow& room, bool on) { room.band_frame().setVisible(on); }},
    {.id = "view.time",
     .text = "Time",
     .key = "Ctrl+T",
     .on = [](MainWindow&) { return QSettings().value("timeBar", false).toBool(); },
     .set = show_time},
    {.id = "view.play",
     .text = "Play the frames",
     .key = "Ctrl+Space",
     .tip = "Plays and stops the frames of the range",
     .run = [](MainWindow& room) { room.time_bar().play(!room.time_bar().playing()); }},
    {.id = "view.strip",
     .text = "Show the strip",
     .tip = "The steps as a row of cards",
     .run = [](MainWindow& room) { room.show_panel("strip"); },
     .line_above = true},
    {.id = "view.sheet",
     .text = "Show the sheet",
     .key = "Ctrl+Shift+G",
     .tip = "The steps as a graph",
     .run = strip_or_sheet},
    {.id = "view.table",
     .text = "Show the table",
     .key = "Ctrl+Shift+T",
     .tip = "The values on the chosen step's elements",
     .run = [](MainWindow& room) { room.show_panel("table"); }},
    {.id = "view.picture",
     .text = "Show the picture tab",
     .key = "Ctrl+Shift+L",
     .tip = "Cameras, lights, backdrop and finished pictures",
     .run = [](MainWindow& room) { room.show_panel("picture"); }},
    {.id = "view.variants",
     .text = "Show the variants",
     .key = "Ctrl+Shift+A",
     .tip = "The recipe under many settings of its dials",
     .run = [](MainWindow& room) { room.show_panel("variants"); }},
    {.id = "view.stock",
     .text = "Show the stock",
     .key = "Ctrl+Shift+K",
     .tip = "Standard parts to add: fasteners, chain, fittings, gears, springs",
     .run = [](MainWindow& room) { room.show_panel("stock"); }},
    {.id = "view.night",
     .text = "Night",
     .key = "F12",
     .line_above = true,
     .on = [](MainWindow&) { return QSettings().value("night").toBool(); },
     .set = set_night},
};

}  // namespace

std::span<const Command> view_commands() { return view_table; }

}  // namespace bricol
