// SPDX-License-Identifier: GPL-3.0-or-later
// Three numbers: a place, a direction, sizes or angles.
#include <fmt/format.h>

#include "core/catalogue/kinds/bounded.h"
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class VectorKind final : public SignedKind {
    std::string_view name() const override { return "vector"; }
    Value standard(const ParameterInfo& p) const override { return p.standard_vector; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        DVec3 value = p.standard_vector;
        if (!can_be_three(written)) {
            reading.tell(std::string(p.key), "Three numbers are wanted.");
            return value;
        }
        for (int i = 0; i < 3; ++i) {
            if (const auto read = reading.component(one_of_three(written, i), i))
                value[i] = held_within(p, *read, fmt::format(" ({})", "xyz"[i]), reading);
            else
                reading.tell(fmt::format("{} {}", p.label, "xyz"[i]), read.problem().text());
        }
        return value;
    }
    void digest(const Value& value, Digest& digest) const override { digest.add(std::get<DVec3>(value)); }
    Json schema(const ParameterInfo&) const override { return three_schema(); }
    std::string standard_words(const ParameterInfo& p) const override {
        const DVec3& v = p.standard_vector;
        return fmt::format("{}, {}, {}", format_value(v.x, p.quantity, "m"), format_value(v.y, p.quantity, "m"),
                           format_value(v.z, p.quantity, "m"));
    }
    void describe(const ParameterInfo& p, Json& row) const override {
        row["quantity"] = quantity_name(p.quantity);
        row["default"] = {p.standard_vector.x, p.standard_vector.y, p.standard_vector.z};
    }
    std::string told(const ParameterInfo& p, const Shown& shown) const override {
        if (!shown.value) return {};
        const DVec3& v = std::get<DVec3>(*shown.value);
        const auto part = [&](double x) { return format_number(shown_value(x, p.quantity, shown.length_unit), 3); };
        return fmt::format("{}, {}, {}", part(v.x), part(v.y), part(v.z));
    }
    std::span<const std::string_view> number_suffixes() const override {
        static constexpr std::array<std::string_view, 3> three = {".x", ".y", ".z"};
        return three;
    }
    std::optional<Result<double>> single(const ParameterInfo& p, const Json* written, std::string_view rest,
                                         Reading& reading) const override {
        const std::size_t component = rest.size() == 1 ? std::string_view("xyz").find(rest) : std::string_view::npos;
        if (component > 2) return std::nullopt;
        if (!written) return Result<double>(p.standard_vector[static_cast<int>(component)]);
        const int axis = static_cast<int>(component);
        if (can_be_three(*written)) return reading.component(one_of_three(*written, axis), axis);
        return std::nullopt;
    }
};

}  // namespace

const Kind& vector() {
    static const VectorKind kind;
    return kind;
}

}  // namespace bricol::kinds
