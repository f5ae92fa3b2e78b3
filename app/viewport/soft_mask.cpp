// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/soft_mask.h"

#include <algorithm>

namespace bricol {

std::vector<std::uint8_t> soft_mask(const std::vector<std::uint8_t>& rgba, int pixels) {
    std::vector<float> mask(pixels * pixels), other(mask.size());
    for (std::size_t i = 0; i < mask.size(); ++i) mask[i] = rgba[4 * i + 3] > 0 ? 1.0f : 0.0f;
    for (int round = 0; round < 3; ++round)  // three box blurs are nearly a Gaussian
        for (int direction = 0; direction < 2; ++direction) {
            constexpr int radius = 7;
            for (int y = 0; y < pixels; ++y) {
                float sum = 0;
                const auto at = [&](int x) {
                    return x < 0 || x >= pixels ? 0.0f : mask[direction ? x * pixels + y : y * pixels + x];
                };
                for (int x = -radius; x < radius; ++x) sum += at(x);
                for (int x = 0; x < pixels; ++x) {
                    sum += at(x + radius);
                    other[direction ? x * pixels + y : y * pixels + x] = sum / (2 * radius + 1);
                    sum -= at(x - radius);
                }
            }
            std::swap(mask, other);
        }
    std::vector<std::uint8_t> bytes(mask.size());
    for (std::size_t i = 0; i < mask.size(); ++i)
        bytes[i] = static_cast<std::uint8_t>(std::clamp(mask[i], 0.0f, 1.0f) * 255);
    return bytes;
}

}  // namespace bricol
