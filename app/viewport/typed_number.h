// SPDX-License-Identifier: GPL-3.0-or-later
// Figures typed while something is pulled in the viewport: they finish the pull exactly.
#pragma once

#include <QKeyEvent>
#include <QPainter>
#include <optional>

#include "app/theme/theme.h"
#include "core/formula/formula.h"
#include "core/formula/units.h"

namespace bricol {

class TypedNumber {
public:
    bool empty() const { return text_.isEmpty(); }
    void clear() { text_.clear(); }
    /// Takes figures, a sign, a point and unit letters; true when the key was one of them.
    bool take(const QKeyEvent* event) {
        if (event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier)) return false;
        if (event->key() == Qt::Key_Backspace && !text_.isEmpty()) {
            text_.chop(1);
            return true;
        }
        const QString typed = event->text();
        const bool figure = typed.size() == 1 && (typed[0].isDigit() || typed[0] == '.' || typed[0] == '-');
        const bool unit = typed.size() == 1 && !text_.isEmpty() && (typed[0].isLetter() || typed[0] == ' ');
        if (!figure && !unit) return false;
        text_ += typed;
        return true;
    }
    const QString& text() const { return text_; }
    /// In stored units: a bare number is in the unit that is shown ("12" with millimetres is 0.012), one with a unit is
    /// what it says.
    std::optional<double> value(Quantity quantity, const std::string& length_unit) const {
        const auto result = evaluate(text_.toStdString(), [](const std::string& name) -> Result<double> {
            return Problem{name + " is no unit.", "", ""};
        });
        if (!result) return std::nullopt;
        return text_.back().isLetter() ? *result : stored_value(*result, quantity, length_unit);
    }
    void paint(QPainter& painter, const QPointF& at) const {
        if (text_.isEmpty()) return;
        painter.setFont(theme::number_font(9.5));
        const QString shown = text_ + "  ⏎";
        const QRectF box(at + QPointF(16, 12), QSizeF(painter.fontMetrics().horizontalAdvance(shown) + 14, 22));
        painter.setPen(QPen(theme::color(theme::Role::act), 1));
        painter.setBrush(theme::color(theme::Role::card));
        painter.drawRoundedRect(box, 3, 3);
        painter.setPen(theme::color(theme::Role::ink));
        painter.drawText(box, Qt::AlignCenter, shown);
    }

private:
    QString text_;
};

}  // namespace bricol
