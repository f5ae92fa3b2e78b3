// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/tokens.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr std::size_t longest_formula = 2000;
constexpr int deepest_nesting = 64;

}  // namespace

bool name_start(char c) { return std::isalpha(static_cast<unsigned char>(c)) || c == '_'; }
bool name_part(char c) { return name_start(c) || std::isdigit(static_cast<unsigned char>(c)) || c == '.'; }

Result<std::vector<Token>> tokens_of(std::string_view text) {
    if (text.size() > longest_formula)
        return Problem{fmt::format("This formula is longer than {} characters.", longest_formula), "",
                       "Split it over several dials."};
    std::vector<Token> tokens;
    int depth = 0;
    for (std::size_t i = 0; i < text.size();) {
        const char c = text[i];
        if (std::isspace(static_cast<unsigned char>(c))) {
            ++i;
            continue;
        }
        if (std::isdigit(static_cast<unsigned char>(c)) ||
            (c == '.' && i + 1 < text.size() && std::isdigit(static_cast<unsigned char>(text[i + 1])))) {
            Token token{Token::number, "", 0, i};
            const auto [end, failure] = std::from_chars(text.data() + i, text.data() + text.size(), token.value);
            if (failure != std::errc{})
                return Problem{"This number is too large.", fmt::format("column {}", i + 1), ""};
            i = static_cast<std::size_t>(end - text.data());
            // A unit right behind the number belongs to it.
            std::size_t unit_at = i;
            while (unit_at < text.size() && text[unit_at] == ' ') ++unit_at;
            std::size_t unit_end = unit_at;
            if (text.substr(unit_at).starts_with("°"))
                unit_end += std::string_view("°").size();
            else if (unit_at < text.size() && text[unit_at] == '%')
                ++unit_end;
            else
                while (unit_end < text.size() && name_part(text[unit_end])) ++unit_end;
            if (unit_end > unit_at) {
                const std::string unit(text.substr(unit_at, unit_end - unit_at));
                const auto known = find_unit(unit);
                if (!known)
                    return Problem{fmt::format("“{}” is not a unit.", unit), fmt::format("column {}", unit_at + 1),
                                   "Units are m, cm, mm, km, in, ft, deg, turn, rad and %."};
                token.value *= known->factor;
                i = unit_end;
            }
            token.text = fmt::format("{:.17g}", token.value);
            tokens.push_back(std::move(token));
            continue;
        }
        if (name_start(c)) {
            std::size_t end = i;
            while (end < text.size() && name_part(text[end])) ++end;
            tokens.push_back({Token::name, std::string(text.substr(i, end - i)), 0, i});
            i = end;
            continue;
        }
        static constexpr std::string_view two[] = {"<=", ">=", "==", "!=", "&&", "||"};
        std::string mark(1, c);
        for (const auto pair : two)
            if (text.substr(i).starts_with(pair)) mark = pair;
        if (mark.size() == 1 && std::string_view("+-*/^()<>,?:").find(c) == std::string_view::npos)
            return Problem{fmt::format("“{}” means nothing in a formula.", shortened(letter_at(text, i))),
                           fmt::format("column {}", i + 1), ""};
        depth += (c == '(') - (c == ')');
        if (depth < 0) return Problem{"A bracket closes that was never opened.", fmt::format("column {}", i + 1), ""};
        if (depth > deepest_nesting)
            return Problem{"Too many brackets inside one another.", fmt::format("column {}", i + 1), ""};
        tokens.push_back({Token::mark, mark, 0, i});
        i += mark.size();
    }
    if (depth > 0) return Problem{"A bracket is never closed.", "", "Add “)” at the end."};
    return tokens;
}

}  // namespace bricol
