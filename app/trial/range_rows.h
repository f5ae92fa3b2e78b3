// SPDX-License-Identifier: GPL-3.0-or-later
// A trial's dials as lines: the range, filled where the recipe holds and hatched where it breaks.
#pragma once

#include <QWidget>

#include "core/inspect/trial.h"

namespace bricol {

class RangeBar : public QWidget {
    Q_OBJECT
public:
    RangeBar(const Dial& dial, const DialTrial& trial, QWidget* parent);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Dial dial_;
    DialTrial trial_;
};

}  // namespace bricol
