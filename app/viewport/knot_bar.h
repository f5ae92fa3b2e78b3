// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done to the chosen knots, as buttons over the picture.
#pragma once

#include "app/details/number_field.h"
#include "app/viewport/knot_tool.h"
#include "app/viewport/tool_bar.h"

namespace bricol {

class KnotBar : public ToolBar<KnotTool> {
public:
    KnotBar(Session& session, KnotTool& tool, QWidget* parent);
    void refresh();

private:
    KnotTool& tool_;
    NumberField* fillet_;
};

}  // namespace bricol
