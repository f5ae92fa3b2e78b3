// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/pick_bar.h"

#include "app/viewport/pick_actions.h"

namespace bricol {

PickBar::PickBar(PickTool& tool, QWidget* parent) : ToolBar("pickBar", tool, pick_actions(), parent) {
    const auto show = [this, &tool] {
        const bool on = tool.active() && !tool.kinds().empty();  // a cage needs no bar: its points are there
        setVisible(on);
        if (on) refresh();
    };
    connect(&tool, &PickTool::changed, this, show);
    show();
}

}  // namespace bricol
