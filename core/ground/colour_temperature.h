// SPDX-License-Identifier: GPL-3.0-or-later
// The colour of a glowing body.
#pragma once

#include "core/ground/types.h"

namespace bricol {

/// CIE 1931 chromaticity of a black body (kelvin, 800 to 40000): M. Planck's law with C. Wyman, P.-P. Sloan and P.
/// Shirley's fits of the colour matching functions ("Simple analytic approximations to the CIE XYZ color matching
/// functions", JCGT 2(2), 2013), 5 nm steps.
DVec2 black_body_xy(double kelvin);
/// The same as linear colour in the primaries of sRGB, brightest channel 1; what lies outside them is cut off.
DVec3 temperature_colour(double kelvin);

}  // namespace bricol
