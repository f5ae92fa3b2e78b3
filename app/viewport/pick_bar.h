// SPDX-License-Identifier: GPL-3.0-or-later
// What can be picked and how, as buttons over the picture.
#pragma once

#include <QFrame>
#include <QToolButton>

#include "app/viewport/pick_tool.h"

namespace bricol {

class PickBar : public QFrame {
    Q_OBJECT
public:
    PickBar(PickTool& tool, QWidget* parent);
    void refresh();

private:
    PickTool& tool_;
    QToolButton *pick_, *vertices_, *edges_, *faces_, *box_, *lasso_, *paint_, *through_, *loop_, *ring_, *alike_,
        *grow_, *shrink_, *clear_;
};

}  // namespace bricol
