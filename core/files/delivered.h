// SPDX-License-Identifier: GPL-3.0-or-later
// What of a made recipe goes into files.
#pragma once

#include "core/files/format.h"
#include "core/make/make.h"

namespace bricol {

/// The named parts, or those that are delivered when none is named. Parts that were not made are left out.
std::vector<NamedShape> shapes_to_write(const Recipe& recipe, const Made& made,
                                        const std::vector<std::string>& parts = {});

/// What shapes that may stand in others as copies are called: a part's result by the part, other steps' by
/// "part.step".
ShapeNames shape_names(const Recipe& recipe, const Made& made);

}  // namespace bricol
