// SPDX-License-Identifier: GPL-3.0-or-later
// A small field for a whole number that is remembered from one start to the next.
#pragma once

#include <QSpinBox>

namespace bricol {

/// Remembered under "group/name"; `usual` on the first start.
QSpinBox* count_box(QWidget* parent, const QString& group, const QString& name, int low, int high, int usual,
                    const QString& tip);

}  // namespace bricol
