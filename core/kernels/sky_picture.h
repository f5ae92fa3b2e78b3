// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of light from all around, out of files.
#pragma once

#include <string_view>

#include "core/ground/result.h"
#include "core/shape/stage.h"

namespace bricol {

/// An equirectangular picture from the bytes of an OpenEXR file or of one of shared exponents (".hdr": G. Ward, "Real
/// Pixels", Graphics Gems II, 1991). Linear, in the primaries of sRGB; values that are not finite or negative count as
/// 0. Up to `most_sky_pixels`; damaged bytes are a problem, never a crash.
Result<SkyPicture> read_sky_picture(std::string_view bytes);

inline constexpr double most_sky_pixels = 34e6;  // 8192 x 4096, 400 MB

/// The EXR half of it.
Result<SkyPicture> read_sky_exr(std::string_view bytes);
/// Refuses a picture of so many pixels, or takes it.
std::optional<Problem> refused_sky_size(double width, double height);

}  // namespace bricol
