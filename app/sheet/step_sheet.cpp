// SPDX-License-Identifier: GPL-3.0-or-later
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

namespace {

GraphView::Pen pen_of(const Shape* shape) {
    if (!shape) return GraphView::Pen::mesh;
    if (shape->mesh.face_count() > 0) return GraphView::Pen::mesh;
    if (!shape->instances.empty()) return GraphView::Pen::instances;
    if (!shape->curves.empty()) return GraphView::Pen::curves;
    return shape->mesh.empty() || shape->mesh.edge_count() > 0 ? GraphView::Pen::mesh : GraphView::Pen::points;
}

/// Names of steps that the formulas of a step ask for.
void formula_sources(const Json& value, std::set<std::string>& names) {
    if (value.is_string()) {
        const auto& text = value.get_ref<const std::string&>();
        if (text.starts_with('='))
            for (const std::string& name : names_in(std::string_view(text).substr(1)))
                names.insert(name.substr(0, name.find('.')));
    } else if (value.is_object() && value.contains("target") && value.contains("formula") &&
               value["formula"].is_string()) {
        for (const std::string& name : names_in(value["formula"].get<std::string>()))
            names.insert(name.substr(0, name.find('.')));
    } else if (value.is_object() && value.contains("bricol")) {
        return;  // a recipe inside has names of its own
    } else if (value.is_structured()) {
        for (const auto& item : value) formula_sources(item, names);
    }
}

std::array<double, 2> pair_of(const QPointF& p) { return {std::round(p.x()), std::round(p.y())}; }

}  // namespace

StepSheet::StepSheet(Session& session, QWidget* parent) : GraphView(parent), session_(session) {
    setObjectName("sheet");
    connect(&session, &Session::recipeChanged, this, &StepSheet::regather);
    connect(&session, &Session::madeChanged, this, &StepSheet::regather);
    connect(&session, &Session::choiceChanged, this, [this] {
        if (session_.part() != gathered_part_) {
            traced_.clear();
            regather();
            fit(false);
        }
        if (primary_ != session_.step()) {
            primary_ = session_.step();
            choose_cards(primary_.empty() ? std::set<std::string>{} : std::set<std::string>{primary_});
        }
        update();
    });
}

const Step* StepSheet::step(const std::string& id) const {
    const Part* part = session_.chosen_part();
    return part ? find_step(*part, id) : nullptr;
}

void StepSheet::gather(std::vector<Card>& cards, std::vector<Wire>& wires, std::vector<Area>& areas) {
    const Part* part = session_.chosen_part();
    gathered_part_ = session_.part();
    if (!part) return;
    const auto places = sheet_layout(*part);
    for (std::size_t s = 0; s < part->steps.size(); ++s) {
        const Step& one = *part->steps[s];
        const StepInfo* info = find_step_info(one.type);
        Card card;
        card.id = one.id;
        card.rect = QRectF(places.at(one.id), QSizeF(sheet_card_width, sheet_card_height_of(one)));
        card.numbers_below = stands_aside(one);
        card.gives =
            !stands_aside(one) ||
            (info && (!info->outputs.empty() || std::ranges::any_of(info->parameters, [](const ParameterInfo& p) {
                 return p.kind == ParameterKind::number || p.kind == ParameterKind::vector;
             })));
        if (stands_aside(one) && !card.gives) card.rect.setHeight(84);
        if (info)
            for (const InputInfo& input : info->inputs) {
                const std::string source = source_of(*part, s, std::string(input.key));
                card.inputs.push_back({std::string(input.key),
                                       text_of(input.label) + (input.required ? "" : " (may be left out)"),
                                       !source.empty()});
                if (source.empty() || source.starts_with("part:")) continue;
                Wire wire{source, one.id, std::string(input.key), {}, Pen::mesh, false};
                if (const auto via = one.via.find(std::string(input.key)); via != one.via.end())
                    for (const auto& pin : via->second) wire.via.emplace_back(pin[0], pin[1]);
                const StepOutcome* outcome = session_.outcome(session_.part(), source);
                wire.pen = pen_of(outcome ? outcome->shape.get() : nullptr);
                wires.push_back(std::move(wire));
            }
        std::set<std::string> sources;
        formula_sources(one.settings, sources);
        for (const std::string& source : sources)
            if (const Step* from = find_step(*part, source); from && stands_aside(*from) && source != one.id)
                wires.push_back({source, one.id, "", {}, Pen::number, true});
        cards.push_back(std::move(card));
    }
    for (const SheetFrame& frame : part->frames)
        areas.push_back(
            {QString::fromStdString(frame.title), QRectF(frame.at[0], frame.at[1], frame.size[0], frame.size[1])});
}

