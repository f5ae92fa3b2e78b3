// SPDX-License-Identifier: GPL-3.0-or-later
// Reading recipes from JSON.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <unordered_set>

#include "core/formula/formula.h"
#include "core/recipe/recipe_json.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr int deepest = 64;
constexpr std::size_t most_steps = 20000, most_parts = 1000, most_dials = 1000, most_presets = 1000,
                      longest_text = 100000;

/// Thrown inside this file only: the reader below is a chain of small functions, and a problem ends all of them.
struct Refused {
    Problem problem;
};

[[noreturn]] void refuse(const std::string& place, const std::string& what, const std::string& remedy = {}) {
    throw Refused{{what, place.empty() ? "/" : place, remedy}};
}

void refuse_name(const std::string& place, const std::string& name, std::string_view what) {
    if (usable_name(name)) return;
    const Problem problem = unusable_name(name, what);
    refuse(place, problem.what, problem.remedy);
}

std::string text_at(const Json& value, const std::string& place) {
    if (!value.is_string()) refuse(place, fmt::format("Text is wanted, not {}.", value.type_name()));
    const auto& text = value.get_ref<const std::string&>();
    if (text.size() > longest_text) refuse(place, "This text is too long.");
    return text;
}

double number_at(const Json& value, const std::string& place) {
    if (!value.is_number()) refuse(place, fmt::format("A number is wanted, not {}.", value.type_name()));
    const double number = value.get<double>();
    if (!std::isfinite(number) || std::abs(number) > 1e9) refuse(place, "This number is too large.");
    return number;
}

bool flag_at(const Json& value, const std::string& place) {
    if (!value.is_boolean()) refuse(place, fmt::format("true or false is wanted, not {}.", value.type_name()));
    return value.get<bool>();
}

const Json& list_at(const Json& value, const std::string& place, std::size_t most) {
    if (!value.is_array()) refuse(place, fmt::format("A list is wanted, not {}.", value.type_name()));
    if (value.size() > most)
        refuse(place, fmt::format("{} entries; Bricol opens up to {}.", value.size(), most), "Split the recipe.");
    return value;
}

std::array<double, 2> pair_at(const Json& value, const std::string& place) {
    if (!value.is_array() || value.size() != 2) refuse(place, "Two numbers are wanted.");
    return {number_at(value[0], place + "/0"), number_at(value[1], place + "/1")};
}

Step read_step(const Json& json, const std::string& place) {
    if (!json.is_object()) refuse(place, fmt::format("A step is an object, not {}.", json.type_name()));
    Step step;
    for (const auto& [key, value] : json.items()) {
        const std::string here = place + "/" + key;
        if (key == "id") {
            step.id = text_at(value, here);
            refuse_name(here, step.id, "a step");
        } else if (key == "step") {
            step.type = text_at(value, here);
        } else if (key == "name") {
            step.title = text_at(value, here);
        } else if (key == "note") {
            step.note = text_at(value, here);
        } else if (key == "skip") {
            step.skipped = flag_at(value, here);
        } else if (key == "ghost") {
            step.ghost = flag_at(value, here);
        } else if (key == "card") {
            step.at = pair_at(value, here);
        } else if (key == "via") {
            if (!value.is_object()) refuse(here, "Lists of points by input are wanted.");
            for (const auto& [input, list] : value.items())
                for (std::size_t i = 0; i < list_at(list, here + "/" + input, 1000).size(); ++i)
                    step.via[input].push_back(pair_at(list[i], here + "/" + input));
        } else if (key == "in") {
            if (!value.is_object()) refuse(here, "Inputs are an object of input names and step names.");
            for (const auto& [input, source] : value.items()) step.inputs[input] = text_at(source, here + "/" + input);
        } else {
            step.settings[key] = value;
        }
    }
    if (step.type.empty()) refuse(place, "A step needs “step”: the name of what it does.");
    return step;
}

