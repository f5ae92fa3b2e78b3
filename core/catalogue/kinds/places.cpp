// SPDX-License-Identifier: GPL-3.0-or-later
// Pinned places: picked vertices, edges or faces, or the control points of a cage.
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

constexpr std::size_t most_places = 20000;

class PlacesKind final : public SignedKind {
    std::string_view name() const override { return "places"; }
    Value standard(const ParameterInfo&) const override { return std::vector<Place>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        std::vector<Place> list;
        if (!written.is_array() || written.size() > most_places) {
            reading.tell(std::string(p.key), fmt::format("A list of at most {} places is wanted.", most_places));
            return list;
        }
        std::size_t unknown = 0;
        for (std::size_t k = 0; k < written.size(); ++k) {
            const Json& one = written[k];
            const std::string at = fmt::format("{}/{}", p.key, k);
            Place place;
            bool known = false;
            for (const auto& [key, element] : {std::pair{"vertex", Domain::vertex}, std::pair{"edge", Domain::edge},
                                               std::pair{"face", Domain::face}, std::pair{"point", Domain::knot}})
                if (one.is_object() && one.contains(key)) {
                    place.element = element;
                    place.at = reading.three(one[key], at + "/" + key);
                    known = true;
                    break;
                }
            if (!known) {
                if (unknown++ < 5) reading.tell(at, "A place needs “vertex”, “edge”, “face” or “point”: [x, y, z].");
                continue;
            }
            if (one.contains("share")) place.share = reading.three(one["share"], at + "/share");
            if (one.contains("facing")) place.facing = reading.three(one["facing"], at + "/facing");
            if (one.contains("move")) place.move = reading.three(one["move"], at + "/move");
            if (one.contains("number") && one.contains("of")) {  // written by the program: never formulas
                const Json &number = one["number"], &of = one["of"];
                const auto fits = [](const Json& n) {
                    return n.is_number_unsigned() && n.get<std::uint64_t>() < no_index;
                };
                if (fits(number) && of.is_number_unsigned() && of.get<std::uint64_t>() <= 0xFFFFFFFFu) {
                    place.number = number.get<Index>();
                    place.topology = of.get<std::uint32_t>();
                } else if (unknown++ < 5) {
                    reading.tell(at, "“number” and “of” are whole numbers that the program writes; leave them out.");
                }
            }
            list.push_back(place);
        }
        return list;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& places = std::get<std::vector<Place>>(value);
        digest.add(places.size());
        for (const Place& place : places) {
            digest.add(static_cast<int>(place.element));
            digest.add(place.at), digest.add(place.move);
            digest.add(place.number.has_value());
            if (place.number) digest.add(static_cast<int>(*place.number)), digest.add(static_cast<int>(place.topology));
            for (const auto& optional : {place.share, place.facing}) {
                digest.add(optional.has_value());
                if (optional) digest.add(*optional);
            }
        }
    }
    Json schema(const ParameterInfo&) const override { return list_schema({{"$ref", "#/$defs/place"}}); }
};

}  // namespace

const Kind& places() {
    static const PlacesKind kind;
    return kind;
}

}  // namespace bricol::kinds