void StepSheet::paint_card(QPainter& painter, const Card& card, bool chosen, double) {
    const Step* one = step(card.id);
    if (!one) return;
    const auto traced = std::ranges::find(traced_, card.id);
    if (traced != traced_.end()) {  // a lit step: a band round it, and its number in the order of making
        painter.setPen(QPen(theme::color(theme::Role::act), 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(card.rect.adjusted(-5, -5, 5, 5), 7, 7);
    }
    paint_step_card(painter, card.rect.toRect(), session_, *one, chosen, devicePixelRatioF() * std::max(1.0, zoom()));
    if (traced != traced_.end()) {
        const QRectF tag(card.rect.left() - 11, card.rect.top() - 11, 18, 18);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::color(theme::Role::act));
        painter.drawEllipse(tag);
        painter.setPen(theme::color(theme::Role::card));
        painter.setFont(theme::number_font(8, 600));
        painter.drawText(tag, Qt::AlignCenter, QString::number(traced - traced_.begin() + 1));
    }
    // Other parts come in without a card of their own: their name stands at the notch.
    painter.setFont(theme::text_font(7.5));
    painter.setPen(theme::color(theme::Role::soft_ink));
    for (std::size_t i = 0; i < card.inputs.size(); ++i)
        if (const auto link = one->inputs.find(card.inputs[i].key);
            link != one->inputs.end() && link->second.starts_with("part:"))
            painter.drawText(QRectF(card.input_at(i) - QPointF(126, 8), QSizeF(118, 16)),
                             Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(link->second.substr(5)) + " →");
}

void StepSheet::light(const std::vector<std::string>& steps) {
    traced_ = steps;
    update();
}

void StepSheet::chosen_changed(const std::string& primary) {
    primary_ = primary;
    session_.choose(session_.part(), primary);
}

std::set<std::string> StepSheet::chosen_steps() const {
    std::set<std::string> ids = chosen_;
    if (ids.empty() && !session_.step().empty()) ids.insert(session_.step());
    return ids;
}

Recipe StepSheet::with_places(const Recipe& recipe, const std::map<std::string, QPointF>& places) const {
    Recipe out = recipe;
    for (auto& part : out.parts) {
        if (part->name != session_.part()) continue;
        Part changed = *part;
        for (auto& one : changed.steps)
            if (const auto place = places.find(one->id); place != places.end()) {
                Step moved = *one;
                moved.at = pair_of(place->second);
                one = std::make_shared<const Step>(std::move(moved));
            }
        part = std::make_shared<const Part>(std::move(changed));
    }
    return out;
}

void StepSheet::moved(const std::map<std::string, QPointF>& places) {
    session_.edit(with_places(session_.recipe(), places), places.size() == 1 ? "Move a card" : "Move cards");
    session_.part_edits();
}

QString StepSheet::why_not_link(const std::string& from, const std::string& to, const std::string& input) {
    const Step *source = step(from), *target = step(to);
    const Part* part = session_.chosen_part();
    if (!source || !target || !part) return "There is no such step.";
    if (from == to) return "A step cannot feed itself.";
    const StepInfo* info = find_step_info(target->type);
    const InputInfo* slot = info ? info->input(input) : nullptr;
    if (!slot) return text_of(info ? info->name : "This step") + " has no such input.";
    if (stands_aside(*source)) return {};  // numbers go to numbers: which one is asked when it is dropped
    const auto linked = link_input(session_.recipe(), session_.part(), to, input, from);
    if (!linked) return QString::fromStdString(linked.problem().what);
    const StepOutcome* outcome = session_.outcome(session_.part(), from);
    if (!outcome || outcome->shape->empty()) return {};
    const unsigned content = content_of(*outcome->shape);
    if (content & slot->accepts) return {};
    if (content & content_instances && slot->accepts & (content_faces | content_curves))
        return {};  // written out for it
    return QString("“%1” needs %2; this is %3.")
        .arg(text_of(slot->label), text_of(content_words(slot->accepts)), text_of(content_found(*outcome->shape)));
}

void StepSheet::link(const std::string& from, const std::string& to, const std::string& input) {
    if (const QString why = why_not_link(from, to, input); !why.isEmpty()) {
        session_.say(why, true);
        regather();
        return;
    }
    session_.edit(link_input(session_.recipe(), session_.part(), to, input, from), "Wire an input");
}

void StepSheet::cut(const std::vector<std::pair<std::string, std::string>>& inputs) {
    Edited edited = session_.recipe();
    for (const auto& [to, input] : inputs) {
        edited = cut_input(*edited, session_.part(), to, input);
        if (!edited) break;
    }
    session_.edit(edited, inputs.size() == 1 ? "Cut a wire" : "Cut wires");
}

void StepSheet::ask_for_step(const QPointF& at, const QPoint& global, const std::string& from, const Wire* between) {
    const std::optional<Wire> wire = between ? std::optional<Wire>(*between) : std::nullopt;
    const auto why = [this, from](const StepInfo& info) -> QString {
        if (from.empty()) return {};
        if (info.aside || info.inputs.empty()) return "takes no shape, so a wire cannot lead to it.";
        const StepOutcome* outcome = session_.outcome(session_.part(), from);
        if (!outcome || outcome->shape->empty()) return {};
        const unsigned content = content_of(*outcome->shape);
        const unsigned accepts = info.inputs.front().accepts;
        if (content & accepts || (content & content_instances && accepts & (content_faces | content_curves))) return {};
        return QString("needs %1; this is %2.")
            .arg(text_of(content_words(accepts)), text_of(content_found(*outcome->shape)));
    };
    emit addWanted(global, why,
                   [this, at, from, wire](const StepInfo& info) { add_at(info, at, from, wire ? &*wire : nullptr); });
}

void StepSheet::add_at(const StepInfo& info, const QPointF& at, const std::string& from, const Wire* between) {
    Recipe recipe = session_.recipe();
    std::string part = session_.part();
    if (!recipe.part(part)) {
        auto with_part = add_part(recipe, "part", &part);
        if (!with_part) return;
        recipe = *with_part;
    }
    // Everything else keeps its place, so that the sheet does not jump.
    std::map<std::string, QPointF> places;
    for (const Card& c : cards_) places[c.id] = c.rect.topLeft();
    recipe = with_places(recipe, places);
    Step made;
    made.type = info.key;
    made.at = pair_of(at - QPointF(0, sheet_card_height / 2));
    const std::string key = info.inputs.empty() ? "" : std::string(info.inputs.front().key);
    if (!from.empty() && !key.empty())
        made.inputs[key] = from;
    else if (!key.empty() && key == "shape")
        made.inputs["shape"] = "";
    // Behind its source in the list; a free one at the front, where nothing takes it for the step before it.
    std::string id;
    const Part& holder = *recipe.part(part);
    const Step* result = result_step(holder);
    const std::string result_id = result ? result->id : "";
    std::string next_id, next_source;
    const std::string after = from.empty() ? "" : from;
    if (const std::size_t i = after.empty() ? 0 : step_index(holder, after) + 1; i < holder.steps.size()) {
        next_id = holder.steps[i]->id;
        next_source = source_of(holder, i, "shape");
    }
    Edited edited = insert_step(recipe, part, after, made, &id);
    // Unless it goes between, whatever followed its neighbour on the strip goes on following it, and the result stays.
    if (edited && !next_id.empty() && !info.aside) {
        const Part& now = *edited->part(part);
        const std::size_t i = step_index(now, next_id);
        if (const Step& next = *now.steps[i]; !starts_chain(next) && !stands_aside(next) &&
                                              !next.inputs.contains("shape") &&
                                              source_of(now, i, "shape") != next_source)
            edited = next_source.empty() ? cut_input(*edited, part, next_id, "shape")
                                         : link_input(*edited, part, next_id, "shape", next_source);
    }
    if (edited && between) {
        edited = link_input(*edited, part, id, key, between->from);
        if (edited) edited = link_input(*edited, part, between->to, between->input, id);
    } else if (edited && !result_id.empty() && !info.aside && !from.empty() && from != result_id) {
        edited = set_result(*edited, part, result_id);
    } else if (edited && !result_id.empty() && from.empty()) {
        edited = set_result(*edited, part, result_id);
    }
    if (session_.edit(edited, QString("Add %1").arg(text_of(info.name)))) {
        session_.choose(part, id);
        setFocus();
    }
}

bool StepSheet::dropped_on_card(const std::string& from, const std::string& to, const QPoint& global) {
    const Step *source = step(from), *target = step(to);
    const StepInfo *gives = source ? find_step_info(source->type) : nullptr,
                   *takes = target ? find_step_info(target->type) : nullptr;
    if (!gives || !takes || !stands_aside(*source)) return false;
    std::vector<std::pair<QString, std::string>> outputs;  // what the block gives, as formulas call it
    for (const OutputInfo& output : gives->outputs)
        outputs.emplace_back(text_of(output.label), from + "." + std::string(output.key));
    if (gives->outputs.empty() || gives->outputs.front().key != "value")
        for (const ParameterInfo& p : gives->parameters) {
            if (p.key != "value") continue;
            if (p.kind == ParameterKind::number) outputs.emplace_back(text_of(p.label), from + ".value");
            for (int c = 0; p.kind == ParameterKind::vector && c < 3; ++c)
                outputs.emplace_back(text_of(p.label) + " " + "xyz"[c], from + ".value." + "xyz"[c]);
        }
    auto* menu = new QMenu(this);
    menu->setObjectName("numberMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addSection("Wire to which number?");
    const auto offer = [&](const QString& label, const NumberPlace& place) {
        const auto wire = [this, place](const std::string& name) {
            session_.edit(set_number(session_.recipe(), place, "= " + name), "Wire a number");
        };
        if (outputs.size() == 1) {
            menu->addAction(label, this, [wire, name = outputs.front().second] { wire(name); });
            return;
        }
        auto* more = menu->addMenu(label);
        for (const auto& [output, name] : outputs) more->addAction(output, this, [wire, name = name] { wire(name); });
    };
    std::vector<Finding> ignored;
    const Values values = session_.resolver().parameters(*session_.chosen_part(), *target, *takes, ignored);
    for (const ParameterInfo& p : takes->parameters) {
        if (!asked_for(*takes, p, values)) continue;
        const std::string key(p.key);
        if (p.kind == ParameterKind::number) offer(text_of(p.label), {session_.part(), to, key, -1, ""});
        for (int c = 0; p.kind == ParameterKind::vector && c < 3; ++c)
            offer(text_of(p.label) + " " + "xyz" [c], { session_.part(), to, key, c, "" });
    }
    if (menu->actions().size() < 2) {
        delete menu;
        session_.say("This step has no number to wire to.", true);
        return true;
    }
    menu->popup(global);
    return true;
}

void StepSheet::pulled_into_open(const std::string& from, const QPointF& at, const QPoint& global) {
    const Step* source = step(from);
    if (source && stands_aside(*source)) {
        session_.say("This block gives numbers: drop its wire on the card whose number it is to give.", true);
        return;
    }
    ask_for_step(at, global, from, nullptr);
}

/// On a wire the new step goes in between; elsewhere it stands alone.
void StepSheet::add_here(const QPointF& at, const QPoint& global) {
    const std::size_t w = wire_at(at);
    if (w < wires_.size())
        ask_for_step(at, global, wires_[w].from, &wires_[w]);
    else
        ask_for_step(at, global, "", nullptr);
}

void StepSheet::open_double_clicked(const QPointF& at, const QPoint& global) { ask_for_step(at, global, "", nullptr); }

void StepSheet::dropped_on_wire(const std::string& id, const Wire& wire) {
    const Step* one = step(id);
    const StepInfo* info = one ? find_step_info(one->type) : nullptr;
    if (!info || info->inputs.empty() || stands_aside(*one)) return;
    const std::string key(info->inputs.front().key);
    if (one->inputs.contains(key) && !one->inputs.at(key).empty()) return;  // already fed: it was only moved
    if (std::ranges::any_of(wires_, [&](const Wire& w) { return w.from == id; })) return;
    Edited edited = link_input(session_.recipe(), session_.part(), id, key, wire.from);
    if (edited) edited = link_input(*edited, session_.part(), wire.to, wire.input, id);
    session_.edit(edited, "Put a step between");
}

void StepSheet::pins_changed(const std::string& to, const std::string& input, const std::vector<QPointF>& via) {
    const Step* target = step(to);
    if (!target) return;
    Step changed = *target;
    changed.via.erase(input);
    for (const QPointF& pin : via) changed.via[input].push_back(pair_of(pin));
    session_.edit(replace_step(session_.recipe(), session_.part(), changed), "Lead a wire");
}

void StepSheet::area_changed(std::size_t number, const Area& area, const std::map<std::string, QPointF>& cards) {
    Recipe recipe = with_places(session_.recipe(), cards);
    for (auto& part : recipe.parts) {
        if (part->name != session_.part() || number >= part->frames.size()) continue;
        Part changed = *part;
        changed.frames[number].at = pair_of(area.rect.topLeft());
        changed.frames[number].size = {std::round(area.rect.width()), std::round(area.rect.height())};
        part = std::make_shared<const Part>(std::move(changed));
    }
    session_.edit(recipe, "Move a frame");
    session_.part_edits();
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
    if (std::ranges::any_of(info->parameters, [](const ParameterInfo& p) { return p.kind == ParameterKind::blocks; })) {
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

// ---- What the menu and keys do ----

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

void StepSheet::pack_chosen() {
    std::string id;
    if (session_.edit(packed(session_.recipe(), session_.part(), chosen_steps(), "", &id), "Pack steps")) {
        session_.choose(session_.part(), id);
        choose_cards({id});
        session_.say(
            "Packed into one step. Its numbers are in the details; double-click its name to call it something.");
    }
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
    const bool kit = info && std::ranges::any_of(info->parameters,
                                                 [](const ParameterInfo& p) { return p.kind == ParameterKind::kit; });
    const bool blocks = info && std::ranges::any_of(info->parameters, [](const ParameterInfo& p) {
                            return p.kind == ParameterKind::blocks;
                        });
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
                    &StepSheet::pack_chosen);
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

void StepSheet::add_at_pointer() { add_here(pointer_, mapToGlobal(to_view(pointer_))); }

void StepSheet::keyPressEvent(QKeyEvent* event) {
    if (!run_by_key(sheet_actions(), *this, *event)) GraphView::keyPressEvent(event);
}

bool StepSheet::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {  // here these keys work on the sheet instead of the room
        const auto* key = static_cast<QKeyEvent*>(event);
        if (std::ranges::any_of(sheet_actions(), [&](const auto& action) { return key_fits(action.key, *key); })) {
            event->accept();
            return true;
        }
    }
    return GraphView::event(event);
}

QString StepSheet::hover_text(const Card& card) {
    const Step* one = step(card.id);
    return one ? step_hover_text(session_, *one) : QString();
}

QString StepSheet::found_text(const Card& card) {
    const Step* one = step(card.id);
    const StepInfo* info = one ? find_step_info(one->type) : nullptr;
    if (!one) return {};
    return QString::fromStdString(one->id + " " + one->title + " " + one->note + " ") +
           (info ? text_of(info->name) + " " + telling_value(session_, *one, *info) : QString());
}

QString StepSheet::legend() const {
    return "mesh ———   curves – – –   points · · ·   copies ═══   numbers hair-thin      middle-drag slides · "
           "right-drag cuts wires · double-click a wire for a pin";
}

}  // namespace bricol