Part read_part(const Json& json, const std::string& place, std::size_t& steps_seen) {
    if (!json.is_object()) refuse(place, fmt::format("A part is an object, not {}.", json.type_name()));
    Part part;
    for (const auto& [key, value] : json.items()) {
        const std::string here = place + "/" + key;
        if (key == "name") {
            part.name = text_at(value, here);
        } else if (key == "result") {
            part.result = text_at(value, here);
        } else if (key == "hidden") {
            part.hidden = flag_at(value, here);
        } else if (key == "helper") {
            part.helper = flag_at(value, here);
        } else if (key == "frames") {
            list_at(value, here, 1000);
            for (std::size_t i = 0; i < value.size(); ++i) {
                const std::string at = fmt::format("{}/{}", here, i);
                if (!value[i].is_object()) refuse(at, "A frame is an object.");
                SheetFrame frame;
                for (const auto& [name, written] : value[i].items()) {
                    const std::string place = at + "/" + name;
                    if (name == "title")
                        frame.title = text_at(written, place);
                    else if (name == "at")
                        frame.at = pair_at(written, place);
                    else if (name == "size")
                        frame.size = pair_at(written, place);
                    else
                        frame.extra[name] = written;
                }
                part.frames.push_back(std::move(frame));
            }
        } else if (key == "steps") {
            list_at(value, here, most_steps);
            steps_seen += value.size();
            if (steps_seen > most_steps)
                refuse(here, fmt::format("More than {} steps in one recipe.", most_steps), "Split the recipe.");
            std::unordered_set<std::string> ids;
            std::size_t number = 0;
            for (std::size_t i = 0; i < value.size(); ++i) {
                Step step = read_step(value[i], fmt::format("{}/{}", here, i));
                if (step.id.empty()) {
                    do step.id = fmt::format("{}{}", name_from(step.type), ++number);
                    while (ids.contains(step.id));
                }
                if (!ids.insert(step.id).second)
                    refuse(fmt::format("{}/{}/id", here, i),
                           fmt::format("There are two steps “{}” in this part.", step.id), "Give one another id.");
                part.steps.push_back(std::make_shared<const Step>(std::move(step)));
            }
        } else {
            part.extra[key] = value;
        }
    }
    if (part.name.empty()) refuse(place + "/name", "A part needs a name.", "Use letters, digits and _.");
    refuse_name(place + "/name", part.name, "a part");
    if (!part.result.empty() && !find_step(part, part.result))
        refuse(place + "/result", fmt::format("There is no step “{}” in this part.", part.result));
    return part;
}

/// The words of a choice, none of them empty or twice.
std::vector<std::string> words_at(const Json& json, const std::string& place) {
    std::vector<std::string> words;
    for (const Json& word : list_at(json, place, most_dial_choices)) {
        words.push_back(text_at(word, place));
        if (words.back().empty() || std::ranges::count(words, words.back()) > 1)
            refuse(place, "The words of a choice are not empty, and each stands once.");
    }
    return words;
}

void read_dial_value(Dial& dial, const Json* value, const std::string& place) {
    if (!value) refuse(place, "A dial needs a “value”.");
    if (dial.kind == DialKind::choice && dial.choices.empty()) refuse(place, "A choice needs “choices”: its words.");
    if (dial.kind == DialKind::number) {
        dial.value = number_at(*value, place + "/value");
        return;
    }
    const auto turned_to = turned(dial, *value);
    if (!turned_to) refuse(place + "/value", turned_to.problem().what, turned_to.problem().remedy);
    dial = *turned_to;
}

Dial read_dial(const Json& json, const std::string& place) {
    if (!json.is_object()) refuse(place, fmt::format("A dial is an object, not {}.", json.type_name()));
    Dial dial;
    bool has_low = false, has_high = false;
    for (const auto& [key, value] : json.items()) {
        const std::string here = place + "/" + key;
        if (key == "name")
            dial.name = text_at(value, here);
        else if (key == "kind") {
            const auto kind = dial_kind_of(text_at(value, here));
            if (!kind) refuse(here, kind.problem().what, kind.problem().remedy);
            dial.kind = *kind;
        } else if (key == "choices")
            dial.choices = words_at(value, here);
        else if (key == "min")
            dial.low = number_at(value, here), has_low = true;
        else if (key == "max")
            dial.high = number_at(value, here), has_high = true;
        else if (key == "unit")
            dial.unit = text_at(value, here);
        else if (key == "help")
            dial.help = text_at(value, here);
        else if (key == "heading")
            dial.heading = text_at(value, here);
        else if (key == "when")
            dial.when = text_at(value, here);
        else if (key != "value")
            dial.extra[key] = value;
    }
    // What a dial of this kind has no use for is kept and told like any key that is not known.
    const auto put_aside = [&](const char* key) {
        if (json.contains(key)) dial.extra[key] = json[key];
    };
    if (dial.kind != DialKind::choice) put_aside("choices");
    if (dial.kind != DialKind::number)
        for (const char* key : {"min", "max", "unit"}) put_aside(key);
    refuse_name(place + "/name", dial.name, "a dial");
    read_dial_value(dial, json.contains("value") ? &json["value"] : nullptr, place);
    if (!has_low) dial.low = std::min(0.0, dial.value);
    if (!has_high) dial.high = std::max(dial.value * 2, dial.low + 1);
    if (dial.kind != DialKind::number) return tidy_dial(dial);
    dial.choices.clear();
    if (dial.low > dial.high) refuse(place + "/min", "The smallest value is larger than the largest.");
    return dial;
}

