// SPDX-License-Identifier: GPL-3.0-or-later
// Stills as files.
#pragma once

#include <optional>
#include <string>

#include "core/ground/result.h"
#include "core/still/still.h"

namespace bricol {

/// Red, green, blue and cover of every pixel as a screen shows it; cover is 255 unless the picture is see-through.
std::vector<std::uint8_t> screen_bytes(const StillPicture& picture, StillCurve curve);

/// PNG, 8 bits, sRGB, with cover where nothing lies behind; or EXR, linear half floats with albedo, normal, depth, part
/// and material numbers as layers: by the ending of `path`. Written beside and renamed, so that an old file stays when
/// the disk fills up.
std::optional<Problem> write_picture(const StillPicture& picture, const std::string& path, StillCurve curve);

}  // namespace bricol
