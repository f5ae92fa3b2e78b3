// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/report.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/shape/knot_values.h"
#include "core/catalogue/kind.h"
#include "core/inspect/element_values.h"
#include "core/formula/functions.h"
#include "core/make/made_numbers.h"

namespace bricol {

namespace {

Json finding_json(const Finding& finding) {
    Json json{{"severity", severity_name(finding.severity)}, {"code", finding.code}, {"text", finding.text}};
    if (finding.remedy) json["remedy"] = finding.remedy->label;
    if (!finding.places.empty()) {
        json["places"] = Json::array();
        for (std::size_t i = 0; i < std::min<std::size_t>(finding.places.size(), 8); ++i)
            json["places"].push_back({finding.places[i].x, finding.places[i].y, finding.places[i].z});
    }
    return json;
}

/// Least, mean and most of a column's numbers, a vector's one by one.
Json spread_json(const Column& column) {
    const ColumnSpread spread = spread_of(column);
    const auto list = [](const std::vector<double>& numbers) {
        return numbers.size() == 1 ? Json(numbers[0]) : Json(numbers);
    };
    return {{"least", list(spread.least)}, {"mean", list(spread.mean)}, {"most", list(spread.most)}};
}

void add_attributes(Json& item, const Attributes& attributes) {
    item["sets"] = Json::object();
    item["attributes"] = Json::array();
    for (const Attribute& attribute : attributes.all()) {
        if (const auto* flags = std::get_if<Array<std::uint8_t>>(attribute.values.get());
            flags && attribute.domain != Domain::whole)
            item["sets"][attribute.name] = std::ranges::count_if(*flags, [](auto f) { return f != 0; });
        Json one{
            {"name", attribute.name}, {"on", domain_name(attribute.domain)}, {"type", column_type(*attribute.values)}};
        if (column_size(*attribute.values) > 0) one.update(spread_json(*attribute.values));
        item["attributes"].push_back(std::move(one));
    }
}

Json vector_json(const DVec3& v) { return Json::array({v.x, v.y, v.z}); }

}  // namespace

Json report_json(const Recipe& recipe, const Made& made, const std::vector<std::string>& parts) {
    Json json;
    json["title"] = recipe.title;
    json["errors"] = made.has_errors(recipe, parts);
    json["milliseconds"] = made.milliseconds;
    json["faces"] = made.faces(recipe);
    json["budget"] = recipe.budget;
    json["parts"] = Json::array();
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        if (!wanted(parts, part.name) || !made.parts[p]) continue;
        const PartOutcome& outcome = *made.parts[p];
        const Measures& m = outcome.measures;
        Json item{
            {"name", part.name}, {"result", outcome.result_step}, {"vertices", m.vertices}, {"edges", m.edges},
            {"faces", m.faces},  {"triangles", m.triangles},      {"curves", m.curves},     {"instances", m.instances}};
        if (m.box)
            item["box"] = {{"low", vector_json(m.box->low)},
                           {"high", vector_json(m.box->high)},
                           {"size", vector_json(m.box->size())}};
        item["area"] = m.area;
        if (m.volume) item["volume"] = *m.volume;
        item["closed"] = m.closed;
        item["border_edges"] = m.border_edges;
        item["non_manifold_edges"] = m.non_manifold_edges;
        item["turned_edges"] = m.turned_edges;
        item["pieces"] = m.pieces;
        item["euler"] = m.euler;
        Attributes carried = outcome.shape->mesh.attributes;
        const Attributes of_knots = columns_of_knots(outcome.shape->curves);
        for (const Attribute& one : of_knots.all()) carried.set(one);
        add_attributes(item, carried);
        item["copies"] = Json::array();
        for (const Instances& group : outcome.shape->instances) {
            Json copy{{"count", group.count()}, {"faces", group.shape->face_count()}};
            add_attributes(copy, group.shape->mesh.attributes);
            item["copies"].push_back(std::move(copy));
        }
        if (!outcome.not_looked_for.empty()) item["not_looked_for"] = outcome.not_looked_for;
        item["materials"] = Json::array();
        for (const Material& material : materials_of(*outcome.shape)) item["materials"].push_back(material.name);
        item["findings"] = Json::array();
        for (const Finding& finding : outcome.findings) item["findings"].push_back(finding_json(finding));
        item["steps"] = Json::array();
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            const Step& step = *part.steps[s];
            Json row{{"id", step.id}, {"step", step.type}};
            if (step.skipped) row["skipped"] = true;
            if (const auto& made_step = made.steps[p][s]) {
                row["milliseconds"] = made_step->milliseconds;
                row["faces"] = made_step->shape->face_count();
                row["bytes"] = made_step->shape->bytes();
                row["findings"] = Json::array();
                for (const Finding& finding : made_step->findings) row["findings"].push_back(finding_json(finding));
            }
            item["steps"].push_back(std::move(row));
        }
        json["parts"].push_back(std::move(item));
    }
    json["findings"] = Json::array();
    for (const Finding& finding : made.findings) json["findings"].push_back(finding_json(finding));
    json["behind"] = Json::array();
    for (const FindingBehind& one : findings_behind(recipe, made, parts)) {
        Json row = finding_json(one.finding);
        row["part"] = one.part.name;
        row["step"] = one.step.id;
        json["behind"].push_back(std::move(row));
    }
    return json;
}

