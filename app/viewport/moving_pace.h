// SPDX-License-Identifier: GPL-3.0-or-later
// How finely pictures are drawn while the hand moves: as finely as the machine has time for.
#pragma once

#include <array>
#include <cstddef>

namespace bricol {

/// Chooses the share of the view's width and height that moving pictures are drawn with, from how long they took. Two
/// slow ones in a row make the next coarser; finer again it goes only when there is clearly time for it, so that it
/// does not waver between two.
class MovingPace {
public:
    static constexpr std::array<double, 3> shares = {1.0, 0.71, 0.5};
    /// A hand sees steps when it waits longer than two of a screen's 60 pictures a second: so much of that may go into
    /// drawing, the rest is for making the shape and laying the picture on the screen (milliseconds).
    static constexpr double slow = 20;

    double share() const { return shares[level_]; }
    void took(double milliseconds) {
        slow_ = milliseconds > slow ? slow_ + 1 : 0;
        // Drawn finer, a picture takes at most as much longer as it has more pixels: half as many again are left over.
        const double finer = level_ == 0 ? 0 : shares[level_ - 1] / shares[level_];
        quick_ = level_ > 0 && milliseconds * finer * finer < 0.7 * slow ? quick_ + 1 : 0;
        if (slow_ >= 2 && level_ + 1 < shares.size()) ++level_, slow_ = quick_ = 0;
        if (quick_ == 10) --level_, slow_ = quick_ = 0;
    }

private:
    std::size_t level_ = 0;
    int slow_ = 0, quick_ = 0;  ///< pictures in a row
};

}  // namespace bricol
