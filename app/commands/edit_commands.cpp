// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/command.h"

#include <QApplication>
#include <QClipboard>

#include "app/document/step_edits.h"
#include "app/theme/text.h"
#include "app/window/main_window.h"
#include "core/recipe/clip.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

void rename_chosen(MainWindow& room) {
    const std::string step = room.session().step();
    room.on_sheet() ? room.sheet().rename(step) : room.strip().rename(step);
}

void duplicate_chosen(MainWindow& room) {
    if (room.on_sheet()) return room.sheet().duplicate_chosen();
    Session& session = room.session();
    std::string made;
    if (session.chosen_step() &&
        session.edit(duplicate_step(session.recipe(), session.part(), session.step(), &made), "Duplicate a step"))
        session.choose(session.part(), made);
}

void copy_chosen(MainWindow& room) {
    if (room.on_sheet())
        room.sheet().copy_chosen();
    else if (const Step* step = room.session().chosen_step())
        QApplication::clipboard()->setText(QString::fromStdString(pretty_json(step_json(*step))));
}

/// One step goes into the chain behind the chosen one; several keep the links among themselves.
void paste_steps(MainWindow& room) {
    if (room.on_sheet()) return room.sheet().paste();
    Session& session = room.session();
    const std::string text = QApplication::clipboard()->text().toStdString();
    const auto json = Json::parse(text, nullptr, false);
    if (!json.is_discarded() && json.is_object() && json.contains("step")) {
        auto step = step_from_json(json, "clipboard");
        if (!step) return session.say(QString::fromStdString(step.problem().text()), true);
        step->inputs.clear();
        std::string made;
        if (session.edit(insert_step(session.recipe(), session.part(), session.step(), *step, &made), "Paste a step"))
            session.choose(session.part(), made);
        return;
    }
    std::vector<std::string> several;
    if (session.edit(pasted_steps(session.recipe(), session.part(), session.step(), text, {0, 0}, &several),
                     "Paste steps") &&
        !several.empty())
        session.choose(session.part(), several.back());
}

void delete_chosen(MainWindow& room) {
    if (room.on_sheet()) return room.sheet().delete_chosen();
    Session& session = room.session();
    if (session.chosen_step())
        session.edit(remove_step(session.recipe(), session.part(), session.step()), "Delete a step");
}

void skip_chosen(MainWindow& room) {
    change_chosen_step(room.session(), "Skip a step", [](Step& step) { step.skipped = !step.skipped; });
}

/// A recipe that differs in one thing.
template <class Change>
void change_recipe(MainWindow& room, const QString& name, const Change& change) {
    Recipe recipe = room.session().recipe();
    change(recipe);
    room.session().edit(recipe, name);
}

void fill_bounds(MainWindow& room, QMenu& menu) {
    for (const int factor : {1, 2, 5, 10, 100})
        menu.addAction(
            factor == 1 ? QString("as they are") : QString("%1 times as many").arg(factor), &room,
            [&room, factor] { change_recipe(room, "Change the bounds", [&](Recipe& r) { r.raise_bounds = factor; }); });
}

void fill_units(MainWindow& room, QMenu& menu) {
    for (const auto unit : display_units())
        menu.addAction(text_of(unit), &room,
                       [&room, unit] { change_recipe(room, "Change the unit", [&](Recipe& r) { r.unit = unit; }); });
}

void fill_budget(MainWindow& room, QMenu& menu) {
    for (const std::size_t faces : {2000ul, 5000ul, 20000ul, 100000ul, 1000000ul})
        menu.addAction(grouped(faces), &room, [&room, faces] {
            change_recipe(room, "Change the budget", [&](Recipe& r) { r.budget = faces; });
        });
}

constexpr Command edit_table[] = {
    {.id = "edit.undo", .text = "Undo", .key = "Ctrl+Z", .run = [](MainWindow& room) { room.session().undo(); }},
    {.id = "edit.redo", .text = "Redo", .key = "Ctrl+Shift+Z", .run = [](MainWindow& room) { room.session().redo(); }},
    {.id = "edit.rename", .text = "Rename step", .key = "F2", .run = rename_chosen, .line_above = true},
    {.id = "edit.duplicate", .text = "Duplicate step", .key = "Ctrl+D", .run = duplicate_chosen},
    {.id = "edit.copy", .text = "Copy step", .key = "Ctrl+C", .run = copy_chosen},
    {.id = "edit.paste", .text = "Paste step", .key = "Ctrl+V", .run = paste_steps},
    {.id = "edit.delete", .text = "Delete step", .key = "Del", .run = delete_chosen},
    {.id = "edit.pack",
     .text = "Pack steps into one",
     .key = "Ctrl+P",
     .tip = "The steps chosen on the sheet become one step with a recipe inside",
     .run = [](MainWindow& room) { room.sheet().pack_chosen(); },
     .line_above = true},
    {.id = "edit.pack_rounds",
     .text = "Pack steps to make them many times…",
     .tip = "The steps chosen on the sheet become one step that makes them for each element, or again and again",
     .run = [](MainWindow& room) { room.sheet().pack_for_rounds(QCursor::pos()); }},
    {.id = "edit.unpack",
     .text = "Open packed steps",
     .key = "Ctrl+Shift+P",
     .tip = "Puts the steps inside the chosen recipe step back into the part",
     .run = [](MainWindow& room) { room.sheet().unpack_chosen(); }},
    {.id = "edit.save_kit",
     .text = "Save as kit recipe…",
     .tip = "Writes the chosen recipe step to a file that other recipes can use",
     .run = [](MainWindow& room) { room.save_kit_with_dialog(room.session().step()); }},
    {.id = "edit.bounds",
     .text = "Bounds",
     .tip = "Steps refuse to make more than so many elements; raise that when you mean it",
     .fill = fill_bounds},
    {.id = "edit.skip", .text = "Skip step", .key = "K", .tip = "Leave the step out for now", .run = skip_chosen},
    {.id = "edit.unit", .text = "Length unit", .fill = fill_units},
    {.id = "edit.budget", .text = "Face budget", .fill = fill_budget},
};

}  // namespace

std::span<const Command> edit_commands() { return edit_table; }

}  // namespace bricol
