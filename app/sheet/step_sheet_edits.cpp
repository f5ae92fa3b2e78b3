// SPDX-License-Identifier: GPL-3.0-or-later
// What the sheet's menu and keys do to the chosen cards.
#include "app/sheet/step_sheet.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>

#include "app/sheet/sheet_actions.h"
#include "app/document/step_edits.h"
#include "app/sheet/sheet_layout.h"
#include "app/strip/step_card.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/recipe/clip.h"
#include "core/files/kits.h"
#include "core/formula/formula.h"

namespace bricol {

void StepSheet::change_chosen(const QString& name, const std::function<void(Step&)>& change) {
    Edited edited = session_.recipe();
    for (const std::string& id : chosen_steps())
        if (const Step* old = step(id)) {
            Step changed = *old;
            change(changed);
            edited = replace_step(*edited, session_.part(), changed);
            if (!edited) break;
        }
    session_.edit(edited, name);
}

void StepSheet::toggle_skip() {
    const Step* one = session_.chosen_step();
    if (one) change_chosen("Skip steps", [on = !one->skipped](Step& s) { s.skipped = on; });
}

void StepSheet::toggle_ghost() {
    const Step* one = session_.chosen_step();
    if (one) change_chosen("Ghost", [on = !one->ghost](Step& s) { s.ghost = on; });
}

void StepSheet::copy_chosen() {
    if (!chosen_steps().empty())
        QApplication::clipboard()->setText(
            QString::fromStdString(copied_steps(session_.recipe(), session_.part(), chosen_steps())));
}

void StepSheet::paste() {
    const QRectF seen(to_sheet({0, 0}), QSizeF(width(), height()) / zoom());
    std::vector<std::string> made;
    std::map<std::string, QPointF> places;
    for (const Card& c : cards_) places[c.id] = c.rect.topLeft();
    Recipe recipe = with_places(session_.recipe(), places);
    Edited edited =
        pasted_steps(recipe, session_.part(), "", QApplication::clipboard()->text().toStdString(), {40, 60}, &made);
    if (edited) {  // those without a place come to where the pointer is
        std::map<std::string, QPointF> fresh;
        QPointF at = seen.contains(pointer_) ? pointer_ : seen.center();
        for (const std::string& id : made)
            if (const Step* one = find_step(*edited->part(session_.part()), id); one && !one->at)
                fresh[id] = at, at += QPointF(sheet_card_width + 40, 0);
        edited = with_places(*edited, fresh);
    }
    if (session_.edit(edited, made.size() == 1 ? "Paste a step" : "Paste steps")) {
        choose_cards({made.begin(), made.end()});
        if (!made.empty()) primary_ = made.back(), session_.choose(session_.part(), made.back());
        choose_cards({made.begin(), made.end()});
    }
}

void StepSheet::duplicate_chosen() {
    const auto ids = chosen_steps();
    if (ids.empty()) return;
    std::map<std::string, QPointF> places;
    for (const Card& c : cards_) places[c.id] = c.rect.topLeft();
    const Recipe recipe = with_places(session_.recipe(), places);
    std::vector<std::string> made;
    if (session_.edit(
            pasted_steps(recipe, session_.part(), "", copied_steps(recipe, session_.part(), ids), {30, 110}, &made),
            "Duplicate steps") &&
        !made.empty()) {
        session_.choose(session_.part(), made.back());
        choose_cards({made.begin(), made.end()});
    }
}

void StepSheet::delete_chosen() {
    Edited edited = session_.recipe();
    const auto ids = chosen_steps();
    for (const std::string& id : ids) {
        edited = remove_step(*edited, session_.part(), id);
        if (!edited) break;
    }
    session_.edit(edited, ids.size() == 1 ? "Delete a step" : "Delete steps");
}

void StepSheet::pack_chosen(std::string_view as) {
    std::string id;
    if (session_.edit(packed(session_.recipe(), session_.part(), chosen_steps(), "", &id, as), "Pack steps")) {
        session_.choose(session_.part(), id);
        choose_cards({id});
        session_.say(
            "Packed into one step. Its numbers are in the details; double-click its name to call it something.");
    }
}

namespace {

void add_rounds(QMenu& menu, StepSheet& sheet) {
    for (const StepInfo* info : all_steps())
        if (!info->loop_names.empty()) {
            QAction* action = menu.addAction("Pack into “" + text_of(info->name) + "”", &sheet,
                                             [&sheet, key = info->key] { sheet.pack_chosen(key); });
            action->setToolTip(text_of(info->purpose));
        }
}

}  // namespace

void StepSheet::pack_for_rounds(const QPoint& global) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    add_rounds(*menu, *this);
    menu->popup(global);
}

