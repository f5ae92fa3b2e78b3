// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_bar.h"

#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace bricol {

KnotBar::KnotBar(Session& session, KnotTool& tool, QWidget* parent) : QFrame(parent), session_(session), tool_(tool) {
    setObjectName("knotBar");
    setCursor(Qt::ArrowCursor);
    auto* row = new QVBoxLayout(this);  // down the left edge, where a profile drawn from the axis is not
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(3);
    const auto button = [&](const char* name, const char* glyph, const QString& tip, bool checkable, auto action) {
        auto* b = new QToolButton(this);
        b->setObjectName(name);
        b->setIcon(theme::glyph_icon(glyph, 18));
        b->setIconSize({18, 18});
        b->setToolTip(tip);
        b->setCheckable(checkable);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QToolButton::clicked, this, action);
        row->addWidget(b, 0, Qt::AlignLeft);
        return b;
    };
    draw_ = button("knotDraw", "M4 20 L5 15 L16 4 L20 8 L9 19z M14 6 L18 10", "Draw: click to set knots, hold Shift for straight runs, pull for a smooth one (D)", true,
                   [this](bool on) { tool_.set_drawing(on); });
    corner_ = button("knotCorner", "M4 18 L12 6 L20 18 M12 3.5 L14.5 6 L12 8.5 L9.5 6z", "Corner (1)", true, [this] { tool_.set_kind(KnotKind::corner); });
    smooth_ = button("knotSmooth", "M4 18 C6 6 18 6 20 18 M12 6.5a2.5 2.5 0 1 0 0.01 5z", "Smooth: handles in one line (2)", true, [this] { tool_.set_kind(KnotKind::smooth); });
    free_ = button("knotFree", "M4 18 C4 12 8 8 12 8 C14 14 18 18 20 18 M9.8 5.8h4.4v4.4h-4.4z", "Free: two handles that do not know each other (3)", true,
                   [this] { tool_.set_kind(KnotKind::free); });
    fillet_ = new NumberField(this);
    fillet_->setObjectName("knotFillet");
    fillet_->setFixedWidth(82);
    fillet_->setToolTip("Rounding radius of the chosen corners. It stays a number and is made again when a knot moves.");
    connect(fillet_, &NumberField::numberGiven, this, [this](double value, bool moving) {
        tool_.set_fillet(value);
        if (!moving) session_.part_edits();
    });
    connect(fillet_, &NumberField::refused, this, [this](const QString& why) { session_.say(why, true); });
    row->addWidget(fillet_, 0, Qt::AlignLeft);
    across_ = button("knotAlignAcross", "M12 3v18 M7 7h10v3h-10z M5 14h14v3h-14z", "Align: the same place across", false, [this] { tool_.align(0); });
    up_ = button("knotAlignUp", "M3 12h18 M7 7v10h3v-10z M14 5v14h3v-14z", "Align: the same height", false, [this] { tool_.align(1); });
    insert_ = button("knotInsert", "M3 18 L21 6 M12 7v10 M7 12h10", "Insert a knot between chosen neighbours (I); or double-click the curve", false, [this] { tool_.insert_between(); });
    closed_ = button("knotClosed", "M6 7 C12 2 20 8 18 15 C16 21 6 20 5 13 C4.8 10 5 8.5 6 7z", "Closed curve", true, [this](bool on) { tool_.set_closed(on); });
    remove_ = button("knotDelete", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13", "Delete the chosen knots (Del)", false, [this] { tool_.remove_chosen(); });
    connect(&tool, &KnotTool::changed, this, &KnotBar::refresh);
    refresh();
}

void KnotBar::refresh() {
    setVisible(tool_.active());
    if (!tool_.active()) return;
    const bool any = !session_.knots().empty();
    const auto kind = tool_.chosen_kind();
    draw_->setChecked(tool_.drawing());
    corner_->setChecked(kind == KnotKind::corner);
    smooth_->setChecked(kind == KnotKind::smooth);
    free_->setChecked(kind == KnotKind::free);
    for (auto* b : {corner_, smooth_, free_, remove_}) b->setEnabled(any);
    for (auto* b : {across_, up_, insert_}) b->setEnabled(session_.knots().size() > 1);
    closed_->setChecked(tool_.closed());
    fillet_->setEnabled(any && kind == KnotKind::corner);
    fillet_->set_kind(Quantity::length, "mm", {0, 1e4, 0, 0.1});
    fillet_->show_value(tool_.chosen_fillet().value_or(0));
    adjustSize();
}

}  // namespace bricol
