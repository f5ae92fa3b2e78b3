// SPDX-License-Identifier: GPL-3.0-or-later
// What can be picked and how, as buttons over the picture.
#pragma once

#include "app/viewport/pick_tool.h"
#include "app/viewport/tool_bar.h"

namespace bricol {

class PickBar : public ToolBar<PickTool> {
public:
    PickBar(PickTool& tool, QWidget* parent);
};

}  // namespace bricol