void StepSheet::unpack_chosen() {
    std::vector<std::string> made;
    if (session_.edit(unpacked(session_.recipe(), session_.part(), session_.step(), session_.environment().find_kit,
                               session_.folder().toStdString(), &made),
                      "Open packed steps") &&
        !made.empty()) {
        session_.choose(session_.part(), made.back());
        choose_cards({made.begin(), made.end()});
    }
}

void StepSheet::save_chosen_as_kit() { emit kitSaveWanted(session_.step()); }

void StepSheet::frame_chosen() {
    QRectF all;
    for (const Card& c : cards_)
        if (chosen_.contains(c.id)) all |= c.rect;
    if (all.isEmpty()) {
        session_.say("Choose the cards to put a frame round first.");
        return;
    }
    all.adjust(-18, -36, 18, 18);
    std::map<std::string, QPointF> places;
    for (const Card& c : cards_) places[c.id] = c.rect.topLeft();
    Recipe recipe = with_places(session_.recipe(), places);
    for (auto& part : recipe.parts) {
        if (part->name != session_.part()) continue;
        Part changed = *part;
        changed.frames.push_back(
            {"frame", pair_of(all.topLeft()), {std::round(all.width()), std::round(all.height())}});
        part = std::make_shared<const Part>(std::move(changed));
    }
    if (session_.edit(recipe, "Frame cards")) area_rename(areas_.size() - 1);
}

void StepSheet::swap_inputs() {
    const Step* one = session_.chosen_step();
    const Part* part = session_.chosen_part();
    const StepInfo* info = one ? find_step_info(one->type) : nullptr;
    if (!info || info->inputs.size() < 2) {
        session_.say("This step has no two inputs to swap.");
        return;
    }
    const std::string a(info->inputs[0].key), b(info->inputs[1].key);
    const std::size_t s = step_index(*part, one->id);
    const std::string from_a = source_of(*part, s, a), from_b = source_of(*part, s, b);
    Edited edited = cut_input(session_.recipe(), session_.part(), one->id, a);
    if (edited) edited = cut_input(*edited, session_.part(), one->id, b);
    if (edited && !from_b.empty()) edited = link_input(*edited, session_.part(), one->id, a, from_b);
    if (edited && !from_a.empty()) edited = link_input(*edited, session_.part(), one->id, b, from_a);
    session_.edit(edited, "Swap inputs");
}

void StepSheet::tidy(bool everything) {
    Recipe recipe = session_.recipe();
    for (auto& part : recipe.parts) {
        if (part->name != session_.part()) continue;
        Part changed = *part;
        for (auto& one : changed.steps) {
            if (!everything && !chosen_.contains(one->id)) continue;
            Step free = *one;
            free.at.reset();
            free.via.clear();
            one = std::make_shared<const Step>(std::move(free));
        }
        part = std::make_shared<const Part>(std::move(changed));
    }
    session_.edit(recipe, "Tidy the sheet");
    fit(false);
}

void StepSheet::menu(const std::string& id, const QPointF& at, const QPoint& global) {
    auto* menu = new QMenu(this);
    menu->setObjectName("sheetMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    if (id.empty()) {
        menu->addAction("Add a step here…\t/", this, [this, at, global] { add_here(at, global); });
        menu->addAction("Paste\tCtrl+V", this, &StepSheet::paste);
        menu->addSeparator();
        menu->addAction("Fit\tHome", this, [this] { fit(false); });
        menu->addAction("Find…\tCtrl+F", this, [this] { find(); });
        menu->addAction("Tidy what is chosen\tT", this, [this] { tidy(false); });
        menu->addAction("Tidy everything\tShift+T", this, [this] { tidy(true); });
        menu->addAction(overview() ? "No overview\tO" : "Overview\tO", this, [this] { set_overview(!overview()); });
        menu->popup(global);
        return;
    }
    const Step* one = step(id);
    const StepInfo* info = one ? find_step_info(one->type) : nullptr;
    if (!one) return;
    const bool kit = info && info->parameter_of(ParameterKind::kit),
               blocks = info && info->parameter_of(ParameterKind::blocks);
    if (!stands_aside(*one)) {
        menu->addAction(session_.peek() == id ? "Stop peeking\tP" : "Peek\tP", this,
                        [this, id] { session_.set_peek(session_.peek() == id ? "" : id); });
        menu->addAction(one->ghost ? "No ghost\tG" : "Ghost\tG", this, &StepSheet::toggle_ghost);
        menu->addAction(one->skipped ? "Do not skip\tK" : "Skip\tK", this, &StepSheet::toggle_skip);
        menu->addAction("Make it the part's result", this, [this, id] {
            session_.edit(set_result(session_.recipe(), session_.part(), id), "Change the result");
        });
        menu->addSeparator();
    }
    if (blocks) menu->addAction("Open its own sheet\tEnter", this, [this, id] { emit mixerWanted(id); });
    if (kit) {
        menu->addAction("Open in place", this, &StepSheet::unpack_chosen);
        menu->addAction("Save as kit recipe…", this, &StepSheet::save_chosen_as_kit);
    }
    menu->addAction(chosen_.size() > 1 ? "Pack into one step\tCtrl+P" : "Pack into a step\tCtrl+P", this,
                    [this] { pack_chosen(); });
    add_rounds(*menu, *this);
    menu->addAction("Put a frame round\tF", this, &StepSheet::frame_chosen);
    if (info && info->inputs.size() > 1) menu->addAction("Swap the first two inputs\tX", this, &StepSheet::swap_inputs);
    menu->addSeparator();
    menu->addAction("Rename\tF2", this, [this, id] { rename(id); });
    menu->addAction("Duplicate\tCtrl+D", this, &StepSheet::duplicate_chosen);
    menu->addAction("Copy\tCtrl+C", this, &StepSheet::copy_chosen);
    menu->addAction("Tidy\tT", this, [this] { tidy(false); });
    menu->addSeparator();
    menu->addAction("Delete\tDel", this, &StepSheet::delete_chosen);
    menu->popup(global);
}

