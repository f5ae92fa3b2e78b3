// SPDX-License-Identifier: GPL-3.0-or-later
// The one table of what formulas can do: every function with its arguments, an example and what that gives. The reader,
// help and the manual's page all read it.
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace bricol {

/// What one instruction of a formula does to its values.
enum class FieldOp : std::uint8_t {
    constant,
    name,
    own_random,
    negate,
    add,
    subtract,
    multiply,
    divide,
    power,
    less,
    less_equal,
    greater,
    greater_equal,
    equal,
    unequal,
    both,
    either,
    select,
    sine,
    cosine,
    tangent,
    arcsine,
    arccosine,
    arctangent,
    arctangent2,
    floor,
    ceil,
    round,
    root,
    absolute,
    exponent,
    logarithm,
    sign,
    modulo,
    clamp,
    mix,
    smoothstep,
    noise,
    fractal,
    minimum,
    maximum,
    through,
    least_of_all,
    most_of_all,
    mean_of_all,
    sum_of_all
};

struct FunctionInfo {
    std::string_view name, arguments;  ///< "mix", "a, b, t"
    std::string_view help;
    std::string_view example;  ///< a whole formula without names
    double gives;              ///< what the example comes to
    FieldOp op;
    int least, most;  ///< how many values it takes

    /// "mix(a, b, t)"
    std::string call() const;
};
std::span<const FunctionInfo> all_functions();
/// The function of that name; null for none.
const FunctionInfo* find_function(std::string_view name);

/// What else formulas understand, in words: signs, units, names.
std::string_view formula_grammar();

}  // namespace bricol
