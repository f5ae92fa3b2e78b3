// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/count_box.h"

#include <QSettings>

#include "app/theme/theme.h"

namespace bricol {

QSpinBox* count_box(QWidget* parent, const QString& group, const QString& name, int low, int high, int usual,
                    const QString& tip) {
    const QString key = group + "/" + name;
    auto* box = new QSpinBox(parent);
    box->setObjectName(name);
    box->setRange(low, high);
    box->setValue(QSettings().value(key, usual).toInt());
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);
    box->setFont(theme::number_font(9));
    box->setFixedWidth(58);
    box->setToolTip(tip);
    QObject::connect(box, &QSpinBox::valueChanged, box, [key](int value) { QSettings().setValue(key, value); });
    return box;
}

}  // namespace bricol
