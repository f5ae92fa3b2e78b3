// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/soft_mask.h"

#include <utility>

namespace bricol {

void soften(std::vector<float>& mask, int pixels, int radius) {
    if (radius <= 0) return;
    std::vector<float> other(mask.size());
    for (int round = 0; round < 3; ++round)
        for (int direction = 0; direction < 2; ++direction) {
            for (int y = 0; y < pixels; ++y) {
                float sum = 0;
                const auto at = [&](int x) {
                    return x < 0 || x >= pixels ? 0.0f : mask[direction ? x * pixels + y : y * pixels + x];
                };
                for (int x = -radius; x < radius; ++x) sum += at(x);
                for (int x = 0; x < pixels; ++x) {
                    sum += at(x + radius);
                    other[direction ? x * pixels + y : y * pixels + x] = sum / static_cast<float>(2 * radius + 1);
                    sum -= at(x - radius);
                }
            }
            std::swap(mask, other);
        }
}

}  // namespace bricol
