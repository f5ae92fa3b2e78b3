// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/recipe/dial.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/formula.h"
#include "core/ground/colour.h"
#include "core/ground/numbers.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr std::pair<DialKind, std::string_view> kind_words[] = {{DialKind::number, "number"},
                                                                {DialKind::choice, "choice"},
                                                                {DialKind::toggle, "toggle"},
                                                                {DialKind::colour, "colour"}};

Quantity quantity_of(const Dial& dial) {
    return dial.unit == "m" ? Quantity::length : dial.unit == "deg" ? Quantity::angle : Quantity::plain;
}

Problem wants(const Dial& dial, const std::string& found) {
    return {fmt::format("“{}” cannot be {}.", dial.name, found), "",
            dial.kind == DialKind::number   ? fmt::format("A number is wanted: {}.", dial_range_words(dial))
            : dial.kind == DialKind::colour ? "A colour is wanted: #rrggbb, or red, green and blue from 0 to 1."
                                            : fmt::format("One of these is wanted: {}.", dial_range_words(dial))};
}

Result<Dial> turned_choice(Dial dial, const Json& written) {
    if (written.is_number()) {  // a formula's value: its place in the list
        const double place = std::round(written.get<double>());
        if (!(place >= 0 && place < static_cast<double>(dial.choices.size())))  // what is no number is no place either
            return wants(dial, format_number(written.get<double>()));
        dial.value = place;
        return dial;
    }
    if (!written.is_string()) return wants(dial, fmt::format("{}", written.type_name()));
    const auto& word = written.get_ref<const std::string&>();
    const auto found = std::ranges::find(dial.choices, word);
    if (found == dial.choices.end()) return wants(dial, fmt::format("“{}”", shortened(word)));
    dial.value = static_cast<double>(found - dial.choices.begin());
    return dial;
}

Result<Dial> turned_colour(Dial dial, const Json& written) {
    if (!written.is_array() || written.size() != 3) return wants(dial, fmt::format("{}", written.type_name()));
    for (int i = 0; i < 3; ++i) {
        const Json& part = written[static_cast<std::size_t>(i)];
        if (!part.is_number() || !(part.get<double>() >= 0 && part.get<double>() <= 1))
            return wants(dial, shortened(json_text(written)));
        dial.colour[i] = part.get<double>();
    }
    return dial;
}

/// "#7a4b20", sRGB as screens count it, two hexadecimal digits each.
std::optional<DVec3> hex_colour(std::string_view text) {
    if (text.size() != 7 || text[0] != '#') return std::nullopt;
    DVec3 out(0);
    for (int i = 0; i < 3; ++i) {
        int byte = 0;
        for (const char c : text.substr(1 + 2 * static_cast<std::size_t>(i), 2)) {
            const int digit = c >= '0' && c <= '9'   ? c - '0'
                              : c >= 'a' && c <= 'f' ? c - 'a' + 10
                              : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                                     : -1;
            if (digit < 0) return std::nullopt;
            byte = byte * 16 + digit;
        }
        // Seven digits are as good as all of them here, and stay readable in the file.
        out[i] = std::round(to_linear(byte / 255.0) * 1e7) / 1e7;
    }
    return out;
}

Result<Json> typed_colour(const Dial& dial, const std::string& text) {
    if (const auto colour = hex_colour(text)) return Json::array({colour->x, colour->y, colour->z});
    Json numbers = Json::array();
    for (std::string_view rest = text;;) {
        const std::size_t end = std::min(rest.find(','), rest.size());
        const auto number = read_typed(std::string(rest.substr(0, end)), Quantity::plain, "");
        if (!number || number->formula) return wants(dial, fmt::format("“{}”", shortened(text)));
        numbers.push_back(number->value);
        if (end == rest.size()) break;
        rest.remove_prefix(end + 1);
    }
    return numbers;
}

}  // namespace

std::string_view dial_kind_word(DialKind kind) {
    return std::ranges::find(kind_words, kind, &std::pair<DialKind, std::string_view>::first)->second;
}

Result<DialKind> dial_kind_of(std::string_view word) {
    for (const auto& [kind, known] : kind_words)
        if (known == word) return kind;
    return Problem{fmt::format("“{}” is no kind of dial.", shortened(std::string(word))), "",
                   "“number”, “choice”, “toggle” or “colour” is wanted."};
}

Json dial_value(const Dial& dial) {
    switch (dial.kind) {
        case DialKind::number:
            return dial.value;
        case DialKind::choice:
            return dial.word();
        case DialKind::toggle:
            return dial.value != 0;
        case DialKind::colour:
            return Json::array({dial.colour.x, dial.colour.y, dial.colour.z});
    }
    return nullptr;
}

