// SPDX-License-Identifier: GPL-3.0-or-later
// Writing recipes as JSON that is pleasant to read and to diff.
#include <cmath>

#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

void add_extra(Json& json, const Json& extra) {
    for (const auto& [key, value] : extra.items()) json[key] = value;
}

void print(const Json& json, std::size_t indent, std::size_t column, std::size_t width, std::string& out) {
    const std::string inline_text = json_text(json);
    if (!json.is_structured() || json.empty() || column + inline_text.size() <= width) {
        // Breathing space in what stays on one line.
        bool quoted = false;
        for (std::size_t i = 0; i < inline_text.size(); ++i) {
            const char c = inline_text[i];
            if (c == '"' && (i == 0 || inline_text[i - 1] != '\\')) quoted = !quoted;
            if (c == '\\' && quoted && i + 1 < inline_text.size()) {
                out += c;
                out += inline_text[++i];
                continue;
            }
            if (!quoted && c == '{' && inline_text[i + 1] != '}') {
                out += "{ ";
                continue;
            }
            if (!quoted && c == '}' && inline_text[i - 1] != '{') out += ' ';
            out += c;
            if (!quoted && (c == ',' || c == ':')) out += ' ';
        }
        return;
    }
    const std::string pad(indent + 2, ' ');
    const bool object = json.is_object();
    out += object ? "{\n" : "[\n";
    bool first = true;
    for (const auto& item : json.items()) {
        if (!first) out += ",\n";
        first = false;
        out += pad;
        std::size_t used = pad.size();
        if (object) {
            const std::string key = json_text(Json(item.key())) + ": ";
            out += key;
            used += key.size();
        }
        print(item.value(), indent + 2, used, width, out);
    }
    out += '\n' + std::string(indent, ' ') + (object ? "}" : "]");
}

}  // namespace

Json step_json(const Step& step) {
    Json json;
    json["id"] = step.id;
    json["step"] = step.type;
    if (!step.title.empty()) json["name"] = step.title;
    if (!step.note.empty()) json["note"] = step.note;
    if (step.skipped) json["skip"] = true;
    if (step.ghost) json["ghost"] = true;
    if (!step.inputs.empty()) json["in"] = Json(step.inputs);
    if (step.at) json["card"] = *step.at;
    for (const auto& [input, points] : step.via)
        if (!points.empty()) json["via"][input] = points;
    add_extra(json, step.settings);
    return json;
}

namespace {

/// Whole numbers without ".0".
Json tidied(Json json) {
    if (json.is_number_float()) {
        const double value = json.get<double>();
        if (value == std::floor(value) && std::abs(value) < 1e15) return static_cast<std::int64_t>(value);
    } else if (json.is_structured()) {
        for (auto& item : json) item = tidied(std::move(item));
    }
    return json;
}

}  // namespace

std::string pretty_json(const Json& json, std::size_t width) {
    std::string out;
    print(tidied(json), 0, 0, width, out);
    return out + "\n";
}

Json recipe_json(const Recipe& recipe) {
    Json json;
    json["bricol"] = recipe_version;
    json["title"] = recipe.title;
    json["unit"] = recipe.unit;
    json["budget"] = recipe.budget;
    if (recipe.raise_bounds != 1) json["raise_bounds"] = recipe.raise_bounds;
    add_extra(json, recipe.extra);
    if (!recipe.pictures.empty()) {
        json["pictures"] = Json::array();
        for (const Picture& p : recipe.pictures) {
            Json picture{{"file", p.file},     {"plane", p.plane}, {"height", p.height},
                         {"across", p.across}, {"up", p.up},       {"opacity", p.opacity}};
            add_extra(picture, p.extra);
            json["pictures"].push_back(std::move(picture));
        }
    }
    json["dials"] = Json::array();
    for (const Dial& dial : recipe.dials) {
        Json d{{"name", dial.name}, {"value", dial_value(dial)}};
        if (dial.kind != DialKind::number) d["kind"] = dial_kind_word(dial.kind);
        if (dial.kind == DialKind::choice) d["choices"] = dial.choices;
        if (dial.kind == DialKind::number) d["min"] = dial.low, d["max"] = dial.high;
        if (!dial.unit.empty()) d["unit"] = dial.unit;
        if (!dial.heading.empty()) d["heading"] = dial.heading;
        if (!dial.when.empty()) d["when"] = dial.when;
        if (!dial.help.empty()) d["help"] = dial.help;
        add_extra(d, dial.extra);
        json["dials"].push_back(std::move(d));
    }
    for (const Preset& preset : recipe.presets) {
        Json p{{"name", preset.name}, {"dials", Json(preset.dials)}};
        add_extra(p, preset.extra);
        json["presets"].push_back(std::move(p));
    }
    json["parts"] = Json::array();
    for (const auto& part : recipe.parts) {
        Json p{{"name", part->name}};
        if (!part->result.empty()) p["result"] = part->result;
        if (part->hidden) p["hidden"] = true;
        if (part->helper) p["helper"] = true;
        add_extra(p, part->extra);
        for (const SheetFrame& frame : part->frames) {
            Json f{{"title", frame.title}, {"at", frame.at}, {"size", frame.size}};
            add_extra(f, frame.extra);
            p["frames"].push_back(std::move(f));
        }
        p["steps"] = Json::array();
        for (const auto& step : part->steps) p["steps"].push_back(step_json(*step));
        json["parts"].push_back(std::move(p));
    }
    return tidied(std::move(json));
}

std::string recipe_text(const Recipe& recipe) { return pretty_json(recipe_json(recipe)); }

std::optional<Problem> would_not_open(const std::string& text) {
    const auto again = recipe_from_text(text);
    if (again) return std::nullopt;
    return Problem{"The recipe could not be opened again, so it is not saved: " + again.problem().what,
                   again.problem().where,
                   "What was saved before is still there. Undo the last change, or open packed steps."};
}

}  // namespace bricol