Json dials_json(const Recipe& recipe) {
    Json list = Json::array(), presets = Json::array();
    const std::vector<std::string> headings = dial_headings(recipe.dials);
    for (std::size_t i = 0; i < recipe.dials.size(); ++i) {
        const Dial& dial = recipe.dials[i];
        Json row{{"name", dial.name}, {"kind", dial_kind_word(dial.kind)}, {"value", dial_value(dial)}};
        if (dial.kind == DialKind::number) row["min"] = dial.low, row["max"] = dial.high;
        if (dial.kind == DialKind::choice) row["choices"] = dial.choices;
        row["unit"] = dial.unit;
        row["help"] = dial.help;
        row["heading"] = headings[i];
        row["when"] = dial.when;
        row["shown"] = dial_shown(recipe.dials, dial);
        list.push_back(std::move(row));
    }
    for (const Preset& preset : recipe.presets)
        presets.push_back({{"name", preset.name}, {"dials", Json(preset.dials)}, {"here", at_preset(recipe, preset)}});
    return {{"dials", list}, {"presets", presets}};
}

std::string dials_text(const Recipe& recipe) {
    if (recipe.dials.empty()) return "This recipe has no dials.\n";
    std::string out, under;
    const std::vector<std::string> headings = dial_headings(recipe.dials);
    for (std::size_t i = 0; i < recipe.dials.size(); ++i) {
        const Dial& dial = recipe.dials[i];
        if (headings[i] != under) out += fmt::format("{}{}\n", out.empty() ? "" : "\n", headings[i]);
        under = headings[i];
        const std::string value = dial.kind == DialKind::number ? format_number(dial.value) : dial_words(dial);
        out += fmt::format("{:<20} {:>10} {:<6} {}  {}{}\n", dial.name, value, dial.unit, dial_range_words(dial),
                           dial.help, dial_shown(recipe.dials, dial) ? "" : fmt::format("  (when {})", dial.when));
    }
    if (recipe.presets.empty()) return out;
    out += "\nPresets:";
    for (const Preset& preset : recipe.presets)
        out += fmt::format(" {}{}{}", preset.name, at_preset(recipe, preset) ? " (here)" : "",
                           &preset == &recipe.presets.back() ? "\n" : ",");
    return out;
}

Json step_info_json(const StepInfo& info) {
    Json json{{"step", info.key},
              {"name", info.name},
              {"family", family_name(info.family)},
              {"purpose", info.purpose},
              {"help", info.help}};
    json["inputs"] = Json::array();
    for (const InputInfo& input : info.inputs)
        json["inputs"].push_back({{"key", input.key},
                                  {"label", input.label},
                                  {"takes", content_list(input.accepts)},
                                  {"required", input.required}});
    json["gives"] = info.gives == 0 ? "as its input" : content_list(info.gives);
    json["parameters"] = Json::array();
    for (const ParameterInfo& p : info.parameters) {
        Json row{{"key", p.key}, {"label", p.label}, {"kind", kind_info(p).name()}, {"help", p.help}};
        kind_info(p).describe(p, row);
        json["parameters"].push_back(std::move(row));
    }
    return json;
}

