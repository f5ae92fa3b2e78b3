// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/step_edits.h"

#include <algorithm>
#include <cmath>

namespace bricol {

namespace {

QString content_text(unsigned content) {
    QStringList words;
    if (content & content_curves) words << "a curve";
    if (content & content_instances && !(content & content_faces)) words << "copies";
    if (content & content_faces) words << "a mesh";
    if (content & content_edges && !(content & content_faces)) words << "edges";
    if (content & content_points && !(content & (content_faces | content_edges))) words << "points";
    return words.join(" or ");
}

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
            .arg(content_text(main->accepts), remedy_for(main->accepts));
    const unsigned content = content_of(*before->shape);
    if (content & main->accepts) return {};
    // Copies are written out for a step that cannot take them.
    if (content & content_instances)
        return main->accepts & (content_faces | content_curves)
                   ? QString()
                   : QString("needs %1; these are copies. Add Real geometry first.").arg(content_text(main->accepts));
    return QString("needs %1; this is %2. %3")
        .arg(content_text(main->accepts),
             content & content_faces    ? "a mesh"
             : content & content_curves ? "a curve"
                                        : "loose edges",
             remedy_for(main->accepts));
}

bool add_step(Session& session, const StepInfo& info) {
    Recipe recipe = session.recipe();
    std::string part = session.part();
    if (!recipe.part(part)) {
        auto with_part = add_part(recipe, "part", &part);
        if (!with_part) return false;
        recipe = *with_part;
    }
    Step step;
    step.type = info.key;
    for (const ParameterInfo& p : info.parameters) {
        if (p.kind != ParameterKind::part) continue;
        for (const auto& other : recipe.parts)
            if (other->name != part) {
                step.settings[std::string(p.key)] = other->name;
                break;
            }
    }
    const Part& holder = *recipe.part(part);
    const bool starts = info.input("shape") == nullptr;
    step.starts = starts && !info.aside;
    step.aside = info.aside;
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

QString telling_value(const Session& session, const Step& step, const StepInfo& info) {
    QString text = QString::fromUtf8(info.telling.data(), static_cast<int>(info.telling.size()));
    const StepOutcome* outcome = session.outcome(session.part(), step.id);
    for (const ParameterInfo& p : info.parameters) {
        const std::string key(p.key);
        const QString slot = "{" + QString::fromStdString(key) + "}";
        if (!text.contains(slot)) continue;
        QString shown;
        if (p.kind == ParameterKind::choice) {
            std::string chosen = step.settings.contains(key) && step.settings[key].is_string()
                                     ? step.settings[key].get<std::string>()
                                     : std::string(p.choices.front().key);
            for (const Choice& choice : p.choices)
                if (choice.key == chosen)
                    shown = QString::fromUtf8(choice.label.data(), static_cast<int>(choice.label.size()));
        } else if (p.kind == ParameterKind::curves) {
            std::size_t knots = 0;
            if (step.settings.contains(key) && step.settings[key].is_array())
                for (const auto& curve : step.settings[key])
                    if (curve.is_object() && curve.contains("knots")) knots += curve["knots"].size();
            shown = QString(knots == 1 ? "%1 knot" : "%1 knots").arg(knots);
        } else if (p.kind == ParameterKind::rows) {
            const Json rows = step.settings.contains(key) ? step.settings[key] : Json::array();
            const auto text = [](const Json& row, const char* part_of) {
                return row.is_object() && row.contains(part_of) && row[part_of].is_string()
                           ? QString::fromStdString(row[part_of].get<std::string>())
                           : QString();
            };
            shown = rows.empty()       ? "no rows yet"
                    : rows.size() == 1 ? text(rows[0], "target") + " ← " + text(rows[0], "formula")
                                       : QString("%1 rows").arg(rows.size());
        } else if (p.kind == ParameterKind::blocks || p.kind == ParameterKind::points) {
            const std::size_t count = step.settings.contains(key) ? step.settings[key].size() : 0;
            shown = QString("%1 %2%3").arg(count).arg(p.kind == ParameterKind::blocks ? "block" : "point",
                                                      count == 1 ? "" : "s");
        } else if (p.kind == ParameterKind::kit) {
            shown = !step.settings.contains(key)     ? "none chosen"
                    : step.settings[key].is_string() ? QString::fromStdString(step.settings[key].get<std::string>())
                                                     : "packed steps";
        } else if (p.kind == ParameterKind::part || p.kind == ParameterKind::text || p.kind == ParameterKind::file ||
                   p.kind == ParameterKind::attribute) {
            shown = step.settings.contains(key) && step.settings[key].is_string()
                        ? QString::fromStdString(step.settings[key].get<std::string>())
                    : p.standard_text.empty()
                        ? "…"
                        : QString::fromUtf8(p.standard_text.data(), static_cast<int>(p.standard_text.size()));
        } else if (outcome && outcome->values.contains(key)) {
            const Value& value = outcome->values.find(key)->second;
            const std::string unit = session.recipe().unit;
            if (const double* number = std::get_if<double>(&value))
                shown = QString::fromStdString(format_value(*number, p.quantity, unit));
            if (const DVec3* v = std::get_if<DVec3>(&value))
                shown = QString("%1, %2, %3")
                            .arg(QString::fromStdString(format_number(shown_value(v->x, p.quantity, unit), 3)),
                                 QString::fromStdString(format_number(shown_value(v->y, p.quantity, unit), 3)),
                                 QString::fromStdString(format_number(shown_value(v->z, p.quantity, unit), 3)));
        }
        text.replace(slot, shown);
    }
    return text;
}

std::string NumberPlace::link_name() const {
    if (!pointer.empty()) return {};
    return part + "." + step + "." + key + (component < 0 ? "" : std::string(".") + "xyz"[component]);
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
    Json vector = step->settings.contains(place.key) && step->settings[place.key].is_array() &&
                          step->settings[place.key].size() == 3
                      ? step->settings[place.key]
                      : Json::array({p->standard_vector.x, p->standard_vector.y, p->standard_vector.z});
    vector[place.component] = tidy;
    return set_setting(recipe, place.part, place.step, place.key, vector);
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

}  // namespace bricol
