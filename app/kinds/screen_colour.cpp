// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/screen_colour.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "app/theme/theme.h"
#include "core/ground/colour.h"

namespace bricol {

QColor screen_colour(const DVec3& c) {
    const auto part = [](double v) { return std::clamp(to_screen(v), 0.0, 1.0); };
    return QColor::fromRgbF(static_cast<float>(part(c.x)), static_cast<float>(part(c.y)),
                            static_cast<float>(part(c.z)));
}

QColor colour_in(const ParameterInfo& info, const DVec3& value) {
    return screen_colour(info.on_screen ? linear_from_screen(value) : value);
}

Json colour_for(const ParameterInfo& info, const QColor& picked) {
    const auto tidy = [](float v) { return std::round(static_cast<double>(v) * 1000) / 1000; };
    if (info.on_screen) return Json::array({tidy(picked.redF()), tidy(picked.greenF()), tidy(picked.blueF())});
    const DVec3 c = linear_colour(picked);
    return Json::array({c.x, c.y, c.z});
}

void show_swatch(QPushButton& button, const QColor& c) {
    button.setText(c.name());
    button.setStyleSheet(
        QString("background:%1;color:%2;border:1px solid %3;border-radius:3px;padding:0;")
            .arg(c.name(), c.lightnessF() > 0.5f ? "#22303C" : "#FBF9F4", theme::color(theme::Role::line).name()));
}

DVec3 linear_colour(const QColor& c) {
    const auto part = [](double v) { return std::round(to_linear(v) * 1000) / 1000; };
    return {part(static_cast<double>(c.redF())), part(static_cast<double>(c.greenF())),
            part(static_cast<double>(c.blueF()))};
}

}  // namespace bricol