std::string step_info_text(const StepInfo& info) {
    std::string out = fmt::format("{} ({})\n  {}\n  {}\n", info.name, info.key, info.purpose, info.help);
    for (const InputInfo& input : info.inputs)
        out += fmt::format("  in {}: {}{}\n", input.key, content_list(input.accepts),
                           input.required ? "" : " (may be left out)");
    for (const OutputInfo& output : info.outputs) out += fmt::format("  gives {}: {}\n", output.key, output.help);
    for (const ParameterInfo& p : info.parameters) {
        out += fmt::format("  {} = {}: {}", p.key, kind_info(p).standard_words(p), p.help);
        if (!p.choices.empty()) {
            out += " One of";
            for (const Choice& choice : p.choices) out += fmt::format(" {}", choice.key);
            out += ".";
        }
        out += '\n';
    }
    return out;
}

std::string steps_manual() {
    std::string out =
        "# Steps\n\nMade by `bricol steps --manual` from the steps' own descriptions. Lengths are metres in the file; "
        "angles are degrees.\n";
    std::string family;
    for (const StepInfo* info : all_steps()) {
        if (family != family_name(info->family)) {
            family = family_name(info->family);
            out += fmt::format("\n## {}\n", family);
        }
        out += fmt::format("\n### {} (`{}`)\n\n{} {}\n\n", info->name, info->key, info->purpose, info->help);
        for (const InputInfo& input : info->inputs)
            out += fmt::format("- input `{}`: {}{}\n", input.key, content_list(input.accepts),
                               input.required ? "" : ", may be left out");
        if (info->aside)
            out += "- gives no shape; stands beside the chain\n";
        else
            out += fmt::format("- gives: {}\n", info->gives == 0 ? "as its input" : content_list(info->gives));
        for (const OutputInfo& output : info->outputs)
            out += fmt::format("- number `{}`: {}\n", output.key, output.help);
        if (info->parameters.empty()) continue;
        out += "\n| setting | default | range | what it does |\n|---|---|---|---|\n";
        for (const ParameterInfo& p : info->parameters) {
            const Kind& kind = kind_info(p);
            out += fmt::format("| `{}` {} | {} | {} | {} |\n", p.key, p.label, kind.standard_words(p),
                               kind.range_words(p), p.help);
        }
    }
    return out;
}

Json formulas_json() {
    Json list = Json::array();
    for (const FunctionInfo& f : all_functions())
        list.push_back({{"function", f.name},
                        {"arguments", f.arguments},
                        {"help", f.help},
                        {"example", f.example},
                        {"gives", f.gives}});
    return {{"grammar", formula_grammar()}, {"functions", list}};
}

std::string formulas_text() {
    std::string out = fmt::format("{}\n\n", formula_grammar());
    for (const FunctionInfo& f : all_functions())
        out += fmt::format("{:<40} {} {} = {}\n", f.call(), f.help, f.example, format_number(f.gives));
    return out;
}

std::string formulas_manual() {
    std::string out = fmt::format(
        "# Formulas\n\nMade by `bricol formulas --manual` from the table the program reads formulas by. One reader "
        "works "
        "out single numbers and whole attributes.\n\n{}\n\n| function | what it gives | example | comes to |\n"
        "|---|---|---|---|\n",
        formula_grammar());
    for (const FunctionInfo& f : all_functions())
        out += fmt::format("| `{}` | {} | `{}` | {} |\n", f.call(), f.help, f.example, format_number(f.gives));
    out +=
        "\n## What was made\n\nA step's name, or a part's for its result, with `made` and one of these behind it gives "
        "a "
        "number of the shape that came of it: `= post.made.high.z`. Steps are made in the order this asks for; a "
        "circle is refused, and spelled out.\n\n| behind `made.` | what it gives |\n|---|---|\n";
    for (const MadePath& path : made_paths()) {
        if (path.path.ends_with(".y") || path.path.ends_with(".z")) continue;  // in the row of .x
        out += fmt::format("| `{}`{} | {}{} |\n", path.path, path.path.ends_with(".x") ? ", `.y`, `.z`" : "",
                           path.dimensions == 0   ? "a count"
                           : path.dimensions == 1 ? "metres"
                           : path.dimensions == 2 ? "square metres"
                                                  : "cubic metres",
                           path.says.empty() ? "" : fmt::format(", {}", path.says));
    }
    out +=
        "| `least.NAME`, `most.NAME`, `mean.NAME` | of an attribute's values; of a vector with `.x` behind; of a set, "
        "whose values are 0 and 1, the mean is its share |\n"
        "| `in.SET.area`, `.faces`, `.points`, `.edges`, `.size.x`, `.low.x`, `.high.x`, `.middle.x` | of what is in a "
        "set |\n";
    return out;
}

