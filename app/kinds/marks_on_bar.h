// SPDX-License-Identifier: GPL-3.0-or-later
// What editors with marks along 0..1 share.
#pragma once

#include <QKeyEvent>
#include <QRectF>
#include <algorithm>
#include <cmath>

namespace bricol {

inline bool is_delete(const QKeyEvent* event) {
    return event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace;
}

/// With a mark in hand Delete means the mark, not the step.
inline bool takes_delete(QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride || !is_delete(static_cast<QKeyEvent*>(event))) return false;
    event->accept();
    return true;
}

/// To three digits, as recipes are written.
inline double to_thousandths(double v) { return std::round(v * 1000) / 1000; }

/// Where along the field a pixel lies, 0..1.
inline double share_across(const QRectF& field, double x) {
    return std::clamp((x - field.left()) / field.width(), 0.0, 1.0);
}

/// Where mark `k` may go: between its neighbours.
template <class Marks>
double between_neighbours(const Marks& marks, std::size_t k, double share) {
    const double low = k > 0 ? marks[k - 1].at + 0.001 : 0, high = k + 1 < marks.size() ? marks[k + 1].at - 0.001 : 1;
    return to_thousandths(std::clamp(share, low, std::max(low, high)));
}

/// Before which mark one at `share` comes.
template <class Marks>
auto place_for(Marks& marks, double share) {
    return std::ranges::find_if(marks, [&](const auto& mark) { return mark.at > share; });
}

}  // namespace bricol
