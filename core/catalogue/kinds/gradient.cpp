// SPDX-License-Identifier: GPL-3.0-or-later
// A colour over 0..1.
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/colours.h"

namespace bricol::kinds {

namespace {

class GradientKind final : public SignedKind {
    std::string_view name() const override { return "gradient"; }
    Value standard(const ParameterInfo&) const override {
        return Gradient{{{0, DVec3(0.02, 0.025, 0.03)}, {1, DVec3(0.62, 0.58, 0.47)}}, false};
    }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        Gradient out;
        const std::string where(p.key);
        const Json* stops = written.is_object() && written.contains("stops") ? &written["stops"] : nullptr;
        if (!stops || !stops->is_array() || stops->empty() || stops->size() > 1000) {
            reading.tell(where, "A gradient is { \"stops\": [{ \"at\": 0, \"colour\": [r, g, b] }, …] }.");
            return out;
        }
        out.smooth = written.contains("smooth") && written["smooth"].is_boolean() && written["smooth"].get<bool>();
        for (std::size_t k = 0; k < stops->size(); ++k) {
            const Json& stop = (*stops)[k];
            const std::string at = fmt::format("{}/stops/{}", where, k);
            if (!stop.is_object() || !stop.contains("at") || !stop.contains("colour")) {
                reading.tell(at, "A stop has “at” and “colour”.");
                continue;
            }
            out.stops.push_back(
                {reading.number_or(stop["at"], at + "/at", 0), read_colour(stop["colour"], at + "/colour", reading)});
        }
        std::ranges::stable_sort(out.stops, {}, &GradientStop::at);
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const Gradient& gradient = std::get<Gradient>(value);
        digest.add(gradient.smooth), digest.add(gradient.stops.size());
        for (const GradientStop& stop : gradient.stops) digest.add(stop.at), digest.add(stop.colour);
    }
    Json schema(const ParameterInfo&) const override {
        return {{"type", "object"},
                {"properties",
                 {{"stops", list_schema({{"type", "object"},
                                         {"properties", {{"at", number_schema()}, {"colour", numbers_schema(3, 3)}}},
                                         {"required", {"at", "colour"}}})},
                  {"smooth", {{"type", "boolean"}}}}},
                {"required", Json::array({"stops"})}};
    }
};

}  // namespace

const Kind& gradient() {
    static const GradientKind kind;
    return kind;
}

}  // namespace bricol::kinds
