// SPDX-License-Identifier: GPL-3.0-or-later
// Values for the dials of another recipe, by name; the others keep that recipe's own values.
#include "core/catalogue/kinds/colours.h"

namespace bricol::kinds {

namespace {

class DialsKind final : public SignedKind {
    std::string_view name() const override { return "dials"; }
    Value standard(const ParameterInfo&) const override { return DialValues{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        DialValues out;
        if (!written.is_object()) {
            reading.tell(std::string(p.key), "Values by the names of dials are wanted: { \"width\": 0.4 }.");
            return out;
        }
        for (const auto& [name, value] : written.items()) read_one(out, name, value, std::string(p.key), reading);
        return out;
    }
    /// A number or formula, a word, yes or no, a colour.
    static void read_one(DialValues& out, const std::string& name, const Json& value, const std::string& key,
                         Reading& reading) {
        const std::string where = key + "/" + name;
        if (const auto named = reading.named(value)) {
            if (const auto* word = std::get_if<std::string>(&*named)) out[name] = *word;
            if (const auto* colour = std::get_if<DVec3>(&*named)) out[name] = *colour;
        } else if (value.is_string() && !is_formula(value)) {
            out[name] = value.get<std::string>();
        } else if (value.is_boolean()) {
            out[name] = value.get<bool>() ? 1.0 : 0.0;
        } else if (value.is_array()) {
            out[name] = read_colour(value, where, reading);
        } else if (const auto number = reading.number(value)) {
            out[name] = *number;
        } else {
            reading.tell(where, number.problem().text());
        }
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& dials = std::get<DialValues>(value);
        digest.add(dials.size());
        for (const auto& [name, one] : dials) {
            digest.add(std::string_view(name));
            digest.add(one.index());
            if (const auto* number = std::get_if<double>(&one)) digest.add(*number);
            if (const auto* word = std::get_if<std::string>(&one)) digest.add(std::string_view(*word));
            if (const auto* colour = std::get_if<DVec3>(&one)) digest.add(*colour);
        }
    }
    Json schema(const ParameterInfo&) const override {
        return {{"type", "object"},
                {"additionalProperties",
                 {{"anyOf",
                   Json::array({number_schema(), {{"type", Json::array({"string", "boolean"})}}, three_schema()})}}}};
    }
    std::optional<Result<double>> single(const ParameterInfo&, const Json* written, std::string_view rest,
                                         Reading& reading) const override {
        if (written && written->is_object())
            if (const auto dial = written->find(std::string(rest)); dial != written->end())
                return reading.number(*dial);
        return std::nullopt;
    }
};

}  // namespace

const Kind& dials() {
    static const DialsKind kind;
    return kind;
}

}  // namespace bricol::kinds