namespace {

const Json number_ref = {{"$ref", "#/$defs/number"}};

Json list_of(Json item) { return Json{{"type", "array"}, {"items", std::move(item)}}; }

Json numbers_of_count(int low, int high) {
    Json list = list_of(number_ref);
    list["minItems"] = low;
    list["maxItems"] = high;
    return list;
}

Json dial_value_schema() {
    Json colour = list_of({{"type", "number"}, {"minimum", 0}, {"maximum", 1}});
    colour["minItems"] = colour["maxItems"] = 3;
    return {{"anyOf", Json::array({{{"type", Json::array({"number", "string", "boolean"})}}, colour})}};
}

Json dial_schema() {
    return {{"type", "object"},
            {"required", {"name", "value"}},
            {"properties",
             {{"name", {{"$ref", "#/$defs/name"}}},
              {"kind", {{"enum", {"number", "choice", "toggle", "colour"}}}},
              {"value", {{"$ref", "#/$defs/dial_value"}}},
              {"choices", {{"type", "array"}, {"items", {{"type", "string"}}}, {"minItems", 1}, {"maxItems", 100}}},
              {"min", {{"type", "number"}}},
              {"max", {{"type", "number"}}},
              {"unit", {{"enum", {"", "m", "deg", "count"}}}},
              {"heading", {{"type", "string"}}},
              {"when", {{"type", "string"}}},
              {"help", {{"type", "string"}}}}}};
}

Json preset_schema() {
    return {{"type", "object"},
            {"required", {"name"}},
            {"properties",
             {{"name", {{"type", "string"}, {"minLength", 1}}},
              {"dials", {{"type", "object"}, {"additionalProperties", {{"$ref", "#/$defs/dial_value"}}}}}}}};
}

Json picture_schema() {
    return {{"type", "object"},
            {"required", {"file", "height"}},
            {"properties",
             {{"file", {{"type", "string"}}},
              {"plane", {{"enum", {"front", "side", "top"}}}},
              {"height", {{"type", "number"}, {"exclusiveMinimum", 0}}},
              {"across", {{"type", "number"}}},
              {"up", {{"type", "number"}}},
              {"opacity", {{"type", "number"}, {"minimum", 0}, {"maximum", 1}}}}}};
}

Json knot_schema() {
    return {{"type", "object"},
            {"required", Json::array({"at"})},
            {"properties",
             {{"at", numbers_of_count(2, 3)},
              {"kind", {{"enum", {"corner", "smooth", "free"}}}},
              {"in", numbers_of_count(2, 3)},
              {"out", numbers_of_count(2, 3)},
              {"fillet", number_ref},
              {"radius", number_ref},
              {"roll", number_ref}}}};
}

Json stick_schema() {
    const Json whole = {{"type", "integer"}, {"minimum", 1}, {"maximum", 1000000}};
    const Json yes = {{"type", "boolean"}};
    return {{"type", "object"},
            {"required", Json::array({"at"})},
            {"properties",
             {{"id", whole},
              {"from", whole},
              {"at", numbers_of_count(3, 3)},
              {"girth", {{"oneOf", Json::array({number_ref, numbers_of_count(2, 2)})}}},
              {"roll", number_ref},
              {"name", {{"type", "string"}}},
              {"root", yes},
              {"flat", yes},
              {"joint", yes}}}};
}

/// Settings and inputs of every step, one beside the other.
Json step_kinds_schema() {
    Json kinds = Json::array();
    for (const StepInfo* info : all_steps()) {
        Json properties;
        properties["step"] = {{"const", info->key}};
        Json inputs = Json::object();
        for (const InputInfo& input : info->inputs) inputs[std::string(input.key)] = {{"type", "string"}};
        properties["in"] = {{"type", "object"}, {"properties", inputs}};
        for (const ParameterInfo& p : info->parameters) {
            Json& property = properties[std::string(p.key)];
            property = kind_info(p).schema(p);
            property["description"] = p.help;
        }
        kinds.push_back({{"properties", properties}, {"required", Json::array({"step"})}});
    }
    return kinds;
}

Json step_schema() {
    return {{"type", "object"},
            {"required", Json::array({"step"})},
            {"properties",
             {{"id", {{"$ref", "#/$defs/name"}}},
              {"step", {{"type", "string"}}},
              {"name", {{"type", "string"}}},
              {"note", {{"type", "string"}}},
              {"skip", {{"type", "boolean"}}},
              {"ghost", {{"type", "boolean"}}},
              {"card", numbers_of_count(2, 2)},
              {"via", {{"type", "object"}, {"additionalProperties", list_of(numbers_of_count(2, 2))}}},
              {"in", {{"type", "object"}, {"additionalProperties", {{"type", "string"}}}}}}},
            {"oneOf", step_kinds_schema()}};
}

Json part_schema() {
    const Json frame = {
        {"type", "object"},
        {"properties",
         {{"title", {{"type", "string"}}}, {"at", numbers_of_count(2, 2)}, {"size", numbers_of_count(2, 2)}}}};
    return {{"type", "object"},
            {"required", {"name", "steps"}},
            {"properties",
             {{"name", {{"$ref", "#/$defs/name"}}},
              {"result", {{"$ref", "#/$defs/name"}}},
              {"hidden", {{"type", "boolean"}}},
              {"helper", {{"type", "boolean"}}},
              {"frames", list_of(frame)},
              {"steps", list_of({{"$ref", "#/$defs/step"}})}}}};
}

}  // namespace

