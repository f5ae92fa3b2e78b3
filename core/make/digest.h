// SPDX-License-Identifier: GPL-3.0-or-later
// What a result depends on, as one number.
#pragma once

#include <string_view>
#include <type_traits>
#include <vector>
#include <xxhash.h>

#include "core/steps/step.h"

namespace bricol {

/// Collects what a result depends on, as bytes with a length before everything of variable size.
class Digest {
public:
    template <class T>
    void add(const T& value) {
        static_assert(std::is_arithmetic_v<T>);
        const auto* raw = reinterpret_cast<const char*>(&value);
        bytes_.insert(bytes_.end(), raw, raw + sizeof(T));
    }
    void add(std::string_view text) {
        add(text.size());
        bytes_.insert(bytes_.end(), text.begin(), text.end());
    }
    void add(const Vec3& v) { add(v.x), add(v.y), add(v.z); }
    void add(const Value& value) {
        add(value.index());
        std::visit(
            [this](const auto& v) {
                using T = std::decay_t<decltype(v)>;
                if constexpr (std::is_same_v<T, DVec3>)
                    add(v.x), add(v.y), add(v.z);
                else if constexpr (std::is_same_v<T, std::string>)
                    add(std::string_view(v));
                else if constexpr (std::is_same_v<T, std::vector<Curve>>)
                    add_curves(v);
                else if constexpr (std::is_same_v<T, std::vector<Place>>)
                    add_places(v);
                else if constexpr (std::is_same_v<T, DrawnRamp>) {
                    add(v.smooth), add(v.knots.size());
                    for (const RampKnot& knot : v.knots) add(knot.at), add(knot.value);
                } else if constexpr (std::is_same_v<T, Gradient>) {
                    add(v.smooth), add(v.stops.size());
                    for (const GradientStop& stop : v.stops) add(stop.at), add(stop.colour);
                } else if constexpr (std::is_same_v<T, std::vector<FormulaRow>>) {
                    add(v.size());
                    for (const FormulaRow& row : v) {
                        add(std::string_view(row.target)), add(std::string_view(row.text)), add(row.constants.size());
                        for (const auto& [name, number] : row.constants) add(std::string_view(name)), add(number);
                    }
                } else if constexpr (std::is_same_v<T, std::vector<DVec3>>) {
                    add(v.size());
                    for (const DVec3& p : v) add(p);
                } else if constexpr (std::is_same_v<T, std::vector<std::vector<int>>>) {
                    add(v.size());
                    for (const auto& list : v) {
                        add(list.size());
                        for (const int i : list) add(i);
                    }
                } else if constexpr (std::is_same_v<T, Json>)
                    add(std::string_view(v.dump()));
                else
                    add(v);
            },
            value);
    }
    std::uint64_t hash() const { return XXH3_64bits(bytes_.data(), bytes_.size()); }

private:
    void add_curves(const std::vector<Curve>& curves) {
        add(curves.size());
        for (const Curve& curve : curves) {
            add(curve.closed);
            add(std::string_view(curve.source_step));
            add(curve.knots.size());
            for (const Knot& knot : curve.knots) {
                add(knot.at), add(knot.in), add(knot.out);
                add(static_cast<int>(knot.kind));
                add(knot.fillet), add(knot.radius), add(knot.roll), add(knot.source);
            }
        }
    }
    void add(const DVec3& v) { add(v.x), add(v.y), add(v.z); }
    void add_places(const std::vector<Place>& places) {
        add(places.size());
        for (const Place& place : places) {
            add(static_cast<int>(place.element));
            add(place.at), add(place.move);
            for (const auto& optional : {place.share, place.facing}) {
                add(optional.has_value());
                if (optional) add(*optional);
            }
        }
    }
    std::vector<char> bytes_;
};

}  // namespace bricol
