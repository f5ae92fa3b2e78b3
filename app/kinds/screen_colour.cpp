// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/screen_colour.h"

#include <algorithm>
#include <cmath>

#include "core/ground/colour.h"

namespace bricol {

QColor screen_colour(const DVec3& c) {
    const auto part = [](double v) { return std::clamp(to_screen(v), 0.0, 1.0); };
    return QColor::fromRgbF(static_cast<float>(part(c.x)), static_cast<float>(part(c.y)),
                            static_cast<float>(part(c.z)));
}

DVec3 linear_colour(const QColor& c) {
    const auto part = [](double v) { return std::round(to_linear(v) * 1000) / 1000; };
    return {part(static_cast<double>(c.redF())), part(static_cast<double>(c.greenF())),
            part(static_cast<double>(c.blueF()))};
}

}  // namespace bricol
