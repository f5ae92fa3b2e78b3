// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/formula.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <memory>
#include <muParser.h>
#include <numbers>
#include <unordered_map>

#include "core/formula/tokens.h"
#include "core/kernels/noise.h"
#include "core/kernels/ramp.h"

namespace bricol {

namespace {

constexpr double degree = std::numbers::pi / 180;

double f_sin(double a) { return std::sin(a * degree); }
double f_cos(double a) { return std::cos(a * degree); }
double f_tan(double a) { return std::tan(a * degree); }
double f_asin(double x) { return std::asin(x) / degree; }
double f_acos(double x) { return std::acos(x) / degree; }
double f_atan(double x) { return std::atan(x) / degree; }
double f_atan2(double y, double x) { return std::atan2(y, x) / degree; }
double f_floor(double x) { return std::floor(x); }
double f_ceil(double x) { return std::ceil(x); }
double f_round(double x) { return std::round(x); }
double f_sqrt(double x) { return std::sqrt(x); }
double f_abs(double x) { return std::abs(x); }
double f_exp(double x) { return std::exp(x); }
double f_ln(double x) { return std::log(x); }
double f_sign(double x) { return (x > 0) - (x < 0); }
double f_mod(double a, double b) { return a - b * std::floor(a / b); }
double f_clamp(double x, double low, double high) { return std::min(std::max(x, low), high); }
double f_mix(double a, double b, double t) { return a + (b - a) * t; }
double f_smoothstep(double x, double low, double high) { return smooth_share(x, low, high); }
double f_noise(double x, double y, double z) {
    return gradient_noise(static_cast<float>(x), static_cast<float>(y), static_cast<float>(z), 0);
}
double f_fractal(double x, double y, double z, double octaves) { return layered_noise(x, y, z, octaves); }
/// Without elements there is one number per k.
double f_random(double k) { return random_share(0, static_cast<std::uint32_t>(static_cast<std::int64_t>(k))); }

/// The one list of functions: the parser and the help both read it.
void define_functions(mu::Parser& parser) {
    parser.ClearFun();
    parser.ClearConst();
    parser.ClearInfixOprt();
    parser.DefineInfixOprt("-", [](double x) { return -x; });
    parser.DefineInfixOprt("+", [](double x) { return x; });
    parser.DefineFun("sin", f_sin), parser.DefineFun("cos", f_cos), parser.DefineFun("tan", f_tan);
    parser.DefineFun("asin", f_asin), parser.DefineFun("acos", f_acos), parser.DefineFun("atan", f_atan);
    parser.DefineFun("atan2", f_atan2);
    parser.DefineFun("floor", f_floor), parser.DefineFun("ceil", f_ceil), parser.DefineFun("round", f_round);
    parser.DefineFun("sqrt", f_sqrt), parser.DefineFun("abs", f_abs), parser.DefineFun("sign", f_sign);
    parser.DefineFun("exp", f_exp), parser.DefineFun("ln", f_ln), parser.DefineFun("mod", f_mod);
    parser.DefineFun("clamp", f_clamp), parser.DefineFun("mix", f_mix);
    parser.DefineFun("smoothstep", f_smoothstep), parser.DefineFun("noise", f_noise);
    parser.DefineFun("fractal", f_fractal), parser.DefineFun("random", f_random);
    parser.DefineFun("through", [](const double* x, int n) { return ramp_through(x, n); });
    parser.DefineFun("min", [](const double* x, int n) { return *std::min_element(x, x + n); });
    parser.DefineFun("max", [](const double* x, int n) { return *std::max_element(x, x + n); });
    parser.DefineConst("pi", std::numbers::pi);
}

/// A parsed formula with a slot per name; muParser reads the slots when it evaluates.
struct Compiled {
    mu::Parser parser;
    std::vector<std::string> names;
    std::vector<double> slots;
};

Problem from_parser(const mu::Parser::exception_type& error, std::string_view text) {
    std::string what = "This is not a complete formula.";
    switch (error.GetCode()) {
        case mu::ecUNEXPECTED_OPERATOR:
            what = fmt::format("The sign “{}” has nothing to work on.", error.GetToken());
            break;
        case mu::ecUNEXPECTED_EOF:
            what = "The formula stops too early.";
            break;
        case mu::ecTOO_FEW_PARAMS:
        case mu::ecTOO_MANY_PARAMS:
            what = fmt::format("“{}” takes another number of values.", error.GetToken());
            break;
        case mu::ecUNEXPECTED_VAL:
        case mu::ecUNEXPECTED_VAR:
            what = fmt::format("A sign is missing before “{}”.", error.GetToken());
            break;
        default:
            break;
    }
    return {what, fmt::format("formula “{}”", text), ""};
}

}  // namespace

std::vector<std::string> formula_functions() {
    return {"min(a, b, …)",
            "max(a, b, …)",
            "abs(x)",
            "sqrt(x)",
            "floor(x)",
            "ceil(x)",
            "round(x)",
            "sign(x)",
            "mod(a, b)",
            "clamp(x, low, high)",
            "mix(a, b, t)",
            "sin(a)",
            "cos(a)",
            "tan(a)",
            "asin(x)",
            "acos(x)",
            "atan(x)",
            "atan2(y, x)",
            "exp(x)",
            "ln(x)",
            "smoothstep(x, low, high)",
            "noise(x, y, z)",
            "fractal(x, y, z, octaves)",
            "random(k)",
            "through(x, at, value, at, value, …)"};
}

std::vector<std::string> names_in(std::string_view text) {
    std::vector<std::string> names;
    const auto tokens = tokens_of(text);
    if (!tokens) return names;
    for (const Token& token : *tokens)
        if (token.kind == Token::name && token.text != "pi" && !is_function(token.text) &&
            std::ranges::find(names, token.text) == names.end())
            names.push_back(token.text);
    return names;
}

Result<double> evaluate(std::string_view text, const NameLookup& lookup) {
    thread_local std::unordered_map<std::string, std::unique_ptr<Compiled>> compiled;
    auto found = compiled.find(std::string(text));
    if (found == compiled.end()) {
        const auto tokens = tokens_of(text);
        if (!tokens) return tokens.problem();
        if (tokens->empty()) return Problem{"The formula is empty.", "", "Type a number or a name after “=”."};
        auto fresh = std::make_unique<Compiled>();
        std::string plain;
        for (const Token& token : *tokens) {
            if (token.kind == Token::name && token.text != "pi" && !is_function(token.text)) {
                const auto at = std::ranges::find(fresh->names, token.text);
                const auto slot = at - fresh->names.begin();
                if (at == fresh->names.end()) fresh->names.push_back(token.text);
                plain += fmt::format("name{}", slot);  // names with dots stay our business, not the parser's
            } else {
                plain += token.kind == Token::number ? "(" + token.text + ")" : token.text;
            }
            if (!is_function(token.text)) plain += ' ';  // a function's bracket must follow at once
        }
        fresh->slots.resize(fresh->names.size());
        try {
            define_functions(fresh->parser);
            for (std::size_t i = 0; i < fresh->slots.size(); ++i)
                fresh->parser.DefineVar(fmt::format("name{}", i), &fresh->slots[i]);
            fresh->parser.SetExpr(plain);
            std::fill(fresh->slots.begin(), fresh->slots.end(), 1.0);
            fresh->parser.Eval();
        } catch (const mu::Parser::exception_type& error) {
            return from_parser(error, text);
        }
        if (compiled.size() > 4096) compiled.clear();
        found = compiled.emplace(std::string(text), std::move(fresh)).first;
    }
    // A name may lead to another formula and that one to this cache; keep what is needed before looking anything up.
    Compiled* formula = found->second.get();
    std::vector<double> values(formula->names.size());
    const std::vector<std::string> names = formula->names;
    for (std::size_t i = 0; i < names.size(); ++i) {
        const auto value = lookup(names[i]);
        if (!value) return value.problem();
        values[i] = *value;
    }
    const auto again = compiled.find(std::string(text));
    if (again == compiled.end()) return evaluate(text, lookup);  // the cache was emptied meanwhile
    formula = again->second.get();
    formula->slots = values;
    for (std::size_t i = 0; i < values.size(); ++i) formula->slots[i] = values[i];
    try {
        const double value = formula->parser.Eval();
        if (!std::isfinite(value))
            return Problem{"The formula gives no finite number.", fmt::format("formula “{}”", text),
                           "Look for a division by zero or a root of a negative number."};
        return value;
    } catch (const mu::Parser::exception_type& error) {
        return from_parser(error, text);
    }
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
        if (token.kind == Token::name && token.text != "pi" && !is_function(token.text))
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
    return name != "pi" && name != "frame" && name != "seed" && !is_function(name);
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