Dial tidy_dial(Dial dial) {
    if (dial.kind != DialKind::number) {
        dial.unit.clear();
        dial.low = 0;
        dial.high = dial.kind == DialKind::choice ? static_cast<double>(dial.choices.size()) - 1 : 1;
    }
    if (dial.kind != DialKind::choice) dial.choices.clear();
    if (dial.low > dial.high) std::swap(dial.low, dial.high);
    dial.value = std::clamp(dial.value, dial.low, dial.high);
    return dial;
}

Result<Dial> turned(Dial dial, const Json& written, Outside outside) {
    if (dial.kind == DialKind::choice) return turned_choice(std::move(dial), written);
    if (dial.kind == DialKind::colour) return turned_colour(std::move(dial), written);
    if (dial.kind == DialKind::toggle) {
        if (!written.is_boolean() && !written.is_number()) return wants(dial, fmt::format("{}", written.type_name()));
        dial.value = written.is_boolean() ? written.get<bool>() : written.get<double>() != 0;
        return dial;
    }
    if (!written.is_number() || !std::isfinite(written.get<double>()))
        return wants(dial, written.is_number() ? "a number without end"
                           : written.is_string() ? fmt::format("“{}”", shortened(written.get_ref<const std::string&>()))
                                                 : written.type_name());
    const double value = dial.unit == "count" ? std::round(written.get<double>()) : written.get<double>();
    if (outside == Outside::refused && (value < dial.low || value > dial.high))
        return Problem{fmt::format("{} is outside the range of {}.", format_number(value), dial.name), "",
                       fmt::format("It goes from {} to {}.", format_number(dial.low), format_number(dial.high))};
    dial.value = std::clamp(value, dial.low, dial.high);
    return dial;
}

Result<Json> typed_dial(const Dial& dial, const std::string& text) {
    if (dial.kind == DialKind::choice) return Json(text);
    if (dial.kind == DialKind::colour) return typed_colour(dial, text);
    if (dial.kind == DialKind::toggle) {
        for (const char* yes : {"yes", "true", "on", "1"})
            if (text == yes) return Json(true);
        for (const char* no : {"no", "false", "off", "0"})
            if (text == no) return Json(false);
        return wants(dial, fmt::format("“{}”", shortened(text)));
    }
    const auto typed = read_typed(text, quantity_of(dial), "m");
    if (!typed) return typed.problem();
    if (typed->formula)
        return Problem{fmt::format("A dial takes a number, not the formula “{}”.", typed->text), "", ""};
    return Json(typed->value);
}

std::string dial_words(const Dial& dial) {
    if (dial.kind == DialKind::choice) return dial.word();
    if (dial.kind == DialKind::toggle) return dial.value != 0 ? "yes" : "no";
    if (dial.kind == DialKind::number)
        return format_number(dial.value) + (dial.unit == "m" ? " m" : dial.unit == "deg" ? "°" : "");
    const auto byte = [](double linear) { return static_cast<int>(std::lround(to_screen(linear) * 255)); };
    return fmt::format("#{:02x}{:02x}{:02x}", byte(dial.colour.x), byte(dial.colour.y), byte(dial.colour.z));
}

std::string dial_range_words(const Dial& dial) {
    if (dial.kind == DialKind::toggle) return "yes, no";
    if (dial.kind == DialKind::colour) return "a colour";
    if (dial.kind == DialKind::number)
        return fmt::format("{} to {}", format_number(dial.low), format_number(dial.high));
    std::string words;
    for (const std::string& choice : dial.choices) words += (words.empty() ? "" : ", ") + choice;
    return words;
}

std::string condition_dial(std::string_view when) { return std::string(when.substr(0, when.find_first_of("=>"))); }

bool condition_holds(std::string_view when, const Dial& about) {
    const std::size_t mark = when.find_first_of("=>");
    if (mark == std::string_view::npos || when[mark] == '>') return about.value > 0;
    for (std::string_view wanted = when.substr(mark + 1); !wanted.empty();) {
        const std::size_t end = std::min(wanted.find('|'), wanted.size());
        if (wanted.substr(0, end) == dial_words(about)) return true;
        wanted.remove_prefix(std::min(end + 1, wanted.size()));
    }
    return false;
}

bool dial_shown(const std::vector<Dial>& dials, const Dial& dial) {
    const Dial* at = &dial;
    for (std::size_t steps = 0; !at->when.empty() && steps < dials.size(); ++steps) {  // circles end
        const auto ruler = std::ranges::find(dials, condition_dial(at->when), &Dial::name);
        if (ruler == dials.end()) return true;
        if (!condition_holds(at->when, *ruler)) return false;
        at = &*ruler;
    }
    return true;
}

std::vector<std::string> dial_headings(const std::vector<Dial>& dials) {
    std::vector<std::string> headings;
    std::string last;
    for (const Dial& dial : dials) {
        if (!dial.heading.empty()) last = dial.heading;
        headings.push_back(last);
    }
    return headings;
}

}  // namespace bricol
