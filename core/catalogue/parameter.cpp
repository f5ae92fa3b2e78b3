// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/parameter.h"

#include <algorithm>

namespace bricol {

ParameterInfo::ParameterInfo() = default;
ParameterInfo::ParameterInfo(const ParameterInfo&) = default;
ParameterInfo::ParameterInfo(ParameterInfo&&) noexcept = default;
ParameterInfo& ParameterInfo::operator=(const ParameterInfo&) = default;
ParameterInfo& ParameterInfo::operator=(ParameterInfo&&) noexcept = default;
ParameterInfo::~ParameterInfo() = default;

namespace {

ParameterInfo plain(std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p;
    p.key = key;
    p.label = label;
    p.help = help;
    return p;
}

}  // namespace

ParameterInfo length_of(std::string_view key, std::string_view label, double standard, double low, double soft_high,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::length;
    p.standard = standard;
    p.low = low;
    p.high = 1e5;
    p.soft_low = low;
    p.soft_high = soft_high;
    return p;
}

ParameterInfo offset_of(std::string_view key, std::string_view label, double standard, std::string_view help) {
    ParameterInfo p = length_of(key, label, standard, -1e5, 2, help);
    p.soft_low = -2;
    return p;
}

ParameterInfo angle_of(std::string_view key, std::string_view label, double standard, double low, double high,
                       std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::angle;
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = p.soft_high = high;
    return p;
}

ParameterInfo count_of(std::string_view key, std::string_view label, int standard, int low, int high, int soft_high,
                       std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.quantity = Quantity::count;
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = high;
    p.soft_high = soft_high;
    return p;
}

ParameterInfo number_of(std::string_view key, std::string_view label, double standard, double low, double high,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.standard = standard;
    p.low = p.soft_low = low;
    p.high = p.soft_high = high;
    return p;
}

ParameterInfo vector_of(std::string_view key, std::string_view label, Quantity quantity, DVec3 standard,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::vector;
    p.quantity = quantity;
    p.standard_vector = standard;
    p.low = -1e5;
    p.high = 1e5;
    p.soft_low = quantity == Quantity::angle ? -180 : -2;
    p.soft_high = quantity == Quantity::angle ? 180 : 2;
    return p;
}

ParameterInfo choice_of(std::string_view key, std::string_view label, std::vector<Choice> choices,
                        std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::choice;
    p.choices = std::move(choices);
    return p;
}

ParameterInfo toggle_of(std::string_view key, std::string_view label, bool standard, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::toggle;
    p.standard = standard;
    return p;
}

ParameterInfo axis_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help) {
    std::vector<Choice> axes = {{"x", "x"}, {"y", "y"}, {"z", "z, up"}};
    std::rotate(axes.begin(), std::ranges::find(axes, standard, &Choice::key), axes.end());
    return choice_of(key, label, std::move(axes), help);
}

ParameterInfo sampling_of(std::string_view key) {
    return count_of(
        key, "Pieces per bend", 8, 1, 512, 32,
        "How many straight pieces a bent span becomes when a later step needs points. Straight spans stay one.");
}

ParameterInfo when(ParameterInfo parameter, std::string_view condition) {
    parameter.when = condition;
    return parameter;
}

ParameterInfo only_of(std::string_view help) { return set_of("only", "Only", help); }

ParameterInfo set_of(std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::set;
    return p;
}

ParameterInfo new_set_of(std::string_view key, std::string_view label, std::string_view standard,
                         std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::text;
    p.standard_text = standard;
    return p;
}

ParameterInfo colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = ParameterKind::colour;
    p.standard_vector = standard;
    p.low = 0, p.high = 1;
    return p;
}

ParameterInfo screen_colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help) {
    ParameterInfo p = colour_of(key, label, standard, help);
    p.on_screen = true;
    return p;
}

ParameterInfo kind_of(ParameterKind kind, std::string_view key, std::string_view label, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.kind = kind;
    return p;
}

ParameterInfo attribute_of(std::string_view key, std::string_view label, std::string_view standard,
                           std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::attribute, key, label, help);
    p.standard_text = standard;
    return p;
}

ParameterInfo text_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::text, key, label, help);
    p.standard_text = standard;
    return p;
}

ParameterInfo file_of(std::string_view key, std::string_view label, std::string_view filter, std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::file, key, label, help);
    p.file_filter = filter;
    return p;
}

ParameterInfo seed_of(std::string_view key) {
    return count_of(key, "Seed", 1, 0, 1000000000, 100,
                    "Another number shuffles what is random; the same number always gives the same.");
}

ParameterInfo pulled(ParameterInfo parameter, HandleKind kind, std::string_view axis, std::string_view origin) {
    parameter.handle = {kind, axis, origin};
    return parameter;
}

ParameterInfo places_of(std::string_view key, std::string_view label, std::string_view picks, std::string_view help) {
    ParameterInfo p = plain(key, label, help);
    p.picks = picks;
    p.kind = ParameterKind::places;
    return p;
}

ParameterInfo cage_of(std::string_view key, std::string_view label, std::string_view counted_by,
                      std::string_view help) {
    ParameterInfo p = kind_of(ParameterKind::places, key, label, help);
    p.cage = counted_by;
    return p;
}

}  // namespace bricol
