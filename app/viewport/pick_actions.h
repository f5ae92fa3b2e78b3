// SPDX-License-Identifier: GPL-3.0-or-later
// What can be picked and how.
#pragma once

#include "app/viewport/pick_tool.h"
#include "app/viewport/tool_action.h"

namespace bricol {

std::span<const ToolAction<PickTool>> pick_actions();

}  // namespace bricol
