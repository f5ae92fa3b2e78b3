// SPDX-License-Identifier: GPL-3.0-or-later
// How often one length goes into another, when both may have been in single precision on the way.
#pragma once

#include <algorithm>
#include <cmath>

namespace bricol {

/// Ten pieces of 0.3 m fill 3 m though, measured in single precision, they come out a ten-millionth longer.
inline constexpr double whole_piece_slack = 1e-6;

/// How many whole pieces a length has room for; both in one unit, `piece` above 0.
inline double whole_pieces_in(double length, double piece) {
    return std::max(0.0, std::floor(length / piece + whole_piece_slack));
}

/// Into how many equal pieces a length is parted so that none is longer than `longest`; one at least.
inline double pieces_up_to(double length, double longest) {
    return std::max(1.0, std::ceil(length / longest - whole_piece_slack));
}

}  // namespace bricol
