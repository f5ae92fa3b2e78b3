// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/trial/range_rows.h"

#include <QPainter>

#include "app/theme/theme.h"

namespace bricol {

RangeBar::RangeBar(const Dial& dial, const DialTrial& trial, QWidget* parent)
    : QWidget(parent), dial_(dial), trial_(trial) {
    setMinimumSize(120, 18);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setToolTip(
        "Filled where the recipe holds, hatched where it breaks; the bracket is what holds with the other dials "
        "inside theirs, the mark where the dial stands");
}

void RangeBar::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF bar(1, 5, width() - 2, 8);
    const auto x = [&](double share) { return bar.left() + bar.width() * share; };
    for (const DialTrial::Stretch& stretch : trial_.stretches) {
        const QRectF part(x(stretch.from), bar.top(), x(stretch.to) - x(stretch.from), bar.height());
        if (stretch.holds) {
            painter.fillRect(part, theme::color(Role::act));
        } else {
            painter.fillRect(part, theme::color(Role::card));
            painter.fillRect(part, QBrush(theme::color(Role::error), Qt::BDiagPattern));
        }
    }
    painter.setPen(QPen(theme::color(Role::line), 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(bar);
    if (dial_.kind != DialKind::number || dial_.high <= dial_.low) return;
    const auto share = [&](double value) { return (value - dial_.low) / (dial_.high - dial_.low); };
    painter.setPen(QPen(theme::color(Role::ink), 1.5));
    if (trial_.narrowed) {
        const double low = x(share(trial_.safe_low)), high = x(share(trial_.safe_high));
        for (const auto& [at, way] : {std::pair{low, 3.0}, {high, -3.0}}) {
            painter.drawLine(QPointF(at, 2), QPointF(at, 16));
            painter.drawLine(QPointF(at, 2), QPointF(at + way, 2));
            painter.drawLine(QPointF(at, 16), QPointF(at + way, 16));
        }
    }
    const double here = x(share(dial_.value));
    painter.setBrush(theme::color(Role::card));
    painter.drawEllipse(QPointF(here, 9), 4, 4);
}

}  // namespace bricol
