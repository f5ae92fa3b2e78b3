// SPDX-License-Identifier: GPL-3.0-or-later
// Drawn curves: knots with handles, fillets, widths and rolls, each number a formula if one likes.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

/// Reads the curves of one setting; the first five problems are told.
class CurveReader {
public:
    explicit CurveReader(Reading& reading) : reading_(reading) {}

    std::vector<Curve> curves(const Json& written, const std::string& where) {
        std::vector<Curve> list;
        if (!written.is_array()) {
            reading_.tell(where, "A list of curves is wanted.");
            return list;
        }
        std::size_t knots_seen = 0;
        for (std::size_t c = 0; c < written.size(); ++c) {
            const Json& one = written[c];
            const std::string at = fmt::format("{}/{}", where, c);
            if (!one.is_object() || !one.contains("knots") || !one["knots"].is_array()) {
                reading_.tell(at, "A curve needs a list of “knots”.");
                continue;
            }
            knots_seen += one["knots"].size();
            if (knots_seen > most_points) {
                reading_.tell(at, fmt::format("More than {} knots.", most_points));
                break;
            }
            list.push_back(curve(one, at, static_cast<std::int32_t>(c)));
        }
        return list;
    }

private:
    Curve curve(const Json& one, const std::string& at, std::int32_t number) {
        Curve curve;
        curve.source_step = reading_.step();
        curve.source_curve = number;
        if (one.contains("closed")) {
            if (one["closed"].is_boolean())
                curve.closed = one["closed"].get<bool>();
            else
                reading_.tell(at + "/closed", "true or false is wanted.");
        }
        const Json& knots = one["knots"];
        for (std::size_t k = 0; k < knots.size(); ++k) {
            const std::string place = fmt::format("{}/knots/{}", at, k);
            if (!knots[k].is_object() || !knots[k].contains("at"))
                tell(place, "A knot needs “at”: [across, up].");
            else
                curve.knots.push_back(knot(knots[k], place, static_cast<std::int32_t>(k)));
        }
        return curve;
    }

    Knot knot(const Json& item, const std::string& place, std::int32_t number) {
        Knot knot;
        knot.source = number;
        knot.at = place_of(item["at"], place + "/at");
        if (const auto kind = item.find("kind"); kind != item.end()) {
            if (*kind == "smooth")
                knot.kind = KnotKind::smooth;
            else if (*kind == "free")
                knot.kind = KnotKind::free;
            else if (*kind != "corner")
                tell(place + "/kind", "“corner”, “smooth” or “free” is wanted.");
        }
        if (item.contains("in")) knot.in = place_of(item["in"], place + "/in");
        if (item.contains("out")) knot.out = place_of(item["out"], place + "/out");
        if (item.contains("fillet"))
            knot.fillet = static_cast<float>(std::max(0.0, number_at(item["fillet"], place + "/fillet")));
        if (item.contains("radius")) knot.radius = static_cast<float>(number_at(item["radius"], place + "/radius"));
        if (item.contains("roll"))
            knot.roll = static_cast<float>(glm::radians(number_at(item["roll"], place + "/roll")));
        return knot;
    }

    /// Places with two numbers lie in the drawing plane; which one, the step decides when it is made: here they stay in
    /// x and z (front), and the step turns them.
    Vec3 place_of(const Json& value, const std::string& place) {
        if (!value.is_array() || (value.size() != 2 && value.size() != 3)) {
            tell(place, "Two or three numbers are wanted.");
            return Vec3(0);
        }
        DVec3 p(0);
        p.x = number_at(value[0], place + "/0");
        p.z = number_at(value[1], place + "/1");
        if (value.size() == 3) p.y = number_at(value[2], place + "/2");
        return Vec3(p);
    }

    double number_at(const Json& value, const std::string& place) {
        const auto result = reading_.number(value);
        if (result && std::abs(*result) <= 1e6) return *result;
        tell(place, result ? "This place is more than a thousand kilometres away." : result.problem().text());
        return 0;
    }

    void tell(const std::string& place, const std::string& text) {
        if (problems_++ < 5) reading_.tell(place, text);
    }

    Reading& reading_;
    std::size_t problems_ = 0;
};

class CurvesKind final : public SignedKind {
    std::string_view name() const override { return "curves"; }
    Value standard(const ParameterInfo&) const override { return std::vector<Curve>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        return CurveReader(reading).curves(written, std::string(p.key));
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& curves = std::get<std::vector<Curve>>(value);
        digest.add(curves.size());
        for (const Curve& curve : curves) {
            digest.add(curve.closed);
            digest.add(std::string_view(curve.source_step));
            digest.add(curve.knots.size());
            for (const Knot& knot : curve.knots) {
                digest.add(knot.at), digest.add(knot.in), digest.add(knot.out);
                digest.add(static_cast<int>(knot.kind));
                digest.add(knot.fillet), digest.add(knot.radius), digest.add(knot.roll), digest.add(knot.source);
            }
        }
    }
    Json schema(const ParameterInfo&) const override { return list_schema({{"$ref", "#/$defs/curve"}}); }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        std::size_t knots = 0;
        if (shown.written && shown.written->is_array())
            for (const auto& curve : *shown.written)
                if (curve.is_object() && curve.contains("knots")) knots += curve["knots"].size();
        return fmt::format("{} knot{}", knots, knots == 1 ? "" : "s");
    }
};

}  // namespace

const Kind& curves() {
    static const CurvesKind kind;
    return kind;
}

}  // namespace bricol::kinds
