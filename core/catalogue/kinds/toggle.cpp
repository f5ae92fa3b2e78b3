// SPDX-License-Identifier: GPL-3.0-or-later
// Yes or no.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class ToggleKind final : public SignedKind {
    std::string_view name() const override { return "toggle"; }
    Value standard(const ParameterInfo& p) const override { return p.standard != 0; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (written.is_boolean()) return written.get<bool>();
        if (is_formula(written)) {
            const auto number = reading.number(written);
            if (number) return *number != 0;
            reading.tell(std::string(p.key), number.problem().text());
            return standard(p);
        }
        reading.tell(std::string(p.key), "true or false is wanted, or a formula that is 0 for no.");
        return standard(p);
    }
    void digest(const Value& value, Digest& digest) const override { digest.add(std::get<bool>(value)); }
    Json schema(const ParameterInfo&) const override {
        return {{"anyOf", Json::array({{{"type", "boolean"}}, formula_schema()})}};
    }
    std::string standard_words(const ParameterInfo& p) const override { return p.standard != 0 ? "yes" : "no"; }
    void describe(const ParameterInfo& p, Json& row) const override { row["default"] = p.standard != 0; }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        return !shown.value ? "" : std::get<bool>(*shown.value) ? "yes" : "no";
    }
};

}  // namespace

const Kind& toggle() {
    static const ToggleKind kind;
    return kind;
}

}  // namespace bricol::kinds
