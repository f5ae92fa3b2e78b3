// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/formula.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <memory>
#include <unordered_map>

#include "core/formula/field.h"
#include "core/formula/tokens.h"
#include "core/ground/words.h"

namespace bricol {

std::vector<std::string> names_in(std::string_view text) {
    std::vector<std::string> names;
    const auto tokens = tokens_of(text);
    if (!tokens) return names;
    for (const Token& token : *tokens)
        if (token.kind == Token::name && token.text != "pi" && !find_function(token.text) &&
            std::ranges::find(names, token.text) == names.end())
            names.push_back(token.text);
    return names;
}

namespace {

/// A read formula; the same text is read once a thread.
Result<std::shared_ptr<const FieldProgram>> program_of(std::string_view text) {
    thread_local std::unordered_map<std::string, std::shared_ptr<const FieldProgram>> known;
    if (const auto found = known.find(std::string(text)); found != known.end()) return found->second;
    auto fresh = FieldProgram::compile(text, {});
    if (!fresh) return fresh.problem();
    if (known.size() > 4096) known.clear();
    return known[std::string(text)] = std::make_shared<const FieldProgram>(std::move(*fresh));
}

}  // namespace

Result<double> evaluate(std::string_view text, const NameLookup& lookup) {
    const auto program = program_of(text);
    if (!program) return program.problem();
    const std::vector<std::string>& names = (*program)->names();
    std::vector<double> values(names.size());
    std::vector<const double*> inputs(names.size());
    for (std::size_t i = 0; i < names.size(); ++i) {
        const auto value = lookup(names[i]);  // may lead to another formula
        if (!value) return value.problem();
        values[i] = *value;
        inputs[i] = &values[i];
    }
    constexpr std::uint32_t own = 0;  // without elements there is one random number per k
    double result = 0;
    std::vector<double> scratch;
    (*program)->run(inputs, {&own, 1}, {&result, 1}, scratch);
    if (!std::isfinite(result))
        return Problem{"The formula gives no finite number.", fmt::format("formula “{}”", text),
                       "Look for a division by zero or a root of a negative number."};
    return result;
}

Result<Typed> read_typed(std::string_view text, Quantity quantity, std::string_view length_unit) {
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front()))) text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.remove_suffix(1);
    if (text.empty())
        return Problem{"Nothing was typed.", "", "Type a number, a number with a unit, or “= a formula”."};
    Typed typed;
    if (text.front() == '=') {
        typed.formula = true;
        typed.text = std::string(text);
        const auto tokens = tokens_of(text.substr(1));
        if (!tokens) return tokens.problem();
        return typed;
    }
    const auto tokens = tokens_of(text);
    if (!tokens) return tokens.problem();
    bool plain_number = true;  // "1.2" is in the shown unit; "38 mm" says its own
    for (const Token& token : *tokens) {
        if (token.kind == Token::name && token.text != "pi" && !find_function(token.text))
            return Problem{fmt::format("“{}” is a name; a formula starts with “=”.", token.text), "",
                           fmt::format("Type “= {}”.", text)};
        if (token.kind == Token::number) {
            const std::size_t digits = text.find_first_not_of("0123456789.eE", token.column);
            plain_number &= digits == std::string_view::npos ||
                            std::string_view("+-*/^() ,").find(text[digits]) != std::string_view::npos;
            const std::size_t behind = text.find_first_not_of(' ', std::min(digits, text.size()));
            if (behind != std::string_view::npos && (std::isalpha(static_cast<unsigned char>(text[behind])) ||
                                                     text[behind] == '%' || text.substr(behind).starts_with("°")))
                plain_number = false;
        }
    }
    const auto value = evaluate(text, [](const std::string& name) -> Result<double> { return Problem{name, "", ""}; });
    if (!value) return value.problem();
    typed.value = plain_number ? stored_value(*value, quantity, length_unit) : *value;
    return typed;
}

bool usable_name(std::string_view name) {
    if (name.empty() || name.size() > 64 || !name_start(name.front())) return false;
    if (!std::ranges::all_of(name, [](char c) { return name_part(c) && c != '.'; })) return false;
    return name != "pi" && name != "frame" && name != "seed" && !find_function(name);
}

Problem unusable_name(std::string_view name, std::string_view what) {
    const bool spelled = !name.empty() && name.size() <= 64 && name_start(name.front()) &&
                         std::ranges::all_of(name, [](char c) { return name_part(c) && c != '.'; });
    if (spelled)
        return {fmt::format("“{}” cannot name {}: it is a word of formulas.", name, what), "",
                fmt::format("Add to it, such as “{}_1”.", name)};
    return {fmt::format("“{}” cannot name {}.", shortened(name), what), "",
            "Use up to 64 letters a to z, digits and _, a letter first."};
}

std::string name_from(std::string_view text) {
    std::string name;
    for (const char c : text) {
        if (std::isalnum(static_cast<unsigned char>(c)))
            name += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (!name.empty() && name.back() != '_')
            name += '_';
    }
    while (!name.empty() && name.back() == '_') name.pop_back();
    if (name.empty() || std::isdigit(static_cast<unsigned char>(name.front()))) name = "n" + name;
    if (name.size() > 60) name.resize(60);
    if (!usable_name(name)) name += "_";
    return name;
}

std::string with_offset(std::string_view formula, double offset) {
    std::string text(formula);
    if (!text.empty() && text.front() == '=') text.erase(0, 1);
    while (!text.empty() && text.front() == ' ') text.erase(0, 1);
    // Take off an offset that stands at the very end, outside all brackets.
    int depth = 0;
    for (std::size_t i = text.size(); i-- > 1;) {
        depth += (text[i] == ')') - (text[i] == '(');
        if (depth != 0 || (text[i] != '+' && text[i] != '-') || text[i - 1] != ' ') continue;
        double existing = 0;
        const std::string tail = text.substr(i + 1);
        const auto begin = tail.find_first_not_of(' ');
        if (begin == std::string::npos) break;
        const auto [end, failure] = std::from_chars(tail.data() + begin, tail.data() + tail.size(), existing);
        if (failure == std::errc{} && end == tail.data() + tail.size()) {
            offset += text[i] == '-' ? -existing : existing;
            text.erase(i - 1);
        }
        break;
    }
    offset = std::round(offset * 1e6) / 1e6;  // a micrometre: finer than any hand
    if (offset == 0) return "= " + text;
    return fmt::format("= {} {} {}", text, offset < 0 ? '-' : '+', format_number(std::abs(offset), 7));
}

std::string with_name(std::string_view text, std::string_view from, std::string_view to) {
    return with_names(text, {{std::string(from), std::string(to)}});
}

std::string with_names(std::string_view text, const std::map<std::string, std::string, std::less<>>& to) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        if (!name_part(text[i])) {
            out += text[i++];
            continue;
        }
        std::size_t end = i;
        while (end < text.size() && name_part(text[end])) ++end;
        const std::string_view name = text.substr(i, end - i);
        std::size_t whole = name.size();  // the pieces looked up: all of them, then fewer
        auto found = to.find(name);
        while (found == to.end() && (whole = name.substr(0, whole).rfind('.')) != std::string_view::npos)
            found = to.find(name.substr(0, whole));
        if (found == to.end())
            out += name;
        else
            (out += found->second) += name.substr(whole);
        i = end;
    }
    return out;
}

}  // namespace bricol
