// SPDX-License-Identifier: GPL-3.0-or-later
// What the keys do on the sheet.
#pragma once

#include "app/sheet/step_sheet.h"
#include "app/viewport/tool_action.h"

namespace bricol {

std::span<const ToolAction<StepSheet>> sheet_actions();

}  // namespace bricol
