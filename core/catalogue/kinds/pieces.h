// SPDX-License-Identifier: GPL-3.0-or-later
// Bits that several kinds share: pieces of schema, text settings, the formula walk.
#pragma once

#include <nlohmann/json.hpp>

#include "core/catalogue/kinds/kinds.h"

namespace bricol::kinds {

/// More knots or points than this are refused.
inline constexpr std::size_t most_points = 100000;

inline Json number_schema() { return {{"$ref", "#/$defs/number"}}; }
inline Json list_schema(Json item) { return Json{{"type", "array"}, {"items", std::move(item)}}; }
inline Json numbers_schema(int low, int high) {
    Json list = list_schema(number_schema());
    list["minItems"] = low;
    list["maxItems"] = high;
    return list;
}

/// A formula, where a choice, a toggle or a colour is asked for: "= name" of a dial.
inline Json formula_schema() { return {{"type", "string"}, {"pattern", "^="}}; }
/// Three numbers, or one formula for all of them.
inline Json three_schema() { return {{"oneOf", Json::array({numbers_schema(3, 3), formula_schema()})}}; }
inline bool is_formula(const Json& written) {
    return written.is_string() && written.get_ref<const std::string&>().starts_with('=');
}

/// Settings that are a piece of text: a name, a file, a choice of words.
class TextKind : public Kind {
public:
    explicit TextKind(std::string_view name) : name_(name) {}
    std::string_view name() const override { return name_; }
    Value standard(const ParameterInfo& p) const override { return std::string(p.standard_text); }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (written.is_string()) return written.get<std::string>();
        reading.tell(std::string(p.key), "Text is wanted.");
        return standard(p);
    }
    void digest(const Value& value, Digest& digest) const override {
        digest.add(std::string_view(std::get<std::string>(value)));
    }
    Json schema(const ParameterInfo&) const override { return {{"type", "string"}}; }
    std::string standard_words(const ParameterInfo& p) const override { return std::string(p.standard_text); }
    std::string told(const ParameterInfo& p, const Shown& shown) const override {
        if (shown.written && shown.written->is_string()) return shown.written->get<std::string>();
        return p.standard_text.empty() ? "…" : std::string(p.standard_text);
    }

private:
    std::string_view name_;
};

/// Settings whose formulas are all texts that start with "=".
class SignedKind : public Kind {
public:
    void each_formula(Json& written, const OnFormula& f) const override { each_formula_in(written, f); }
};

}  // namespace bricol::kinds
