// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done to the knots of a stick figure.
#pragma once

#include "app/viewport/stick_tool.h"
#include "app/viewport/tool_action.h"

namespace bricol {

std::span<const ToolAction<StickTool>> stick_actions();

}  // namespace bricol
