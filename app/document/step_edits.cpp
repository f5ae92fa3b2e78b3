// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/step_edits.h"

#include <algorithm>
#include <cmath>

#include "core/formula/formula.h"
#include "core/ground/words.h"
#include "core/recipe/settings.h"

namespace bricol {

namespace {

QString remedy_for(unsigned content) {
    return content & content_curves ? "Add a drawn curve or a circle first." : "Add a lathe or a box first.";
}

}  // namespace

QString why_not(const Session& session, const StepInfo& info) {
    const InputInfo* main = info.input("shape");
    if (!main || !main->required) return {};
    const StepOutcome* before = session.outcome(session.part(), session.step());
    if (!before || before->shape->empty())
        return QString("needs %1; there is nothing yet. %2")
            .arg(QString::fromStdString(content_words(main->accepts)), remedy_for(main->accepts));
    const unsigned content = content_of(*before->shape);
    if (content & main->accepts) return {};
    // Copies are written out for a step that cannot take them.
    if (content & content_instances)
        return main->accepts & (content_faces | content_curves)
                   ? QString()
                   : QString("needs %1; these are copies. Add Real geometry first.")
                         .arg(QString::fromStdString(content_words(main->accepts)));
    return QString("needs %1; this is %2. %3")
        .arg(QString::fromStdString(content_words(main->accepts)),
             QString::fromStdString(content_found(*before->shape)), remedy_for(main->accepts));
}

Edited recipe_with_part(const Session& session, std::string& part) {
    part = session.part();
    if (session.recipe().part(part)) return session.recipe();
    return add_part(session.recipe(), "part", &part);
}

Step fresh_step(const Recipe& recipe, const std::string& part, const StepInfo& info) {
    Step step;
    step.type = info.key;
    for (const ParameterInfo& p : info.parameters) {
        if (p.kind != ParameterKind::part) continue;
        const auto other = std::ranges::find_if(recipe.parts, [&](const auto& one) { return one->name != part; });
        if (other != recipe.parts.end()) step.settings[std::string(p.key)] = (*other)->name;
    }
    return step;
}

bool add_stock_part(Session& session, const std::string& name, const std::string& title) {
    std::string part = session.part();
    const Part* chosen = session.chosen_part();
    Edited edited = session.recipe();
    if (!chosen || !chosen->steps.empty()) edited = add_part(session.recipe(), name_from(title), &part);
    if (edited) {
        Step step{name_from(title), "recipe", title, ""};
        step.settings["kit"] = name;
        step.settings["part"] = "*";
        std::string id;
        edited = insert_step(*edited, part, "", step, &id);
        if (session.edit(edited, QString("Add %1").arg(QString::fromStdString(title)))) {
            session.choose(part, id);
            return true;
        }
        return false;
    }
    session.edit(edited, "");
    return false;
}

bool add_step(Session& session, const StepInfo& info) {
    std::string part;
    const Edited with_part = recipe_with_part(session, part);
    if (!with_part) return false;
    const Recipe& recipe = *with_part;
    const Step step = fresh_step(recipe, part, info);
    const Part& holder = *recipe.part(part);
    const bool starts = info.input("shape") == nullptr;
    // A step that needs no shape stands before the others, where nothing takes it for its own.
    const std::string after = starts && !holder.steps.empty() ? "" : holder.steps.empty() ? "" : session.step();
    std::string id;
    auto edited = insert_step(recipe, part, after, step, &id);
    if (!edited) {
        session.edit(edited, "");
        return false;
    }
    // What took the chosen step by name takes the new one now: it was put in between.
    if (!starts) {
        for (const auto& other : edited->part(part)->steps) {
            const auto link = other->inputs.find("shape");
            if (other->id == id || link == other->inputs.end() || link->second != after || after.empty()) continue;
            auto relinked = link_input(*edited, part, other->id, "shape", id);
            if (relinked) edited = relinked;
        }
    }
    if (!session.edit(edited,
                      QString("Add %1").arg(QString::fromUtf8(info.name.data(), static_cast<int>(info.name.size())))))
        return false;
    session.choose(part, id);
    if (starts && !info.aside && !holder.steps.empty()) {
        session.set_peek(id);
        session.say("This is a branch of its own. Link it to another step's input, or add Merge to the chain.");
    }
    return true;
}

std::vector<std::string> chain_to(const Part& part, const std::string& end) {
    std::vector<std::string> chain;
    std::string id = end;
    while (!id.empty() && !id.starts_with("part:")) {
        const std::size_t i = step_index(part, id);
        if (i == part.steps.size() || std::ranges::find(chain, id) != chain.end()) break;
        chain.push_back(id);
        const StepInfo* info = find_step_info(part.steps[i]->type);
        if (info && !info->input("shape")) break;
        id = source_of(part, i, "shape");
    }
    std::ranges::reverse(chain);
    return chain;
}

QString grouped(std::size_t n) {
    QString digits = QString::number(n);
    for (int i = static_cast<int>(digits.size()) - 3; i > 0; i -= 3) digits.insert(i, QChar(0x2009));
    return digits;
}

QString time_text(double milliseconds) {
    if (milliseconds >= 1000) return QString("%1 s").arg(milliseconds / 1000, 0, 'f', milliseconds < 10000 ? 2 : 1);
    return QString("%1 ms").arg(milliseconds, 0, 'f', milliseconds < 10 ? 1 : 0);
}

QString telling_value(const Session& session, const Step& step, const StepInfo& info) {
    std::string text(info.telling);
    const StepOutcome* outcome = session.outcome(session.part(), step.id);
    for (const ParameterInfo& p : info.parameters) {
        const std::string slot = "{" + std::string(p.key) + "}";
        std::size_t at = text.find(slot);
        if (at == std::string::npos) continue;
        Shown shown{session.recipe().unit};
        if (const auto written = step.settings.find(std::string(p.key)); written != step.settings.end())
            shown.written = &*written;
        if (outcome)
            if (const auto value = outcome->values.find(p.key); value != outcome->values.end())
                shown.value = &value->second;
        const std::string told = kind_info(p).told(p, shown);
        for (; at != std::string::npos; at = text.find(slot, at + told.size())) {
            text.replace(at, slot.size(), told);
            if (told != "1" || at + 2 > text.size()) continue;
            const std::size_t end = std::min(text.find(' ', at + 2), text.size());
            const std::string word = text.substr(at + 2, end - at - 2);
            text.replace(at + 2, word.size(), one_of_many(word));
        }
    }
    return QString::fromStdString(text);
}

std::string NumberPlace::link_name() const {
    if (!pointer.empty()) return {};
    return part + "." + step + "." + key + (component < 0 ? "" : std::string(".") + "xyz"[component]);
}

QString number_label(const ParameterInfo& p, const NumberOf& number) {
    QString label = QString::fromUtf8(p.label.data(), static_cast<int>(p.label.size()));
    if (number.component >= 0) label += QString(" ") + "xyz"[number.component];
    return label;
}

Json written_at(const Recipe& recipe, const NumberPlace& place) {
    const Part* part = recipe.part(place.part);
    const Step* step = part ? find_step(*part, place.step) : nullptr;
    if (!step) return nullptr;
    std::string path = place.pointer.empty() ? "/" + place.key : place.pointer;
    if (place.component >= 0) path += "/" + std::to_string(place.component);
    const Json::json_pointer pointer(path);
    return step->settings.contains(pointer) ? step->settings[pointer] : Json(nullptr);
}

Edited set_number(const Recipe& recipe, const NumberPlace& place, const Json& value) {
    const Json tidy = value.is_number() ? Json(std::round(value.get<double>() * 1e7) / 1e7) : value;
    if (place.component < 0)
        return set_setting(recipe, place.part, place.step, place.pointer.empty() ? place.key : place.pointer, tidy);
    const Part* part = recipe.part(place.part);
    const Step* step = part ? find_step(*part, place.step) : nullptr;
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    const ParameterInfo* p = info ? info->parameter(place.key) : nullptr;
    if (!p) return Problem{"This number is gone.", "", ""};
    const auto written = step->settings.find(place.key);
    return set_setting(
        recipe, place.part, place.step, place.key,
        with_number(*p, written == step->settings.end() ? nullptr : &*written, {place.component, {}}, tidy));
}

Edited make_dial(const Recipe& recipe, const NumberPlace& place, const ParameterInfo& info, double value,
                 std::string* name) {
    Dial dial;
    dial.name = std::string(info.label) + (place.component < 0 ? "" : std::string(" ") + "xyz"[place.component]);
    dial.value = value;
    dial.low = std::min(info.soft_low, value);
    dial.high = std::max(info.soft_high, value);
    if (info.quantity == Quantity::length && value > 0) {
        dial.low = std::max(info.low, info.soft_low < 0 ? 0.0 : std::max(info.soft_low, value / 4));
        dial.high = value * 2;
    }
    dial.unit = info.quantity == Quantity::length  ? "m"
                : info.quantity == Quantity::angle ? "deg"
                : info.quantity == Quantity::count ? "count"
                                                   : "";
    dial.help = std::string(info.help);
    std::string made;
    auto with_dial = add_dial(recipe, dial, &made);
    if (!with_dial) return with_dial;
    if (name) *name = made;
    return set_number(*with_dial, place, "= " + made);
}

Edited make_dial_of(const Recipe& recipe, const NumberPlace& place, const ParameterInfo& info, const Json& value,
                    std::string* name) {
    Dial dial;
    dial.name = std::string(info.label);
    dial.help = std::string(info.help);
    dial.low = 0, dial.high = 1;
    dial.kind = info.kind == ParameterKind::choice   ? DialKind::choice
                : info.kind == ParameterKind::toggle ? DialKind::toggle
                                                     : DialKind::colour;
    for (const Choice& choice : info.choices) dial.choices.emplace_back(choice.key);
    const auto there = turned(dial, value);
    if (!there) return there.problem();
    std::string made;
    const auto with_dial = add_dial(recipe, *there, &made);
    if (!with_dial) return with_dial;
    if (name) *name = made;
    return set_setting(*with_dial, place.part, place.step, place.key, "= " + made);
}

}  // namespace bricol
