// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done to the chosen knots, as buttons over the picture.
#pragma once

#include <QFrame>
#include <QToolButton>

#include "app/details/number_field.h"
#include "app/viewport/knot_tool.h"

namespace bricol {

class KnotBar : public QFrame {
    Q_OBJECT
public:
    KnotBar(Session& session, KnotTool& tool, QWidget* parent);
    void refresh();

private:
    Session& session_;
    KnotTool& tool_;
    QToolButton *draw_, *corner_, *smooth_, *free_, *across_, *up_, *insert_, *remove_, *closed_, *split_, *join_,
        *reverse_, *widths_, *comb_, *surfaces_, *plane_;
    NumberField* fillet_;
};

}  // namespace bricol
