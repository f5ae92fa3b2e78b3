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
#include "core/recipe/settings.h"
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

/// Names of steps and dials that the formulas of a step ask for.
std::set<std::string> formula_sources(Step step) {
    std::set<std::string> names;
    each_formula(step, [&](const WrittenFormula& written) {
        for (const std::string& name : names_in(without_sign(written.text.get<std::string>())))
            names.insert(name.substr(0, name.find('.')));
    });
    return names;
}

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
            (info && (!info->outputs.empty() || info->named_numbers ||
                      std::ranges::any_of(info->parameters, [](const ParameterInfo& p) { return has_numbers(p); })));
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
        for (const std::string& source : formula_sources(one))
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
    std::string part;
    const Edited with_part = recipe_with_part(session_, part);
    if (!with_part) return;
    // Everything else keeps its place, so that the sheet does not jump.
    std::map<std::string, QPointF> places;
    for (const Card& c : cards_) places[c.id] = c.rect.topLeft();
    Recipe recipe = with_places(*with_part, places);
    Step made = fresh_step(recipe, part, info);
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
    if (gives->named_numbers)
        for (const std::string& name : gives->named_numbers.names(source->settings))
            outputs.emplace_back(QString::fromStdString(name), from + "." + name);
    if (gives->outputs.empty() || gives->outputs.front().key != "value")
        for (const ParameterInfo& p : gives->parameters) {
            if (p.key != "value") continue;
            for (const NumberOf& number : numbers_of(p))
                outputs.emplace_back(number_label(p, number), from + ".value" + std::string(number.suffix));
        }
    if (outputs.empty()) {
        session_.say("This block has no number yet: give its list a head.", true);
        return true;
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
        for (const NumberOf& number : numbers_of(p))
            offer(number_label(p, number), {session_.part(), to, std::string(p.key), number.component, ""});
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
