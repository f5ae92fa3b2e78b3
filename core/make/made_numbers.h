// SPDX-License-Identifier: GPL-3.0-or-later
// What a shape came out as, in numbers that formulas can ask for.
#pragma once

#include <map>
#include <mutex>
#include <string>
#include <string_view>

#include "core/ground/result.h"
#include "core/kernels/measure.h"

namespace bricol {

/// The numbers of one shape, each worked out when it is first asked for and remembered. Thread safe.
class MadeNumbers {
public:
    explicit MadeNumbers(ShapePtr shape) : shape_(std::move(shape)) {}

    /// `path` is what stands behind `made.`: size, low, high, middle with .x .y .z (metres, copies included); length of
    /// its curves (metres); area (square metres), volume (cubic metres); faces, points, edges, curves, copies, pieces;
    /// least, most and mean with the name of an attribute (of a set: 0 and 1, so that mean is its share), components
    /// .x .y .z .w behind; in.SET. with size, low, high, middle, area, faces, points, edges, for what is in a set.
    /// A problem says why there is no such number: nothing made, open, no curves, no such name.
    Result<double> at(std::string_view path) const;

private:
    Result<double> worked_out(std::string_view path) const;
    const Measures& measures() const;
    const std::optional<Box>& box() const;

    ShapePtr shape_;
    mutable std::mutex mutex_;
    mutable std::map<std::string, Result<double>, std::less<>> known_;
    mutable std::optional<Measures> measures_;
    mutable std::optional<std::optional<Box>> box_;  ///< nothing until it was looked for
};

struct MadePath {
    std::string path;  ///< "size.x"
    int dimensions;    ///< of a length: 1 for metres, 2 for square metres, 3 for cubic metres, 0 for a count
    std::string_view says;
};
/// The paths there are whatever the shape, without those that name attributes and sets: for lists and the manual.
std::vector<MadePath> made_paths();

}  // namespace bricol
