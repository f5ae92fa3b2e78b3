// SPDX-License-Identifier: GPL-3.0-or-later
// From a spot on the result back to the steps that made it, and to the numbers that move it.
#pragma once

#include "core/make/make.h"

namespace bricol {

/// What a step did to the spot.
enum class TraceRole : std::uint8_t { made, moved, placed, fed, coloured };
std::string_view trace_role_name(TraceRole role);

struct TracedStep {
    std::string part, step;
    TraceRole role{};
};

struct TracedNumber {
    std::string part, step, key;  ///< of a step's number; step empty for a dial
    int component = -1;
    std::string name;  ///< as formulas call it
    double value = 0;
    double change = 0;  ///< by how much it was turned to see
    double moves = 0;   ///< how far the spot went (metres)
};

struct Trace {
    std::vector<TracedStep> steps;      ///< in the order of making
    std::vector<TracedNumber> numbers;  ///< strongest first
};

/// Steps that made or changed the surface at `spot` on a part's result. Followed backwards by place: a step that keeps
/// the topology is gone through face by face, copies through their own place, others to the nearest place of what came
/// in; what lies unchanged on an input belongs to that input.
Trace trace_spot(const Recipe& recipe, const Made& made, const std::string& part, const DVec3& spot);

/// Turns each dial and each plain number of the traced steps by a little, makes the recipe again with `maker` (which
/// remembers what does not change) and sees how far the spot moves. At most `most` numbers; stops when `options.stop`
/// is set.
void find_moving_numbers(Trace& trace, const Recipe& recipe, const std::string& part, const DVec3& spot, Maker& maker,
                         const MakeOptions& options, std::size_t most = 60);

}  // namespace bricol