/// Whether a preset may hold it: what a dial can be written as.
bool could_be_dial(const Json& value) {
    return value.is_number() || value.is_string() || value.is_boolean() ||
           (value.is_array() && value.size() == 3 &&
            std::ranges::all_of(value, [](const Json& part) { return part.is_number(); }));
}

Preset read_preset(const Json& json, const std::string& place) {
    if (!json.is_object()) refuse(place, fmt::format("A preset is an object, not {}.", json.type_name()));
    Preset preset;
    for (const auto& [key, value] : json.items()) {
        const std::string here = place + "/" + key;
        if (key == "name") {
            preset.name = text_at(value, here);
        } else if (key == "dials") {
            if (!value.is_object() || value.size() > most_dials)
                refuse(here, "Values by the names of dials are wanted.");
            for (const auto& [dial, written] : value.items()) {
                if (!could_be_dial(written))
                    refuse(here + "/" + dial,
                           "A number, a word, true or false, or a colour's three numbers are wanted.");
                preset.dials[dial] = written;
            }
        } else {
            preset.extra[key] = value;
        }
    }
    if (preset.name.empty()) refuse(place + "/name", "A preset needs a name.");
    return preset;
}

Picture read_picture(const Json& json, const std::string& place) {
    if (!json.is_object()) refuse(place, fmt::format("A picture is an object, not {}.", json.type_name()));
    Picture picture;
    for (const auto& [key, value] : json.items()) {
        const std::string here = place + "/" + key;
        if (key == "file")
            picture.file = text_at(value, here);
        else if (key == "plane") {
            picture.plane = text_at(value, here);
            if (picture.plane != "front" && picture.plane != "side" && picture.plane != "top")
                refuse(here, "“front”, “side” or “top” is wanted.");
        } else if (key == "height") {
            picture.height = number_at(value, here);
            if (picture.height <= 0) refuse(here, "A picture's height is more than 0.");
        } else if (key == "across")
            picture.across = number_at(value, here);
        else if (key == "up")
            picture.up = number_at(value, here);
        else if (key == "opacity")
            picture.opacity = std::clamp(number_at(value, here), 0.0, 1.0);
        else
            picture.extra[key] = value;
    }
    return picture;
}

