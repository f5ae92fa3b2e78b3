// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/pick_bar.h"

#include <QGridLayout>
#include <algorithm>

#include "app/theme/theme.h"

namespace bricol {

PickBar::PickBar(PickTool& tool, QWidget* parent) : QFrame(parent), tool_(tool) {
    setObjectName("pickBar");
    setCursor(Qt::ArrowCursor);
    auto* grid = new QGridLayout(this);  // two short columns down the left edge
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
        grid->addWidget(b, place / 2, place % 2);
        ++place;
        return b;
    };
    pick_ = button("pickOn", "M5 4 L12 20 L14 13 L20 11z",
                   "Pick in the view: click, or drag; Shift adds, Ctrl takes away (D)", true,
                   [this](bool on) { tool_.set_picking(on); });
    through_ = button("pickThrough", "M4 8h10v10h-10z M8 4h12v12h-3 M8 4v2",
                      "See-through: what is hidden behind can be picked too (T)", true,
                      [this](bool on) { tool_.set_see_through(on); });
    vertices_ = button("pickVertices", "M5 18 L12 6 L19 18 M12 3.6a2.4 2.4 0 1 0 0.01 4.8z", "Vertices (1)", true,
                       [this] { tool_.set_kind(Domain::vertex); });
    edges_ = button("pickEdges", "M5 18 L12 5 M6 19.5 L13 6.5 M12 5 L19 18 L5 18",
                    "Edges (2); double-click picks a loop", true, [this] { tool_.set_kind(Domain::edge); });
    faces_ = button("pickFaces", "M5 18 L12 5 L19 18z M8.5 16 L12 9.5 M11 16 L13.6 11.6 M13.6 16 L15 13.8", "Faces (3)",
                    true, [this] { tool_.set_kind(Domain::face); });
    box_ = button("pickBox", "M4 6h3 M9 6h3 M14 6h3 M19 6v3 M19 11v3 M19 16v2h-3 M13 18h-3 M8 18h-3 M4 16v-3 M4 11v-3",
                  "Drag a box (B)", true, [this] { tool_.set_with(PickWith::box); });
    lasso_ = button("pickLasso",
                    "M12 5 C18 5 20 8 20 10 C20 14 16 15 12 15 C7 15 4 13 4 10 C4 7 7 5 12 5z M8 14.5 C6 16 7 18 9 18 "
                    "C10.5 18 10.5 20 9 20.5",
                    "Draw a lasso (O)", true, [this] { tool_.set_with(PickWith::lasso); });
    paint_ =
        button("pickPaint",
               "M19 4 L12 11 L14 13 L20 6z M11 12 C8 12 7.5 14.5 7 16 C6.6 17.4 5.5 18 4 18.5 C8 20.5 13 19 13.5 14.5z",
               "Paint with a brush (I)", true, [this] { tool_.set_with(PickWith::paint); });
    loop_ = button("pickLoop", "M4 12a8 4 0 1 0 16 0a8 4 0 1 0 -16 0 M12 16v4 M12 4v4",
                   "Whole loops of the picked edges (L)", false, [this] { tool_.loop(); });
    ring_ = button("pickRing", "M4 9 C9 6 15 6 20 9 M4 16 C9 13 15 13 20 16 M7 8v6.6 M12 7v6.6 M17 8v6.6",
                   "Whole rings of the picked edges (R)", false, [this] { tool_.ring(); });
    alike_ = button("pickAlike",
                    "M4 17 L10 14 L16 17 L10 20z M10 11V4 M7.5 6.5 L10 4 L12.5 6.5 M17 13V7 M15.4 8.8 L17 7 L18.6 8.8",
                    "All faces that look the same way (F)", false, [this] { tool_.same_facing(); });
    grow_ = button("pickGrow", "M9 9h6v6h-6z M12 6V3 M12 21v-3 M6 12H3 M21 12h-3", "Grow by one row (+)", false,
                   [this] { tool_.grow(); });
    shrink_ = button("pickShrink", "M9 9h6v6h-6z M12 3v3 M10.5 4.7 L12 6.2 L13.5 4.7 M12 21v-3 M3 12h3 M21 12h-3",
                     "Shrink by one row (-)", false, [this] { tool_.shrink(); });
    clear_ = button("pickClear", "M5 7h14 M9 7V4h6v3 M7 7l1 13h8l1-13", "Forget the picks (Del)", false,
                    [this] { tool_.clear(); });
    connect(&tool, &PickTool::changed, this, &PickBar::refresh);
    refresh();
}

void PickBar::refresh() {
    const bool on = tool_.active() && !tool_.kinds().empty();  // a cage needs no bar: its points are there
    setVisible(on);
    if (!on) return;
    const auto offers = [&](Domain kind) { return std::ranges::find(tool_.kinds(), kind) != tool_.kinds().end(); };
    pick_->setChecked(tool_.picking());
    for (const auto& [button, kind] :
         {std::pair{vertices_, Domain::vertex}, {edges_, Domain::edge}, {faces_, Domain::face}}) {
        button->setEnabled(tool_.picking() && offers(kind));
        button->setChecked(tool_.kind() == kind);
    }
    for (const auto& [button, with] :
         {std::pair{box_, PickWith::box}, {lasso_, PickWith::lasso}, {paint_, PickWith::paint}}) {
        button->setEnabled(tool_.picking());
        button->setChecked(tool_.with() == with);
    }
    through_->setEnabled(tool_.picking());
    through_->setChecked(tool_.see_through());
    const bool any = tool_.picking() && !tool_.elements().empty();
    for (auto* button : {grow_, shrink_}) button->setEnabled(any);
    clear_->setEnabled(!tool_.elements().empty());
    loop_->setEnabled(any && tool_.kind() == Domain::edge);
    ring_->setEnabled(any && tool_.kind() == Domain::edge);
    alike_->setEnabled(any && tool_.kind() == Domain::face);
    adjustSize();
}

}  // namespace bricol
