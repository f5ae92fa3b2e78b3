// SPDX-License-Identifier: GPL-3.0-or-later
// Stills as files.
#pragma once

#include <optional>
#include <string>

#include "core/ground/result.h"
#include "core/still/still.h"

namespace bricol {

/// PNG, 8 bits, sRGB; or EXR, linear half floats with albedo, normal, depth, part and material numbers as layers: by
/// the ending of `path`. Written beside and renamed, so that an old file stays when the disk fills up.
std::optional<Problem> write_picture(const StillPicture& picture, const std::string& path, StillCurve curve);

}  // namespace bricol
