// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/stage_step.h"

#include "core/ground/colour_temperature.h"

namespace bricol {

DVec3 light_colour(LightHue hue, double kelvin, const DVec3& colour) {
    return hue == LightHue::temperature ? temperature_colour(kelvin) : colour;
}

double watts_of_lumens(double lumens) {
    // 683 lm/W at 555 nm (SI's definition of the candela), times the integral of CIE 1931's V over the wavelengths,
    // 106.857 nm, over the 400 nm from 380 to 780.
    constexpr double efficacy = 683 * 106.857 / 400;
    return lumens / efficacy;
}

}  // namespace bricol
