// SPDX-License-Identifier: GPL-3.0-or-later
// One of a few words.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

const Choice* chosen(const ParameterInfo& p, const Json& written) {
    if (!written.is_string()) return nullptr;
    const auto found = std::ranges::find(p.choices, written.get_ref<const std::string&>(), &Choice::key);
    return found == p.choices.end() ? nullptr : &*found;
}

class ChoiceKind final : public TextKind {
public:
    ChoiceKind() : TextKind("choice") {}

private:
    Value standard(const ParameterInfo& p) const override { return std::string(p.choices.front().key); }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (const Choice* found = chosen(p, written)) return std::string(found->key);
        std::string all;
        for (const Choice& choice : p.choices) all += fmt::format("{}{}", all.empty() ? "" : ", ", choice.key);
        reading.tell(std::string(p.key), "One of these is wanted: " + all + ".");
        return standard(p);
    }
    Json schema(const ParameterInfo& p) const override {
        Json keys = Json::array();
        for (const Choice& choice : p.choices) keys.push_back(choice.key);
        return {{"enum", keys}};
    }
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
        const Choice* found = chosen(p, *shown.written);
        return found ? std::string(found->label) : "";
    }
};

}  // namespace

const Kind& choice() {
    static const ChoiceKind kind;
    return kind;
}

}  // namespace bricol::kinds
