// SPDX-License-Identifier: GPL-3.0-or-later
// bricol values: what the window's table shows.
#include <algorithm>
#include <fmt/format.h>

#include "cli/running.h"
#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/inspect/element_values.h"
#include "core/recipe/recipe_json.h"
#include "core/shape/sets.h"

namespace bricol {

namespace {

/// The shape a name stands for: a part's result, a step by its id or as part.step; the last shown part for none.
Result<ShapePtr> wanted_shape(const Recipe& recipe, const Made& made, const std::string& name) {
    std::vector<ShapePtr> found;
    std::vector<std::string> names;
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        const Part& part = *recipe.parts[p];
        if (name.empty() && part.delivered() && made.parts[p]) found.assign(1, made.parts[p]->shape);
        if (name == part.name && made.parts[p]) return made.parts[p]->shape;
        names.push_back(part.name);
        for (std::size_t s = 0; s < part.steps.size(); ++s) {
            names.push_back(fmt::format("{}.{}", part.name, part.steps[s]->id));
            if ((name == part.steps[s]->id || name == names.back()) && made.steps[p][s])
                found.push_back(made.steps[p][s]->shape);
        }
    }
    if (found.size() == 1) return found.front();
    if (found.size() > 1)
        return Problem{fmt::format("Several parts have a step “{}”.", name), "", "Write it as PART.STEP."};
    const std::vector<std::string_view> words(names.begin(), names.end());
    const std::string_view near = nearest_word(words, name);
    return Problem{name.empty() ? "The recipe shows no part." : fmt::format("There is no part or step “{}”.", name), "",
                   near.empty() ? "" : fmt::format("Did you mean “{}”?", near)};
}

/// A field as RFC 4180 wants it.
std::string csv_field(const std::string& text) {
    if (text.find_first_of(",\"\n") == std::string::npos) return text;
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? "\"\"" : std::string(1, c);
    return out + "\"";
}

std::string cell(const ElementValues& values, std::size_t element, std::size_t column) {
    return column == 0 ? fmt::format("{}", element) : fmt::format("{:.9g}", values.value(element, column));
}

int print_csv(const ElementValues& values, bool spread_only) {
    std::string text;
    if (spread_only) {
        text = "column,least,mean,most,deviation\n";
        for (std::size_t c = 1; c < values.columns(); ++c)
            if (const auto spread = values.spread(c, values.rows()))
                text += fmt::format("{},{:.9g},{:.9g},{:.9g},{:.9g}\n", csv_field(values.name(c)), spread->least,
                                    spread->mean, spread->most, spread->deviation);
        return print(text);
    }
    for (std::size_t c = 0; c < values.columns(); ++c)
        text += fmt::format("{}{}", c ? "," : "", csv_field(values.name(c)));
    text += "\n";
    for (const std::uint32_t element : values.rows()) {
        for (std::size_t c = 0; c < values.columns(); ++c)
            text += fmt::format("{}{}", c ? "," : "", cell(values, element, c));
        text += "\n";
        if (text.size() < 1 << 20) continue;
        if (const int code = print(text)) return code;
        text.clear();
    }
    return print(text);
}

Json values_json(const ElementValues& values, bool spread_only) {
    Json json{{"on", plural_name(values.domain())}, {"count", values.rows().size()}, {"columns", Json::array()}};
    for (std::size_t c = 1; c < values.columns(); ++c) {
        Json column{{"name", values.name(c)}};
        if (const auto spread = values.spread(c, values.rows()))
            column.update({{"least", spread->least},
                           {"mean", spread->mean},
                           {"most", spread->most},
                           {"deviation", spread->deviation}});
        json["columns"].push_back(std::move(column));
    }
    if (spread_only) return json;
    json["rows"] = Json::array();
    for (const std::uint32_t element : values.rows()) {
        Json row = Json::array({element});
        for (std::size_t c = 1; c < values.columns(); ++c) row.push_back(values.value(element, c));
        json["rows"].push_back(std::move(row));
    }
    return json;
}

int print_whole(const Shape& shape, bool json) {
    Json list = Json::object();
    std::string text = "what,value\n";
    for (const auto& [name, value] : whole_values(shape)) {
        list[name] = value;
        text += fmt::format("{},{}\n", csv_field(name), csv_field(value));
    }
    return print(json ? pretty_json(list) : text);
}

}  // namespace

int run_values(const MakeCommand& making, const ValuesCommand& command, const CommonOptions& common) {
    const auto threads = bounded_threads(common);
    ExitCode code_of_problem{};
    const auto recipe = load_turned(making, code_of_problem);
    if (!recipe) return fail(recipe.problem(), code_of_problem);
    Maker maker;
    const Made made = maker.make(*recipe, making_options(making));
    if (made.stopped) return fail({"Stopped.", "", ""}, exit_stopped);
    const auto shape = wanted_shape(*recipe, made, command.step);
    if (!shape) return fail(shape.problem(), exit_wrong_use);
    const int code = made.has_errors() ? exit_recipe_errors : exit_good;
    if (code != exit_good)
        fail({"The recipe has errors: what these values come from may not be what was meant.", "", ""},
             exit_recipe_errors);
    if (command.on == "whole") {
        const int printed = print_whole(**shape, common.json);
        return printed ? printed : code;
    }
    const Domain domain = domain_of_plural(command.on);
    const ElementValues values(*shape, domain, command.set);
    if (!values.has_set()) {
        const std::string near = nearest_set(values.shape()->mesh, command.set);
        return fail({fmt::format("There is no set “{}” of {} here.", command.set, command.on), "",
                     near.empty() ? "" : fmt::format("Did you mean “{}”?", near)},
                    exit_wrong_use);
    }
    const int printed = common.json ? print(pretty_json(values_json(values, command.spread_only)))
                                    : print_csv(values, command.spread_only);
    return printed ? printed : code;
}

}  // namespace bricol
