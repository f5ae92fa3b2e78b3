// SPDX-License-Identifier: GPL-3.0-or-later
// What a format has no place for, said before anybody misses it.
#pragma once

#include "core/files/format.h"

namespace bricol {

/// A sentence for everything that a shape has, or that is `asked` to go along (`Keep` bits: presets, levels, values,
/// light_uvs), and that the format leaves out. Values count when they are asked for and there.
std::vector<std::string> what_stays_out(const NamedShape& named, const FormatInfo& format, unsigned asked);

/// What no file holds at all: relief and rounded edges of materials.
std::vector<std::string> what_no_file_holds(const Shape& shape);

}  // namespace bricol
