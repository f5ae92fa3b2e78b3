// SPDX-License-Identifier: GPL-3.0-or-later
// The knots of a stick figure: places, girths and the knot each bone comes from; each number a formula if one likes.
#include <cmath>
#include <fmt/format.h>
#include <set>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class SticksReader {
public:
    explicit SticksReader(Reading& reading) : reading_(reading) {}

    DrawnSticks knots(const Json& written, const std::string& where) {
        DrawnSticks out;
        if (!written.is_array() || written.size() > most_points) {
            reading_.tell(where, fmt::format("A list of at most {} knots is wanted.", most_points));
            return out;
        }
        std::set<std::int32_t> seen;
        for (std::size_t k = 0; k < written.size(); ++k) {
            const std::string place = fmt::format("{}/{}", where, k);
            if (!written[k].is_object() || !written[k].contains("at")) {
                tell(place, "A knot needs “at”: three numbers.");
                continue;
            }
            DrawnStick knot = knot_of(written[k], place, static_cast<std::int32_t>(k));
            if (!seen.insert(knot.id).second) {
                tell(place + "/id", fmt::format("Another knot has the number {} already, so this one is left out. "
                                                "Give it a number of its own.",
                                                knot.id));
                continue;
            }
            out.push_back(std::move(knot));
        }
        for (DrawnStick& knot : out)
            if (knot.from >= 0 && !seen.contains(knot.from)) {
                tell(fmt::format("{}/{}/from", where, &knot - out.data()),
                     fmt::format("There is no knot {} for this bone to come from.", knot.from));
                knot.from = -1;
            }
        return out;
    }

private:
    DrawnStick knot_of(const Json& item, const std::string& place, std::int32_t number) {
        DrawnStick knot;
        knot.id = whole(item, "id", place, number + 1);
        knot.from = whole(item, "from", place, -1);
        knot.at = reading_.three(item["at"], place + "/at");
        if (const auto girth = item.find("girth"); girth != item.end()) {
            if (girth->is_array() && girth->size() == 2) {
                for (int side = 0; side < 2; ++side)
                    knot.girth[side] = std::max(0.0, reading_.number_or((*girth)[static_cast<std::size_t>(side)],
                                                                        fmt::format("{}/girth/{}", place, side), 0));
            } else {
                knot.girth = DVec2(std::max(0.0, reading_.number_or(*girth, place + "/girth", 0)));
            }
        }
        if (const auto roll = item.find("roll"); roll != item.end())
            knot.roll = glm::radians(reading_.number_or(*roll, place + "/roll", 0));
        if (const auto name = item.find("name"); name != item.end()) {
            if (name->is_string())
                knot.name = name->get<std::string>();
            else
                tell(place + "/name", "Text is wanted.");
        }
        knot.root = yes(item, "root", place, false);
        knot.cut = yes(item, "flat", place, false);
        knot.joint = yes(item, "joint", place, true);
        return knot;
    }

    std::int32_t whole(const Json& item, const char* key, const std::string& place, std::int32_t otherwise) {
        const auto found = item.find(key);
        if (found == item.end()) return otherwise;
        if (found->is_number_integer() && *found >= 1 && *found <= 1'000'000) return found->get<std::int32_t>();
        tell(fmt::format("{}/{}", place, key), "A whole number from 1 to a million is wanted.");
        return otherwise;
    }

    bool yes(const Json& item, const char* key, const std::string& place, bool otherwise) {
        const auto found = item.find(key);
        if (found == item.end()) return otherwise;
        if (found->is_boolean()) return found->get<bool>();
        tell(fmt::format("{}/{}", place, key), "true or false is wanted.");
        return otherwise;
    }

    void tell(const std::string& place, const std::string& text) {
        if (problems_++ < Reading::most_told) reading_.tell(place, text);
    }

    Reading& reading_;
    std::size_t problems_ = 0;
};

class SticksKind final : public SignedKind {
    std::string_view name() const override { return "sticks"; }
    Value standard(const ParameterInfo&) const override { return DrawnSticks{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        return SticksReader(reading).knots(written, std::string(p.key));
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& knots = std::get<DrawnSticks>(value);
        digest.add(knots.size());
        for (const DrawnStick& knot : knots) {
            digest.add(knot.id), digest.add(knot.from), digest.add(knot.at);
            digest.add(knot.girth.x), digest.add(knot.girth.y), digest.add(knot.roll);
            digest.add(std::string_view(knot.name));
            digest.add(knot.root), digest.add(knot.cut), digest.add(knot.joint);
        }
    }
    Json schema(const ParameterInfo&) const override { return list_schema({{"$ref", "#/$defs/stick"}}); }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        const std::size_t count = shown.written && shown.written->is_array() ? shown.written->size() : 0;
        return fmt::format("{} knot{}", count, count == 1 ? "" : "s");
    }
};

}  // namespace

const Kind& sticks() {
    static const SticksKind kind;
    return kind;
}

}  // namespace bricol::kinds
