// SPDX-License-Identifier: GPL-3.0-or-later
// One of a few words.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"
#include "core/formula/formula.h"

namespace bricol::kinds {

namespace {

const Choice* chosen(const ParameterInfo& p, const Json& written) {
    if (!written.is_string()) return nullptr;
    const auto found = std::ranges::find(p.choices, written.get_ref<const std::string&>(), &Choice::key);
    return found == p.choices.end() ? nullptr : &*found;
}

std::string all_keys(const ParameterInfo& p) {
    std::string all;
    for (const Choice& choice : p.choices) all += fmt::format("{}{}", all.empty() ? "" : ", ", choice.key);
    return all;
}

class ChoiceKind final : public TextKind {
public:
    ChoiceKind() : TextKind("choice") {}

private:
    Value standard(const ParameterInfo& p) const override { return std::string(p.choices.front().key); }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (const Choice* found = chosen(p, written)) return std::string(found->key);
        if (is_formula(written)) return read_formula(p, written, reading);
        reading.tell(std::string(p.key), "One of these is wanted: " + all_keys(p) + ".");
        return standard(p);
    }
    /// A choice's dial says the word; any other formula which one, counted from 0.
    Value read_formula(const ParameterInfo& p, const Json& written, Reading& reading) const {
        if (const auto named = reading.named(written); named && std::holds_alternative<std::string>(*named)) {
            if (const Choice* found = chosen(p, Json(std::get<std::string>(*named)))) return std::string(found->key);
            reading.tell(std::string(p.key), fmt::format("The dial stands at “{}”, which is none of: {}.",
                                                         std::get<std::string>(*named), all_keys(p)));
            return standard(p);
        }
        const auto place = reading.number(written);
        if (place && std::round(*place) >= 0 && std::round(*place) < static_cast<double>(p.choices.size()))
            return std::string(p.choices[static_cast<std::size_t>(std::round(*place))].key);
        reading.tell(std::string(p.key),
                     place ? fmt::format("{} is no place in: {} (counted from 0).", format_number(*place), all_keys(p))
                           : place.problem().text());
        return standard(p);
    }
    Json schema(const ParameterInfo& p) const override {
        Json keys = Json::array();
        for (const Choice& choice : p.choices) keys.push_back(choice.key);
        return {{"anyOf", Json::array({{{"enum", keys}}, formula_schema()})}};
    }
    void each_formula(Json& written, const OnFormula& f) const override { each_formula_in(written, f); }
    std::string standard_words(const ParameterInfo& p) const override { return std::string(p.choices.front().key); }
    std::string range_words(const ParameterInfo& p) const override {
        std::string words;
        for (const Choice& choice : p.choices) words += fmt::format("{}`{}`", words.empty() ? "" : ", ", choice.key);
        return words;
    }
    void describe(const ParameterInfo& p, Json& row) const override {
        row["default"] = p.choices.front().key;
        row["choices"] = Json::array();
        for (const Choice& choice : p.choices) row["choices"].push_back(choice.key);
    }
    std::string told(const ParameterInfo& p, const Shown& shown) const override {
        if (!shown.written) return std::string(p.choices.front().label);
        const Choice* found = shown.value && std::holds_alternative<std::string>(*shown.value)
                                  ? chosen(p, Json(std::get<std::string>(*shown.value)))
                                  : chosen(p, *shown.written);
        return found ? std::string(found->label) : "";
    }
};

}  // namespace

const Kind& choice() {
    static const ChoiceKind kind;
    return kind;
}

}  // namespace bricol::kinds
