// SPDX-License-Identifier: GPL-3.0-or-later
// Colours inside settings.
#pragma once

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

/// Linear red, green and blue held within 0..1; what cannot be read is told and 0.
DVec3 read_colour(const Json& written, const std::string& where, Reading& reading);

}  // namespace bricol::kinds
