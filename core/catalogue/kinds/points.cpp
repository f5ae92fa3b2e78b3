// SPDX-License-Identifier: GPL-3.0-or-later
// A list of places, each number a formula if one likes.
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class PointsKind final : public SignedKind {
    std::string_view name() const override { return "points"; }
    Value standard(const ParameterInfo&) const override { return std::vector<DVec3>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        std::vector<DVec3> out;
        if (!written.is_array() || written.size() > most_points) {
            reading.tell(std::string(p.key), fmt::format("A list of at most {} points is wanted.", most_points));
            return out;
        }
        out.reserve(written.size());
        for (std::size_t k = 0; k < written.size(); ++k)  // even a bad one, so that the others keep their numbers
            out.push_back(reading.three(written[k], fmt::format("{}/{}", p.key, k)));
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& points = std::get<std::vector<DVec3>>(value);
        digest.add(points.size());
        for (const DVec3& p : points) digest.add(p);
    }
    Json schema(const ParameterInfo&) const override { return list_schema(three_schema()); }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        const std::size_t count = shown.written ? shown.written->size() : 0;
        return fmt::format("{} point{}", count, count == 1 ? "" : "s");
    }
};

}  // namespace

const Kind& points() {
    static const PointsKind kind;
    return kind;
}

}  // namespace bricol::kinds
