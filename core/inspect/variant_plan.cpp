// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/variant_plan.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/ground/colour.h"
#include "core/ground/even_numbers.h"
#include "core/ground/numbers.h"
#include "core/recipe/edit.h"
#include "core/recipe/unknown_dial.h"

namespace bricol {

namespace {

constexpr std::size_t most_settings = 10'000'000;

/// SplitMix64's mixing (Steele, Lea, Flood, "Fast Splittable Pseudorandom Number Generators", 2014).
std::uint64_t mixed(std::uint64_t x) {
    x += 0x9e3779b97f4a7c15u;
    x = (x ^ (x >> 30)) * 0xbf58476d1ce4e5b9u;
    x = (x ^ (x >> 27)) * 0x94d049bb133111ebu;
    return x ^ (x >> 31);
}

/// FNV-1a: the same on every machine, which std::hash is not.
std::uint64_t hash_of(std::string_view text) {
    std::uint64_t hash = 0xcbf29ce484222325u;
    for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
    return hash;
}

/// A share, 0 ≤ share < 1, of seed, number and name alone.
double random_share(std::uint64_t seed, std::size_t number, std::string_view name) {
    return static_cast<double>(mixed(mixed(mixed(seed) ^ hash_of(name)) + number) >> 11) * 0x1p-53;
}

/// Six digits are as good as all of them here, and stay readable in tables.
double six_digits(double value) {
    if (value == 0) return 0;
    const double scale = std::pow(10, 5 - std::floor(std::log10(std::abs(value))));
    return std::round(value * scale) / scale;
}

/// A colour of middling strength by its hue.
Json hue_colour(double share) {
    DVec3 screen(0);
    for (int i = 0; i < 3; ++i) screen[i] = 0.5 + 0.3 * std::cos(2 * pi * (share - static_cast<double>(i) / 3));
    const DVec3 c = linear_from_screen(screen);
    return Json::array({six_digits(c.x), six_digits(c.y), six_digits(c.z)});
}

/// The dials of a plan, in the recipe's order.
std::vector<Dial> dials_of_plan(const Recipe& recipe, const std::vector<std::string>& names) {
    std::vector<Dial> out;
    for (const Dial& dial : recipe.dials)
        if (std::ranges::find(names, dial.name) != names.end()) out.push_back(dial);
    return out;
}

VariantPlan plan_over(const std::vector<Dial>& dials, std::size_t count, std::function<WrittenDials(std::size_t)> at) {
    VariantPlan plan{count, {}, std::move(at)};
    for (const Dial& dial : dials) plan.dials.push_back(dial.name);
    return plan;
}

/// One dial of a grid and its values: "girth=5", "girth=0.6|0.8", "style".
Result<std::vector<Json>> grid_values(const Dial& dial, const std::string& text) {
    std::vector<Json> values;
    if (text.empty()) {
        if (dial.kind == DialKind::choice)
            for (const std::string& word : dial.choices) values.emplace_back(word);
        if (dial.kind == DialKind::toggle) values = {false, true};
        if (values.empty())
            return Problem{fmt::format("How many steps of “{}”?", dial.name), "",
                           fmt::format("Write {0}=5, or its values: {0}=a|b.", dial.name)};
        return values;
    }
    std::size_t steps = 0;
    const bool counted = text.size() < 8 && text.find_first_not_of("0123456789") == std::string::npos;
    if (counted && dial.kind == DialKind::number) steps = static_cast<std::size_t>(number_of_digits(text));
    if (steps >= 2) {
        for (std::size_t i = 0; i < steps; ++i) {
            const double share = static_cast<double>(i) / static_cast<double>(steps - 1);
            const double value = dial.low + (dial.high - dial.low) * share;
            values.emplace_back(dial.unit == "count" ? std::round(value) : six_digits(value));
        }
        const auto doubled = std::unique(values.begin(), values.end());  // more steps than whole numbers
        values.erase(doubled, values.end());
        return values;
    }
    for (std::string_view rest = text;;) {
        const std::size_t end = std::min(rest.find('|'), rest.size());
        const auto typed = typed_dial(dial, std::string(rest.substr(0, end)));
        if (!typed) return typed.problem();
        if (const auto there = turned(dial, *typed); !there) return there.problem();
        values.push_back(*typed);
        if (end == rest.size()) return values;
        rest.remove_prefix(end + 1);
    }
}

/// The first row of a table: which dial each column is for.
Result<std::vector<Dial>> columns_of(const Recipe& recipe, const std::vector<std::string>& head) {
    std::vector<Dial> columns;
    for (const std::string& name : head) {
        const Dial* dial = recipe.dial(name);
        if (!dial) return unknown_dial(recipe, name);
        if (std::ranges::find(columns, name, &Dial::name) != columns.end())
            return Problem{fmt::format("The column “{}” stands twice.", name), "", ""};
        columns.push_back(*dial);
    }
    return columns;
}

Json blend(const Dial& dial, const Json& from, const Json& to, double share) {
    if (dial.kind == DialKind::colour) {
        Json out = Json::array();
        for (std::size_t i = 0; i < 3; ++i)
            out.push_back(six_digits(std::lerp(from[i].get<double>(), to[i].get<double>(), share)));
        return out;
    }
    if (dial.kind != DialKind::number) return share < 0.5 ? from : to;
    const double value = std::lerp(from.get<double>(), to.get<double>(), share);
    return dial.unit == "count" ? std::round(value) : six_digits(value);
}

}  // namespace

Json dial_at(const Dial& dial, double share) {
    const double held = std::clamp(share, 0.0, 1.0);
    if (dial.kind == DialKind::colour) return hue_colour(held);
    if (dial.kind == DialKind::number && dial.unit != "count")
        return std::clamp(six_digits(dial.low + (dial.high - dial.low) * held), dial.low, dial.high);
    const double places = std::floor(dial.high) - std::ceil(dial.low) + 1;
    const double place = std::ceil(dial.low) + std::min(std::floor(held * places), places - 1);
    if (dial.kind == DialKind::number) return place;
    if (dial.kind == DialKind::toggle) return place > 0.5;
    return dial.choices[static_cast<std::size_t>(place)];
}

std::vector<std::string> usual_dials(const Recipe& recipe) {
    std::vector<std::string> names;
    for (const Dial& dial : recipe.dials)
        if (dial.kind != DialKind::colour && dial_shown(recipe.dials, dial) && dial.low < dial.high)
            names.push_back(dial.name);
    return names;
}

Result<std::vector<std::string>> named_dials(const Recipe& recipe, const std::vector<std::string>& names) {
    for (const std::string& name : names)
        if (!recipe.dial(name)) return unknown_dial(recipe, name);
    return names;
}

VariantPlan random_plan(const Recipe& recipe, std::vector<std::string> names, std::size_t count, std::uint64_t seed) {
    const std::vector<Dial> dials = dials_of_plan(recipe, names);
    return plan_over(dials, count, [dials, seed](std::size_t n) {
        WrittenDials out;
        for (const Dial& dial : dials) out[dial.name] = dial_at(dial, random_share(seed, n, dial.name));
        return out;
    });
}

VariantPlan even_plan(const Recipe& recipe, std::vector<std::string> names, std::size_t count, std::uint64_t seed) {
    const std::vector<Dial> dials = dials_of_plan(recipe, names);
    return plan_over(dials, count, [dials, seed](std::size_t n) {
        WrittenDials out;
        EvenNumbers numbers(static_cast<std::uint32_t>(mixed(seed)), static_cast<std::uint32_t>(n),
                            static_cast<std::uint32_t>(mixed(seed) >> 32));
        for (std::size_t d = 0; d < dials.size(); d += 2) {  // two by two also evenly over the square
            const Vec2 two = numbers.two();
            out[dials[d].name] = dial_at(dials[d], static_cast<double>(two.x));
            if (d + 1 < dials.size()) out[dials[d + 1].name] = dial_at(dials[d + 1], static_cast<double>(two.y));
        }
        return out;
    });
}

Result<VariantPlan> grid_plan(const Recipe& recipe, const std::string& text) {
    std::vector<Dial> dials;
    std::vector<std::vector<Json>> values;
    double count = 1;
    for (std::string_view rest = text; !rest.empty();) {
        const std::size_t end = std::min(rest.find(','), rest.size());
        const std::string one(rest.substr(0, end));
        rest.remove_prefix(std::min(end + 1, rest.size()));
        const std::size_t equals = std::min(one.find('='), one.size());
        const Dial* dial = recipe.dial(one.substr(0, equals));
        if (!dial) return unknown_dial(recipe, one.substr(0, equals));
        if (std::ranges::find(dials, dial->name, &Dial::name) != dials.end())
            return Problem{fmt::format("“{}” stands twice in the grid.", dial->name), "", ""};
        auto list = grid_values(*dial, equals < one.size() ? one.substr(equals + 1) : std::string());
        if (!list) return list.problem();
        count *= static_cast<double>(list->size());
        dials.push_back(*dial);
        values.push_back(std::move(*list));
    }
    if (dials.empty()) return Problem{"A grid names at least one dial.", "", "For example: girth=5,height=3."};
    if (count > static_cast<double>(most_settings))
        return Problem{fmt::format("The grid has {:.0f} settings; up to {} are made.", count, most_settings), "",
                       "Take fewer steps."};
    return plan_over(dials, static_cast<std::size_t>(count), [dials, values](std::size_t n) {
        WrittenDials out;
        for (std::size_t d = dials.size(); d-- > 0; n /= values[d].size())
            out[dials[d].name] = values[d][n % values[d].size()];
        return out;
    });
}

Result<VariantPlan> table_plan(const Recipe& recipe, const std::vector<std::vector<std::string>>& rows) {
    if (rows.size() < 2) return Problem{"The table has no rows below its names.", "", ""};
    if (rows.size() > most_settings)
        return Problem{fmt::format("The table has {} rows; up to {} are made.", rows.size(), most_settings), "", ""};
    const auto columns = columns_of(recipe, rows[0]);
    if (!columns) return columns.problem();
    auto settings = std::make_shared<std::vector<WrittenDials>>();
    for (std::size_t r = 1; r < rows.size(); ++r) {
        if (rows[r].size() != columns->size())
            return Problem{fmt::format("{} cells where the first row has {}.", rows[r].size(), columns->size()),
                           fmt::format("row {}", r + 1), ""};
        WrittenDials setting;
        for (std::size_t c = 0; c < columns->size(); ++c) {
            if (rows[r][c].empty()) continue;
            const Dial& dial = (*columns)[c];
            const auto typed = typed_dial(dial, rows[r][c]);
            const auto there = typed ? turned(dial, *typed) : Result<Dial>(typed.problem());
            if (!there)
                return Problem{there.problem().what, fmt::format("row {}, column {}", r + 1, dial.name),
                               there.problem().remedy};
            setting[dial.name] = dial_value(*there);
        }
        settings->push_back(std::move(setting));
    }
    return plan_over(*columns, settings->size(), [settings](std::size_t n) { return (*settings)[n]; });
}

VariantPlan near_plan(const Recipe& recipe, const WrittenDials& centre, std::size_t count, double share,
                      std::uint64_t seed) {
    std::vector<std::string> names;
    for (const auto& [name, written] : centre) names.push_back(name);
    const std::vector<Dial> dials = dials_of_plan(recipe, names);
    return plan_over(dials, count, [dials, centre, share, seed](std::size_t n) {
        WrittenDials out;
        for (const Dial& dial : dials) {
            const Json& here = centre.find(dial.name)->second;
            const double luck = random_share(seed, n, dial.name);
            if (dial.kind == DialKind::colour) {
                out[dial.name] = blend(dial, here, hue_colour(luck), share);
            } else if (dial.kind != DialKind::number) {
                out[dial.name] = luck < share ? dial_at(dial, luck / share) : here;
            } else {
                const double reach = std::max((dial.high - dial.low) * share, dial.unit == "count" ? 1.0 : 0.0);
                const double value = here.get<double>() + (2 * luck - 1) * reach;
                out[dial.name] =
                    std::clamp(dial.unit == "count" ? std::round(value) : six_digits(value), dial.low, dial.high);
            }
        }
        return out;
    });
}

VariantPlan between_plan(const Recipe& recipe, const WrittenDials& from, const WrittenDials& to, std::size_t count) {
    std::vector<std::string> names;
    for (const auto& [name, written] : from)
        if (to.contains(name)) names.push_back(name);
    const std::vector<Dial> dials = dials_of_plan(recipe, names);
    return plan_over(dials, count, [dials, from, to, count](std::size_t n) {
        WrittenDials out;
        const double share = static_cast<double>(n + 1) / static_cast<double>(count + 1);
        for (const Dial& dial : dials)
            out[dial.name] = blend(dial, from.find(dial.name)->second, to.find(dial.name)->second, share);
        return out;
    });
}

}  // namespace bricol