Recipe read_recipe(const Json& json) {
    if (!json.is_object()) refuse("", fmt::format("A recipe is an object, not {}.", json.type_name()));
    if (!json.contains("bricol")) refuse("", "This JSON file is not a Bricol recipe: it has no “bricol” version.");
    const double version = number_at(json["bricol"], "/bricol");
    if (version != std::floor(version) || version < 1) refuse("/bricol", "The version is a whole number from 1.");
    if (version > recipe_version)
        refuse("/bricol",
               fmt::format("This recipe is of version {}; this Bricol reads up to {}.", version, recipe_version),
               "Use a newer Bricol.");
    Recipe recipe;
    std::size_t steps_seen = 0;
    for (const auto& [key, value] : json.items()) {
        const std::string here = "/" + key;
        if (key == "bricol") {
            continue;
        } else if (key == "title") {
            recipe.title = text_at(value, here);
        } else if (key == "unit") {
            recipe.unit = text_at(value, here);
            bool known = false;
            for (const auto unit : display_units()) known |= unit == recipe.unit;
            if (!known) refuse(here, "“m”, “cm” or “mm” is wanted.");
        } else if (key == "budget") {
            const double budget = number_at(value, here);
            if (budget < 0) refuse(here, "A budget of faces is not negative.");
            recipe.budget = static_cast<std::size_t>(budget);
        } else if (key == "raise_bounds") {
            recipe.raise_bounds = std::clamp(number_at(value, here), 1.0, 1000.0);
        } else if (key == "dials") {
            std::set<std::string> names;
            list_at(value, here, most_dials);
            for (std::size_t i = 0; i < value.size(); ++i) {
                Dial dial = read_dial(value[i], fmt::format("{}/{}", here, i));
                if (!names.insert(dial.name).second)
                    refuse(fmt::format("{}/{}/name", here, i), fmt::format("There are two dials “{}”.", dial.name));
                recipe.dials.push_back(std::move(dial));
            }
        } else if (key == "presets") {
            list_at(value, here, most_presets);
            for (std::size_t i = 0; i < value.size(); ++i) {
                Preset preset = read_preset(value[i], fmt::format("{}/{}", here, i));
                if (recipe.preset(preset.name))
                    refuse(fmt::format("{}/{}/name", here, i), fmt::format("There are two presets “{}”.", preset.name));
                recipe.presets.push_back(std::move(preset));
            }
        } else if (key == "pictures") {
            list_at(value, here, 100);
            for (std::size_t i = 0; i < value.size(); ++i)
                recipe.pictures.push_back(read_picture(value[i], fmt::format("{}/{}", here, i)));
        } else if (key == "parts") {
            std::set<std::string> names;
            list_at(value, here, most_parts);
            for (std::size_t i = 0; i < value.size(); ++i) {
                Part part = read_part(value[i], fmt::format("{}/{}", here, i), steps_seen);
                if (!names.insert(part.name).second)
                    refuse(fmt::format("{}/{}/name", here, i), fmt::format("There are two parts “{}”.", part.name));
                recipe.parts.push_back(std::make_shared<const Part>(std::move(part)));
            }
        } else {
            recipe.extra[key] = value;
        }
    }
    return recipe;
}

/// Depth of brackets outside quotes. Looked at beforehand: the parser's own callback takes quadratic time in long
/// lists.
int deepest_nesting_of(std::string_view text) {
    int depth = 0, most = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '\\')
                ++i;
            else if (c == '"')
                quoted = false;
            continue;
        }
        quoted = c == '"';
        if (c == '[' || c == '{') most = std::max(most, ++depth);
        if (c == ']' || c == '}') --depth;
    }
    return most;
}

}  // namespace

Result<Step> step_from_json(const Json& json, const std::string& place) {
    try {
        return read_step(json, place);
    } catch (const Refused& refused) {
        return refused.problem;
    }
}

Result<Recipe> recipe_from_text(std::string_view text, const std::string& file_name) {
    const auto named = [&](Problem problem) {
        if (!file_name.empty()) problem.where = problem.where.empty() ? file_name : file_name + " at " + problem.where;
        return problem;
    };
    try {
        if (deepest_nesting_of(text) > deepest)
            refuse("", fmt::format("The file is nested deeper than {} levels.", deepest));
        const Json json = Json::parse(text.begin(), text.end());
        return read_recipe(json);
    } catch (const Refused& refused) {
        return named(refused.problem);
    } catch (const Json::parse_error& error) {
        std::size_t line = 1, column = 1;
        for (std::size_t i = 0; i + 1 < error.byte && i < text.size(); ++i) {
            ++column;
            if (text[i] == '\n') ++line, column = 1;
        }
        const bool ended = error.byte >= text.size();
        return named({ended ? "The file ends too early; it may have been cut off." : "The file is not valid JSON here.",
                      fmt::format("line {}, column {}", line, column),
                      "Mend it in a text editor, or open an older copy."});
    } catch (const Json::exception&) {
        return named({"A number in the file is too large to be read.", "", "Mend it in a text editor."});
    }
}

Result<Recipe> recipe_from_json(const Json& json) {
    try {
        return read_recipe(json);
    } catch (const Refused& refused) {
        return refused.problem;
    }
}

}  // namespace bricol
