// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/second_reader.h"

#include <algorithm>
#include <cmath>
#include <muParser.h>
#include <numbers>

#include "core/kernels/noise.h"
#include "core/kernels/ramp.h"

namespace bricol::test {

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

}  // namespace

double second_reading(const std::string& text, std::map<std::string, double> names) {
    mu::Parser parser;
    define_functions(parser);
    for (auto& [name, value] : names) parser.DefineVar(name, &value);
    parser.SetExpr(text);
    return parser.Eval();
}

}  // namespace bricol::test
