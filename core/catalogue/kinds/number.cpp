// SPDX-License-Identifier: GPL-3.0-or-later
// A number with a unit, bounds and perhaps a formula.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/bounded.h"
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class NumberKind final : public SignedKind {
    std::string_view name() const override { return "number"; }
    Value standard(const ParameterInfo& p) const override { return p.standard; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        const auto value = reading.number(written);
        if (value) return held_within(p, *value, "", reading);
        reading.tell(std::string(p.label), value.problem().text());
        return p.standard;
    }
    void digest(const Value& value, Digest& digest) const override { digest.add(std::get<double>(value)); }
    Json schema(const ParameterInfo&) const override { return number_schema(); }
    std::string standard_words(const ParameterInfo& p) const override {
        return format_value(p.standard, p.quantity, "m");
    }
    std::string range_words(const ParameterInfo& p) const override {
        return fmt::format("{} to {}", format_value(p.low, p.quantity, "m"), format_value(p.high, p.quantity, "m"));
    }
    void describe(const ParameterInfo& p, Json& row) const override {
        row["quantity"] = quantity_name(p.quantity);
        row["default"] = p.standard;
        row["min"] = p.low;
        row["max"] = p.high;
    }
    std::string told(const ParameterInfo& p, const Shown& shown) const override {
        return shown.value ? format_value(std::get<double>(*shown.value), p.quantity, shown.length_unit) : "";
    }
    std::span<const std::string_view> number_suffixes() const override {
        static constexpr std::array<std::string_view, 1> one = {""};
        return one;
    }
    std::optional<Result<double>> single(const ParameterInfo& p, const Json* written, std::string_view rest,
                                         Reading& reading) const override {
        if (!rest.empty()) return std::nullopt;
        return written ? reading.number(*written) : Result<double>(p.standard);
    }
};

}  // namespace

double held_within(const ParameterInfo& p, double value, const std::string& place, Reading& reading) {
    if (value >= p.low && value <= p.high) return value;
    reading.tell(
        "",
        fmt::format("{} is {}, but must lie between {} and {}.{}", p.label, format_value(value, p.quantity, "m"),
                    format_value(p.low, p.quantity, "m"), format_value(p.high, p.quantity, "m"), place),
        "out-of-range");
    return std::clamp(value, p.low, p.high);
}

const Kind& number() {
    static const NumberKind kind;
    return kind;
}

}  // namespace bricol::kinds
