// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers for the dials of another recipe, by name; the others keep that recipe's own values.
#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class DialsKind final : public SignedKind {
    std::string_view name() const override { return "dials"; }
    Value standard(const ParameterInfo&) const override { return DialNumbers{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        DialNumbers out;
        if (!written.is_object()) {
            reading.tell(std::string(p.key), "Numbers by the names of dials are wanted: { \"width\": 0.4 }.");
            return out;
        }
        for (const auto& [name, value] : written.items()) {
            const std::string where = std::string(p.key) + "/" + name;
            if (const auto number = reading.number(value))
                out[name] = *number;
            else
                reading.tell(where, number.problem().text());
        }
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& dials = std::get<DialNumbers>(value);
        digest.add(dials.size());
        for (const auto& [name, number] : dials) digest.add(std::string_view(name)), digest.add(number);
    }
    Json schema(const ParameterInfo&) const override {
        return {{"type", "object"}, {"additionalProperties", number_schema()}};
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