Json recipe_schema() {
    Json schema;
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema";
    schema["$id"] = "bricol-recipe-1";
    schema["title"] = "Bricol recipe";
    schema["type"] = "object";
    schema["required"] = {"bricol", "parts"};
    schema["properties"]["bricol"] = {{"const", 1}};
    schema["properties"]["title"] = {{"type", "string"}};
    schema["properties"]["unit"] = {{"enum", {"m", "cm", "mm"}}};
    schema["properties"]["budget"] = {{"type", "integer"}, {"minimum", 0}};
    schema["properties"]["raise_bounds"] = {{"type", "number"}, {"minimum", 1}, {"maximum", 1000}};
    schema["properties"]["dials"] = list_of({{"$ref", "#/$defs/dial"}});
    schema["properties"]["presets"] = list_of({{"$ref", "#/$defs/preset"}});
    schema["properties"]["pictures"] = list_of({{"$ref", "#/$defs/picture"}});
    schema["properties"]["parts"] = list_of({{"$ref", "#/$defs/part"}});
    Json& defs = schema["$defs"];
    defs["name"] = {{"type", "string"}, {"pattern", "^[A-Za-z_][A-Za-z0-9_]{0,63}$"}};
    defs["number"] = {{"oneOf", Json::array({{{"type", "number"}}, {{"type", "string"}, {"pattern", "^="}}})}};
    defs["dial"] = dial_schema();
    defs["dial_value"] = dial_value_schema();
    defs["preset"] = preset_schema();
    defs["picture"] = picture_schema();
    defs["knot"] = knot_schema();
    defs["stick"] = stick_schema();
    defs["curve"] = {
        {"type", "object"},
        {"required", Json::array({"knots"})},
        {"properties", {{"closed", {{"type", "boolean"}}}, {"knots", list_of({{"$ref", "#/$defs/knot"}})}}}};
    Json place_properties = Json::object();
    for (const char* key : {"vertex", "edge", "face", "point", "share", "facing", "move"})
        place_properties[key] = numbers_of_count(3, 3);
    for (const char* key : {"number", "of"}) place_properties[key] = {{"type", "integer"}, {"minimum", 0}};
    defs["place"] = {{"type", "object"}, {"properties", place_properties}};
    defs["step"] = step_schema();
    defs["part"] = part_schema();
    return schema;
}

}  // namespace bricol
