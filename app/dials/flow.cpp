// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/flow.h"

#include <QWidget>

namespace bricol {

Flow::Flow(QWidget* parent, int gap) : QLayout(parent), gap_(gap) { setContentsMargins(0, 0, 0, 0); }

Flow::~Flow() {
    while (QLayoutItem* item = takeAt(0)) delete item;
}

QLayoutItem* Flow::takeAt(int index) { return index >= 0 && index < items_.size() ? items_.takeAt(index) : nullptr; }

void Flow::setGeometry(const QRect& room) {
    QLayout::setGeometry(room);
    laid(room, true);
}

QSize Flow::minimumSize() const {
    QSize least;
    for (const QLayoutItem* item : items_) least = least.expandedTo(item->minimumSize());
    const QMargins margins = contentsMargins();
    return least + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

int Flow::laid(const QRect& room, bool apply) const {
    const QRect inside = room.marginsRemoved(contentsMargins());
    int x = inside.x(), y = inside.y(), line = 0;
    for (QLayoutItem* item : items_) {
        const QSize size = item->sizeHint().boundedTo({inside.width(), 1 << 20});
        if (x > inside.x() && x + size.width() > inside.right() + 1) {
            x = inside.x();
            y += line + gap_;
            line = 0;
        }
        if (apply) item->setGeometry({QPoint(x, y), size});
        x += size.width() + gap_;
        line = std::max(line, size.height());
    }
    return y + line - room.y() + contentsMargins().bottom();
}

}  // namespace bricol
