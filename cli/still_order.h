// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "cli/running.h"
#include "core/still/order.h"

namespace bricol {

/// What the options of a picture ask for; a problem when the size is none.
Result<StillOrder> still_order(const StillCommand& command, const MakeCommand& making);

/// One picture of what was made, to a file.
std::optional<Problem> take_picture(const StillOrder& order, const Recipe& recipe, const Made& made,
                                    const std::string& path);

}  // namespace bricol
