// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_bar.h"

#include <QGridLayout>

#include "app/theme/theme.h"

namespace bricol {

KnotBar::KnotBar(Session& session, KnotTool& tool, QWidget* parent) : QFrame(parent), session_(session), tool_(tool) {
    setObjectName("knotBar");
    setCursor(Qt::ArrowCursor);
    auto* grid = new QGridLayout(this);  // down the left edge, where a profile drawn from the axis is not
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(3);
    int place = 0;
    const auto button = [&](const char* name, const char* glyph, const QString& tip, bool checkable, auto action) {
        auto* b = new QToolButton(this);
        b->setObjectName(name);
        b->setIcon(theme::glyph_icon(glyph, 18));
        b->setIconSize({18, 18});
        b->setToolTip(tip);
        b->setCheckable(checkable);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QToolButton::clicked, this, action);
        grid->addWidget(b, place / 2, place % 2, Qt::AlignLeft);
        ++place;
        return b;
    };
    draw_ = button("knotDraw", "M4 20 L5 15 L16 4 L20 8 L9 19z M14 6 L18 10",
                   "Draw: click to set knots, hold Shift for straight runs, pull for a smooth one; goes on from the "
                   "chosen end (D)",
                   true, [this](bool on) { tool_.set_drawing(on); });
    corner_ = button("knotCorner", "M4 18 L12 6 L20 18 M12 3.5 L14.5 6 L12 8.5 L9.5 6z", "Corner (1)", true,
                     [this] { tool_.set_kind(KnotKind::corner); });
    smooth_ = button("knotSmooth", "M4 18 C6 6 18 6 20 18 M12 6.5a2.5 2.5 0 1 0 0.01 5z",
                     "Smooth: handles in one line (2)", true, [this] { tool_.set_kind(KnotKind::smooth); });
    free_ =
        button("knotFree", "M4 18 C4 12 8 8 12 8 C14 14 18 18 20 18 M9.8 5.8h4.4v4.4h-4.4z",
               "Free: two handles that do not know each other (3)", true, [this] { tool_.set_kind(KnotKind::free); });
    closed_ = button("knotClosed", "M6 7 C12 2 20 8 18 15 C16 21 6 20 5 13 C4.8 10 5 8.5 6 7z", "Closed curve", true,
                     [this](bool on) { tool_.set_closed(on); });
    insert_ = button("knotInsert", "M3 18 L21 6 M12 7v10 M7 12h10",
                     "Insert a knot between chosen neighbours (I); or double-click the curve", false,
                     [this] { tool_.insert_between(); });
    fillet_ = new NumberField(this);
    fillet_->setObjectName("knotFillet");
    fillet_->setFixedWidth(82);
    fillet_->setToolTip(
        "Rounding radius of the chosen corners. It stays a number and is made again when a knot moves.");
    connect(fillet_, &NumberField::numberGiven, this, [this](double value, bool moving) {
        tool_.set_fillet(value);
        if (!moving) session_.part_edits();
    });
    connect(fillet_, &NumberField::refused, this, [this](const QString& why) { session_.say(why, true); });
    grid->addWidget(fillet_, place / 2, 0, 1, 2, Qt::AlignLeft);
    place += 2;
    across_ = button("knotAlignAcross", "M12 3v18 M7 7h10v3h-10z M5 14h14v3h-14z", "Align: the same place across",
                     false, [this] { tool_.align(0); });
    up_ = button("knotAlignUp", "M3 12h18 M7 7v10h3v-10z M14 5v14h3v-14z", "Align: the same height", false,
                 [this] { tool_.align(1); });
    split_ = button("knotSplit", "M3 18 L10 11 M14 7 L21 3 M9 8 L15 14 M8 13.4h3v3",
                    "Split the curve at the chosen knots", false, [this] { tool_.split(); });
    join_ = button("knotJoin", "M3 19 L9 12 M21 5 L15 12 M9 12 C10 9 14 15 15 12",
                   "Join the chosen end to the nearest end of another curve", false, [this] { tool_.join(); });
    reverse_ = button("knotReverse", "M4 9h15 M15 5 L19 9 L15 13 M20 16H6", "Reverse: the end becomes the start", false,
                      [this] { tool_.reverse(); });
    remove_ = button("knotDelete", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13", "Delete the chosen knots (Del)", false,
                     [this] { tool_.remove_chosen(); });
    widths_ = button("knotWidths", "M12 4a8 8 0 1 0 0.01 0z M12 12 L17 7 M15.5 5.5h3v3h-3z",
                     "Width and roll of the chosen knots: pull the grip out, or round (W)", true,
                     [this](bool on) { tool_.set_width_handles(on); });
    comb_ =
        button("knotComb",
               "M4 18 C9 8 15 8 20 18 M6 14.6 L3.5 12 M9 11.4 L8 7.5 M12 10.5 V6 M15 11.4 L16 7.5 M18 14.6 L20.5 12",
               "Comb: how strongly the curve bends (C)", true, [this](bool on) { tool_.set_comb(on); });
    surfaces_ = button("knotSurfaces", "M3 17 C8 12 16 12 21 17 M12 4v7 M9.5 9 L12 11.5 L14.5 9",
                       "On surfaces: knots are set on what other parts show under the pointer (S)", true,
                       [this](bool on) { tool_.set_on_surfaces(on); });
    plane_ = button("knotPlane", "M4 15 L9 7 L20 9 L15 17z M12.5 12 L15 3 M12.8 4.6 L15 3 L16.6 5",
                    "Draw on a face: click a face of another part to draw in its plane; what is drawn goes along (F)",
                    true, [this](bool on) { tool_.set_choosing_plane(on); });
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
    split_->setEnabled(any);
    join_->setEnabled(tool_.curves().size() > 1);
    reverse_->setEnabled(!tool_.curves().empty());
    widths_->setChecked(tool_.width_handles());
    comb_->setChecked(tool_.comb());
    surfaces_->setChecked(tool_.on_surfaces());
    plane_->setChecked(tool_.choosing_plane());
    plane_->setEnabled(tool_.has_plane());
    fillet_->setEnabled(any && (kind == KnotKind::corner || kind == KnotKind::free));
    fillet_->set_kind(Quantity::length, "mm", {0, 1e4, 0, 0.1});
    fillet_->show_value(tool_.chosen_fillet().value_or(0));
    adjustSize();
}

}  // namespace bricol
