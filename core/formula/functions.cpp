// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/functions.h"

#include <algorithm>
#include <array>

namespace bricol {

namespace {

using Op = FieldOp;
constexpr int any_number = 64;

constexpr std::array<FunctionInfo, 29> table = {{
    {"min", "a, b, …", "The smallest of its values.", "min(3, 1, 2)", 1, Op::minimum, 1, any_number},
    {"max", "a, b, …", "The largest of its values.", "max(3, 1, 2)", 3, Op::maximum, 1, any_number},
    {"abs", "x", "Without its sign.", "abs(-2.5)", 2.5, Op::absolute, 1, 1},
    {"sqrt", "x", "Square root.", "sqrt(2.25)", 1.5, Op::root, 1, 1},
    {"floor", "x", "The next whole number down.", "floor(-1.5)", -2, Op::floor, 1, 1},
    {"ceil", "x", "The next whole number up.", "ceil(1.2)", 2, Op::ceil, 1, 1},
    {"round", "x", "The nearest whole number; halves go away from 0.", "round(2.5)", 3, Op::round, 1, 1},
    {"sign", "x", "-1, 0 or 1.", "sign(-4)", -1, Op::sign, 1, 1},
    {"mod", "a, b", "What is left over when b is taken from a as often as it fits; never negative for b above 0.",
     "mod(-1, 3)", 2, Op::modulo, 2, 2},
    {"clamp", "x, low, high", "Held between two limits.", "clamp(7, 0, 5)", 5, Op::clamp, 3, 3},
    {"mix", "a, b, t", "From a at t = 0 to b at t = 1, straight.", "mix(10, 20, 0.25)", 12.5, Op::mix, 3, 3},
    {"sin", "a", "Sine; the angle is in degrees.", "sin(30)", 0.5, Op::sine, 1, 1},
    {"cos", "a", "Cosine; the angle is in degrees.", "cos(60)", 0.5, Op::cosine, 1, 1},
    {"tan", "a", "Tangent; the angle is in degrees.", "tan(45)", 1, Op::tangent, 1, 1},
    {"asin", "x", "The angle (degrees) whose sine is x.", "asin(0.5)", 30, Op::arcsine, 1, 1},
    {"acos", "x", "The angle (degrees) whose cosine is x.", "acos(0.5)", 60, Op::arccosine, 1, 1},
    {"atan", "x", "The angle (degrees) whose tangent is x.", "atan(1)", 45, Op::arctangent, 1, 1},
    {"atan2", "y, x", "The angle (degrees) of the direction (x, y), -180 to 180.", "atan2(1, -1)", 135, Op::arctangent2,
     2, 2},
    {"exp", "x", "e to the power x.", "exp(0)", 1, Op::exponent, 1, 1},
    {"ln", "x", "Natural logarithm.", "ln(exp(2))", 2, Op::logarithm, 1, 1},
    {"smoothstep", "x, low, high", "0 below low, 1 above high, eased between (3t² - 2t³).", "smoothstep(0.25, 0, 1)",
     0.15625, Op::smoothstep, 3, 3},
    {"noise", "x, y, z", "Gradient noise, -1 to 1; 0 at whole places.", "noise(1, 2, 3)", 0, Op::noise, 3, 3},
    {"fractal", "x, y, z, octaves", "Layers of noise, each half as large and half as strong.", "fractal(1, 2, 3, 4)", 0,
     Op::fractal, 4, 4},
    {"random", "k", "A number from 0 to 1 that belongs to the element; another k gives another one.",
     "random(3) == random(3)", 1, Op::own_random, 1, 1},
    {"through", "x, at, value, at, value, …", "Through the given points with straight runs; the ends go on level.",
     "through(0.5, 0, 10, 1, 20)", 15, Op::through, 3, any_number + 1},
    {"least", "x", "The smallest x of all elements, those left alone included; of one number, itself.", "least(3)", 3,
     Op::least_of_all, 1, 1},
    {"most", "x", "The largest x of all elements.", "most(3)", 3, Op::most_of_all, 1, 1},
    {"mean", "x", "The mean of x over all elements.", "mean(3)", 3, Op::mean_of_all, 1, 1},
    {"total", "x", "x of all elements added up.", "total(3)", 3, Op::sum_of_all, 1, 1},
}};

}  // namespace

std::string FunctionInfo::call() const { return std::string(name) + "(" + std::string(arguments) + ")"; }

std::span<const FunctionInfo> all_functions() { return table; }

const FunctionInfo* find_function(std::string_view name) {
    const auto found = std::ranges::find(table, name, &FunctionInfo::name);
    return found == table.end() ? nullptr : &*found;
}

std::string_view formula_grammar() {
    return "A formula starts with “=” in a field or a file. Signs: + - * / ^ (from the right), comparisons < <= > >= "
           "== "
           "!= (1 or 0), && and ||, a ? b : c, brackets. Numbers may carry a unit: m cm mm km in ft, deg turn rad °, "
           "%; "
           "lengths are metres and angles degrees inside. Names: dials, step.setting (step.setting.x of a vector), "
           "part.step.setting, what was made (step.made.size.x, part.made.area), frame, seed, pi; in rows of a Formula "
           "step also what stands on the elements.";
}

}  // namespace bricol
