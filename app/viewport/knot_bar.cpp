// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_bar.h"

#include "app/viewport/knot_actions.h"

namespace bricol {

KnotBar::KnotBar(Session& session, KnotTool& tool, QWidget* parent)
    : ToolBar("knotBar", tool, knot_actions(), parent), tool_(tool), fillet_(new NumberField(this)) {
    fillet_->setObjectName("knotFillet");
    fillet_->setFixedWidth(82);
    fillet_->setToolTip(
        "Rounding radius of the chosen corners. It stays a number and is made again when a knot moves.");
    connect(fillet_, &NumberField::numberGiven, this, [&session, &tool](double value, bool moving) {
        tool.set_fillet(value);
        if (!moving) session.part_edits();
    });
    connect(fillet_, &NumberField::refused, this, [&session](const QString& why) { session.say(why, true); });
    insert(fillet_, "knotAlignAcross");
    connect(&tool, &KnotTool::changed, this, &KnotBar::refresh);
    refresh();
}

void KnotBar::refresh() {
    setVisible(tool_.active());
    if (!tool_.active()) return;
    const auto kind = tool_.chosen_kind();
    fillet_->setEnabled(tool_.chosen_count() > 0 && (kind == KnotKind::corner || kind == KnotKind::free));
    fillet_->set_kind(Quantity::length, "mm", {0, 1e4, 0, 0.1});
    fillet_->show_value(tool_.chosen_fillet().value_or(0));
    ToolBar::refresh();
}

}  // namespace bricol