void StepSheet::edit_text(const QRectF& at, const QString& text, std::function<void(const QString&)> done) {
    auto* field = new QLineEdit(text, this);
    field->setObjectName("sheetName");
    const QPoint corner = to_view(at.topLeft());
    field->setGeometry(corner.x(), corner.y(), std::max(120, static_cast<int>(at.width() * zoom())), 24);
    field->selectAll();
    field->show();
    field->setFocus();
    connect(field, &QLineEdit::editingFinished, this, [field = QPointer<QLineEdit>(field), done] {
        if (!field || field->property("done").toBool()) return;
        field->setProperty("done", true);
        if (field->isModified()) done(field->text().trimmed());
        field->deleteLater();
    });
}

void StepSheet::area_rename(std::size_t number) {
    edit_text(QRectF(areas_[number].rect.topLeft(), QSizeF(180, 24)), areas_[number].title,
              [this, number](const QString& text) {
                  Recipe recipe = session_.recipe();
                  for (auto& part : recipe.parts) {
                      if (part->name != session_.part() || number >= part->frames.size()) continue;
                      Part changed = *part;
                      if (text.isEmpty())
                          changed.frames.erase(changed.frames.begin() + static_cast<std::ptrdiff_t>(number));
                      else
                          changed.frames[number].title = text.toStdString();
                      part = std::make_shared<const Part>(std::move(changed));
                  }
                  session_.edit(recipe, text.isEmpty() ? "Take a frame away" : "Name a frame");
              });
}

void StepSheet::rename(const std::string& id) {
    const Card* found = card(id);
    const Step* one = step(id);
    if (!found || !one) return;
    const StepInfo* info = find_step_info(one->type);
    edit_text(found->rect.adjusted(28, 4, -6, 0),
              one->title.empty() && info ? text_of(info->name) : QString::fromStdString(one->title),
              [this, id](const QString& text) {
                  const Step* old = step(id);
                  if (!old) return;
                  Step changed = *old;
                  changed.title = text.toStdString();
                  session_.edit(replace_step(session_.recipe(), session_.part(), changed), "Rename a step");
              });
}

void StepSheet::opened(const std::string& id) {
    const Step* one = step(id);
    const StepInfo* info = one ? find_step_info(one->type) : nullptr;
    if (!info) return;
    if (info->parameter_of(ParameterKind::blocks)) {
        emit mixerWanted(id);
        return;
    }
    if (stands_aside(*one) && info->parameters.size() == 1 && info->parameters.front().kind == ParameterKind::text) {
        const std::string key(info->parameters.front().key);
        edit_text(card(id)->rect.adjusted(8, 26, 200, 0),
                  one->settings.contains(key) && one->settings[key].is_string()
                      ? QString::fromStdString(one->settings[key].get<std::string>())
                      : QString(),
                  [this, id, key](const QString& text) {
                      session_.edit(set_setting(session_.recipe(), session_.part(), id, key, text.toStdString()),
                                    "Write a note");
                  });
        return;
    }
    rename(id);
}

}  // namespace bricol
