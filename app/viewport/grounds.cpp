// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/grounds.h"

#include <algorithm>

namespace bricol {

namespace {

double width_of(const Box& box) { return std::max(box.size().x, box.size().y); }

}  // namespace

std::vector<std::uint8_t> grounds_among(std::span<const Box> boxes) {
    std::vector<std::uint8_t> ground(boxes.size(), 0);
    for (;;) {  // the widest one that is left, again and again
        std::size_t widest = boxes.size();
        for (std::size_t i = 0; i < boxes.size(); ++i)
            if (!ground[i] && (widest == boxes.size() || width_of(boxes[i]) > width_of(boxes[widest]))) widest = i;
        if (widest == boxes.size() || boxes[widest].size().z > 0.01 * width_of(boxes[widest])) return ground;
        Box rest = Box::nothing();
        std::size_t others = 0;
        for (std::size_t i = 0; i < boxes.size(); ++i)
            if (!ground[i] && i != widest) rest.add(boxes[i]), ++others;
        if (others == 0 || width_of(boxes[widest]) <= 8 * std::max(width_of(rest), rest.size().z)) return ground;
        ground[widest] = 1;
    }
}

}  // namespace bricol
