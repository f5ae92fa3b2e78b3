// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the room.
#include "app/window/main_window.h"

#include <QApplication>
#include <QClipboard>
#include <QSettings>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "core/recipe/clip.h"
#include "core/files/export.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "app/theme/text.h"
#include "core/formula/functions.h"
#include "core/ground/version.h"

namespace bricol {

QAction* MainWindow::action(QMenu* menu, const QString& text, const QKeySequence& key, const QString& tip,
                            std::function<void()> run) {
    auto* made = menu->addAction(text);
    made->setObjectName(QString(text).remove("…").remove("&"));
    if (!key.isEmpty()) made->setShortcut(key);
    made->setToolTip(tip);
    made->setStatusTip(tip);
    connect(made, &QAction::triggered, this, std::move(run));
    addAction(made);
    return made;
}

void MainWindow::make_menus() {
    auto* file = menu_bar_->addMenu("File");
    action(file, "New profile", QKeySequence("Ctrl+N"), "A new recipe with a profile to draw",
           [this] { unless_unsaved([this] { start_profile(); }); });
    action(file, "Open…", QKeySequence("Ctrl+O"), "Open a recipe",
           [this] { unless_unsaved([this] { open_with_dialog(); }); });
    action(file, "Start page", {}, "The demo kit", [this] { unless_unsaved([this] { show_start_page(); }); });
    file->addSeparator();
    action(file, "Save", QKeySequence("Ctrl+S"), "Save the recipe", [this] { save(); });
    action(file, "Save as…", QKeySequence("Ctrl+Shift+S"), "Save under another name", [this] { save_as(); });
    action(file, "Export…", QKeySequence("Ctrl+E"), "Write the shapes as " + QString::fromStdString(suffix_words()),
           [this] { export_with_dialog(); });
    file->addSeparator();
    action(file, "Reference picture…", {}, "A picture on one of the flat views",
           [this] { emit parts_->pictureWanted(); });
    file->addSeparator();
    action(file, "Quit", QKeySequence("Ctrl+Q"), "", [this] { close(); });

    auto* edit = menu_bar_->addMenu("Edit");
    undo_ = action(edit, "Undo", QKeySequence("Ctrl+Z"), "", [this] { session_.undo(); });
    redo_ = action(edit, "Redo", QKeySequence("Ctrl+Shift+Z"), "", [this] { session_.redo(); });
    edit->addSeparator();
    const auto on_step = [this](const QString& name, auto change) {
        const Step* step = session_.chosen_step();
        if (!step) return;
        Step changed = *step;
        change(changed);
        session_.edit(replace_step(session_.recipe(), session_.part(), changed), name);
    };
    action(edit, "Rename step", QKeySequence("F2"), "",
           [this] { on_sheet() ? sheet_->rename(session_.step()) : strip_->rename(session_.step()); });
    action(edit, "Duplicate step", QKeySequence("Ctrl+D"), "", [this] {
        if (on_sheet()) {
            sheet_->duplicate_chosen();
            return;
        }
        std::string made;
        if (session_.chosen_step() &&
            session_.edit(duplicate_step(session_.recipe(), session_.part(), session_.step(), &made),
                          "Duplicate a step"))
            session_.choose(session_.part(), made);
    });
    action(edit, "Copy step", QKeySequence("Ctrl+C"), "", [this] {
        if (on_sheet())
            sheet_->copy_chosen();
        else if (const Step* step = session_.chosen_step())
            QApplication::clipboard()->setText(QString::fromStdString(pretty_json(step_json(*step))));
    });
    action(edit, "Paste step", QKeySequence("Ctrl+V"), "", [this] {
        if (on_sheet()) {
            sheet_->paste();
            return;
        }
        const std::string text = QApplication::clipboard()->text().toStdString();
        const auto json = Json::parse(text, nullptr, false);
        std::string made;
        if (!json.is_discarded() && json.is_object() &&
            json.contains("step")) {  // one step goes into the chain behind the chosen one
            auto step = step_from_json(json, "clipboard");
            if (!step) {
                session_.say(QString::fromStdString(step.problem().text()), true);
                return;
            }
            step->inputs.clear();
            if (session_.edit(insert_step(session_.recipe(), session_.part(), session_.step(), *step, &made),
                              "Paste a step"))
                session_.choose(session_.part(), made);
            return;
        }
        std::vector<std::string> several;
        if (session_.edit(pasted_steps(session_.recipe(), session_.part(), session_.step(), text, {0, 0}, &several),
                          "Paste steps") &&
            !several.empty())
            session_.choose(session_.part(), several.back());
    });
    action(edit, "Delete step", QKeySequence("Del"), "", [this] {
        if (on_sheet())
            sheet_->delete_chosen();
        else if (session_.chosen_step())
            session_.edit(remove_step(session_.recipe(), session_.part(), session_.step()), "Delete a step");
    });
    edit->addSeparator();
    action(edit, "Pack steps into one", QKeySequence("Ctrl+P"),
           "The steps chosen on the sheet become one step with a recipe inside", [this] { sheet_->pack_chosen(); });
    action(edit, "Open packed steps", QKeySequence("Ctrl+Shift+P"),
           "Puts the steps inside the chosen recipe step back into the part", [this] { sheet_->unpack_chosen(); });
    action(edit, "Save as kit recipe…", {}, "Writes the chosen recipe step to a file that other recipes can use",
           [this] { save_kit_with_dialog(session_.step()); });
    auto* bounds = edit->addMenu("Bounds");
    bounds->setToolTip("Steps refuse to make more than so many elements; raise that when you mean it");
    for (const int factor : {1, 2, 5, 10, 100})
        bounds->addAction(factor == 1 ? QString("as they are") : QString("%1 times as many").arg(factor), this,
                          [this, factor] {
                              Recipe recipe = session_.recipe();
                              recipe.raise_bounds = factor;
                              session_.edit(recipe, "Change the bounds");
                          });
    action(edit, "Skip step", QKeySequence("K"), "Leave the step out for now",
           [on_step] { on_step("Skip a step", [](Step& s) { s.skipped = !s.skipped; }); });
    auto* units = edit->addMenu("Length unit");
    for (const auto unit : display_units())
        units->addAction(QString::fromUtf8(unit.data(), static_cast<int>(unit.size())), this, [this, unit] {
            Recipe recipe = session_.recipe();
            recipe.unit = unit;
            session_.edit(recipe, "Change the unit");
        });
    auto* budget = edit->addMenu("Face budget");
    for (const std::size_t faces : {2000ul, 5000ul, 20000ul, 100000ul, 1000000ul})
        budget->addAction(grouped(faces), this, [this, faces] {
            Recipe recipe = session_.recipe();
            recipe.budget = faces;
            session_.edit(recipe, "Change the budget");
        });

    auto* add = menu_bar_->addMenu("Add");
    action(add, "Find a step…", QKeySequence("/"), "Finds steps by name or by the word you know",
           [this] { add_bar_->start(); });
    add->addSeparator();
    QMenu* family_menu = nullptr;
    std::string_view family;
    for (const StepInfo* info : all_steps()) {
        if (family != family_name(info->family)) {
            family = family_name(info->family);
            family_menu = add->addMenu(QString::fromUtf8(family.data(), static_cast<int>(family.size())));
            family_menu->setToolTipsVisible(true);
        }
        auto* item = family_menu->addAction(
            theme::glyph_icon(info->glyph), QString::fromUtf8(info->name.data(), static_cast<int>(info->name.size())),
            this, [this, info] {
                const QString why = why_not(session_, *info);
                if (why.isEmpty())
                    add_step(session_, *info);
                else
                    session_.say(QString::fromUtf8(info->name.data(), static_cast<int>(info->name.size())) + " " + why,
                                 true);
            });
        item->setToolTip(QString::fromUtf8(info->purpose.data(), static_cast<int>(info->purpose.size())));
    }
    add->addSeparator();
    action(add, "New part", QKeySequence("Ctrl+Shift+N"), "", [this] {
        std::string name;
        if (session_.edit(add_part(session_.recipe(), "part", &name), "Add a part")) session_.choose_part(name);
    });

    auto* view = menu_bar_->addMenu("View");
    const std::pair<const char*, View> views[] = {
        {"Front view", View::front}, {"Side view", View::side}, {"Top view", View::top}, {"Free view", View::free}};
    for (int i = 0; i < 4; ++i)
        action(view, views[i].first, QKeySequence(Qt::Key_F5 + i), "",
               [this, v = views[i].second] { viewport_->set_view(v); });
    view->addSeparator();
    action(view, "Frame the choice", QKeySequence("Home"), "", [this] { viewport_->frame_choice(); });
    action(view, "Frame everything", QKeySequence("Shift+Home"), "", [this] { viewport_->frame_all(); });
    view->addSeparator();
    const std::pair<const char*, Shading> shades[] = {{"Clay", Shading::clay},
                                                      {"Wire over clay", Shading::wire_over_clay},
                                                      {"Wire only", Shading::wire},
                                                      {"See-through", Shading::see_through},
                                                      {"Which way faces point", Shading::facing},
                                                      {"Materials", Shading::materials},
                                                      {"Attribute as colours", Shading::attribute}};
    for (int i = 0; i < 7; ++i)
        action(view, shades[i].first, QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + i)), "",
               [this, s = shades[i].second] { viewport_->set_shading(s); });
    view->addSeparator();
    action(view, "Peek at the chosen step", QKeySequence("P"),
           "Shows the output of the chosen step instead of the result",
           [this] { session_.set_peek(session_.peek() == session_.step() ? "" : session_.step()); });
    action(view, "Ghost the chosen step", QKeySequence("G"), "Draws the step's output faintly behind",
           [on_step] { on_step("Ghost", [](Step& s) { s.ghost = !s.ghost; }); });
    const auto toggle = [&](const char* text, const char* key, bool on, auto run) {
        auto* a = action(view, text, QKeySequence(key), "", [] {});
        a->setCheckable(true);
        a->setChecked(on);
        connect(a, &QAction::toggled, this, run);
        return a;
    };
    view->addSeparator();
    toggle("Grid", "Ctrl+G", true, [this](bool on) { viewport_->set_grid(on); });
    toggle("Handles", "H", true, [this](bool on) { viewport_->set_handles(on); });
    toggle("Soft shadow", "", true, [this](bool on) { viewport_->set_shadow(on); });
    view->addSeparator();
    toggle("Parts and dials", "F9", true, [this](bool on) { left_->setVisible(on); });
    toggle("Details", "F10", true, [this](bool on) { details_->setVisible(on); });
    toggle("Strip and sheet", "F11", true, [this](bool on) { band_->setVisible(on); });
    toggle("Time", "Ctrl+T", QSettings().value("timeBar", false).toBool(), [this](bool on) {
        QSettings().setValue("timeBar", on);
        time_bar_->setVisible(on);
        if (!on) time_bar_->play(false);
    });
    action(view, "Play the frames", QKeySequence("Ctrl+Space"), "Plays and stops the frames of the range",
           [this] { time_bar_->play(!time_bar_->playing()); });
    view->addSeparator();
    action(view, "Show the strip", {}, "The steps as a row of cards", [this] { show_band(Band::strip); });
    action(view, "Show the sheet", QKeySequence("Ctrl+Shift+G"), "The steps as a graph",
           [this] { band() == Band::sheet ? show_band(Band::strip) : show_band(Band::sheet); });
    action(view, "Show the table", QKeySequence("Ctrl+Shift+T"), "The values on the chosen step's elements",
           [this] { show_band(Band::table); });
    view->addSeparator();
    toggle("Night", "F12", QSettings().value("night").toBool(), [this](bool on) {
        QSettings().setValue("night", on);
        theme::set_night(on);
        emit session_.choiceChanged();
        emit session_.recipeChanged();
        emit session_.madeChanged();
    });

    auto* check = menu_bar_->addMenu("Check");
    action(check, "All findings", QKeySequence("Ctrl+K"), "", [this] { show_band(Band::findings); });
    action(check, "Trace a spot", QKeySequence("Ctrl+L"),
           "Click the result: the steps that made that spot light up, with the numbers that move it",
           [this] { viewport_->set_tracing(!viewport_->tracing()); });
    action(check, "Measures", QKeySequence("Ctrl+M"), "Area, volume and whether the part holds together", [this] {
        const PartOutcome* part =
            session_.made() ? session_.made()->part(session_.made_recipe(), session_.part()) : nullptr;
        if (!part) return;
        const Measures& m = part->measures;
        say(QString("%1: %2 vertices, %3 edges, %4 faces, %5 triangles. Area %6 m²%7, %8, %9 piece(s), Euler "
                    "characteristic %10.")
                .arg(QString::fromStdString(session_.part()))
                .arg(m.vertices)
                .arg(m.edges)
                .arg(m.faces)
                .arg(m.triangles)
                .arg(QString::fromStdString(format_number(m.area, 5)),
                     m.volume ? ", volume " + QString::fromStdString(format_number(*m.volume, 5)) + " m³" : "",
                     m.closed ? "closed" : QString("%1 border edges").arg(m.border_edges))
                .arg(m.pieces)
                .arg(m.euler),
            false);
    });

    auto* help = menu_bar_->addMenu("Help");
    action(help, "What formulas understand", {}, "", [this] {
        QString text = text_of(formula_grammar()) + "\n\n";
        for (const FunctionInfo& f : all_functions()) text += QString::fromStdString(f.call()) + "  ";
        notice(text, {});
    });
    action(help, "About Bricol", {}, "", [this] {
        notice("Bricol " + text_of(version()) +
                   " — parametric assets from recipes. Free software under the GPL, version 3 or later.",
               {});
    });
}

}  // namespace bricol
