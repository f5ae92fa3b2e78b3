// SPDX-License-Identifier: GPL-3.0-or-later
// A number drawn over 0..1.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class RampKind final : public SignedKind {
    std::string_view name() const override { return "ramp"; }
    Value standard(const ParameterInfo&) const override { return DrawnRamp{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        DrawnRamp out;
        const std::string where(p.key);
        const Json* knots = written.is_object() && written.contains("knots") ? &written["knots"] : nullptr;
        if (!knots || !knots->is_array() || knots->empty() || knots->size() > 1000) {
            reading.tell(where, "A ramp is { \"knots\": [[at, value], …], \"smooth\": true }.");
            return out;
        }
        out.smooth = written.contains("smooth") && written["smooth"].is_boolean() && written["smooth"].get<bool>();
        out.knots.clear();
        for (std::size_t k = 0; k < knots->size(); ++k) {
            const Json& pair = (*knots)[k];
            const std::string at = fmt::format("{}/knots/{}", where, k);
            if (!pair.is_array() || pair.size() != 2) {
                reading.tell(at, "Two numbers are wanted: where, and how much.");
                continue;
            }
            out.knots.push_back({reading.number_or(pair[0], at + "/0", 0), reading.number_or(pair[1], at + "/1", 0)});
        }
        std::ranges::stable_sort(out.knots, {}, &RampKnot::at);
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const DrawnRamp& ramp = std::get<DrawnRamp>(value);
        digest.add(ramp.smooth), digest.add(ramp.knots.size());
        for (const RampKnot& knot : ramp.knots) digest.add(knot.at), digest.add(knot.value);
    }
    Json schema(const ParameterInfo&) const override {
        return {{"type", "object"},
                {"properties", {{"knots", list_schema(numbers_schema(2, 2))}, {"smooth", {{"type", "boolean"}}}}},
                {"required", Json::array({"knots"})}};
    }
};

}  // namespace

const Kind& ramp() {
    static const RampKind kind;
    return kind;
}

}  // namespace bricol::kinds
