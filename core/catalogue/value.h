// SPDX-License-Identifier: GPL-3.0-or-later
// A setting with every formula in it worked out.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "core/formula/blocks.h"
#include "core/formula/field.h"
#include "core/ground/json.h"
#include "core/kernels/ramp.h"
#include "core/shape/curve.h"
#include "core/shape/place.h"
#include "core/shape/skeleton.h"

namespace bricol {

/// Another recipe as it is written: a file's name, or the recipe itself. Null when none is chosen.
struct KitWritten {
    std::shared_ptr<const Json> text;
};

/// Values for the dials of another recipe: numbers (1 and 0 for toggles), a choice's word, a colour.
using DialValues = std::map<std::string, std::variant<double, std::string, DVec3>, std::less<>>;

/// Rows of numbers by name, under heads that formulas ask for.
struct NumberTable {
    struct Row {
        std::string name;
        std::vector<double> numbers;  ///< one for each head; lengths in metres, angles in degrees
    };
    std::vector<std::string> heads;
    std::vector<Row> rows;
};

using Value = std::variant<double, DVec3, std::string, bool, std::vector<Curve>, std::vector<Place>, DrawnRamp,
                           Gradient, std::vector<FormulaRow>, std::vector<DVec3>, std::vector<std::vector<int>>,
                           std::vector<MixBlock>, KitWritten, DialValues, DrawnSticks, NumberTable>;

/// What stands in a list of whole numbers for one that could not be read.
inline constexpr int no_number = -2147483647 - 1;

/// Values by the keys of their settings. A class of its own so that copying and ending one is compiled once and not
/// anew in every step's file: there are sixteen types in each value.
struct Values : std::map<std::string, Value, std::less<>> {
    Values();
    Values(const Values&);
    Values(Values&&) noexcept;
    Values& operator=(const Values&);
    Values& operator=(Values&&) noexcept;
    ~Values();
};

}  // namespace bricol
