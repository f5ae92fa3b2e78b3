// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done to the knots of a curve.
#pragma once

#include "app/viewport/knot_tool.h"
#include "app/viewport/tool_action.h"

namespace bricol {

std::span<const ToolAction<KnotTool>> knot_actions();

}  // namespace bricol
