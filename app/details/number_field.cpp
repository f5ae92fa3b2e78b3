// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/number_field.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QStyle>
#include <QWheelEvent>
#include <cmath>

#include "app/theme/theme.h"
#include "core/formula/formula.h"

namespace bricol {

NumberField::NumberField(QWidget* parent) : QLineEdit(parent) {
    setFont(theme::number_font());
    setFixedHeight(24);
    setFocusPolicy(Qt::TabFocus);  // a press may be the start of a drag; the click takes the keyboard on release
    connect(this, &QLineEdit::textEdited, this, [this] {
        typed_ = true;
        setProperty("wrong", false);
        style()->polish(this);
    });
    connect(this, &QLineEdit::returnPressed, this, [this] {
        take_text();
        selectAll();
    });
}

void NumberField::set_kind(Quantity quantity, const QString& length_unit, Range range) {
    quantity_ = quantity;
    length_unit_ = length_unit;
    range_ = range;
    refresh();
}

void NumberField::show_value(double value, const QString& formula) {
    value_ = value;
    formula_ = formula;
    if (!(hasFocus() && typed_)) refresh();
}

QString NumberField::value_text(int digits) const {
    return QString::fromStdString(format_number(shown_value(value_, quantity_, length_unit_.toStdString()), digits));
}

void NumberField::refresh() {
    const QString wanted = formula_.isEmpty() ? value_text() : formula_;
    if (text() == wanted) return;  // what is marked stays marked
    setText(wanted);
    if (hasFocus())
        selectAll();
    else
        setCursorPosition(0);
}

double NumberField::step() const {
    if (quantity_ == Quantity::count) return 1;
    if (quantity_ == Quantity::angle) return 1;
    const double span = std::max(range_.soft_high - range_.soft_low, 1e-9);
    return std::pow(10, std::floor(std::log10(span / 50)));
}

void NumberField::give(double value, bool moving) {
    value = std::clamp(value, range_.low, range_.high);
    if (quantity_ == Quantity::count) value = std::round(value);
    value_ = value;
    formula_.clear();
    typed_ = false;
    refresh();
    emit numberGiven(value, moving);
}

void NumberField::take_text() {
    if (!typed_) return;
    const auto typed = read_typed(text().toStdString(), quantity_, length_unit_.toStdString());
    QString why;
    if (!typed)
        why = QString::fromStdString(typed.problem().text());
    else if (!typed->formula && (typed->value < range_.low || typed->value > range_.high))
        why = QString("%1 is outside %2 to %3.")
                  .arg(text(), QString::fromStdString(format_value(range_.low, quantity_, length_unit_.toStdString())),
                       QString::fromStdString(format_value(range_.high, quantity_, length_unit_.toStdString())));
    if (!why.isEmpty()) {
        // What was typed stays, so that it can be mended.
        setProperty("wrong", true);
        style()->polish(this);
        emit refused(why);
        return;
    }
    typed_ = false;
    setProperty("wrong", false);
    style()->polish(this);
    if (typed->formula)
        emit formulaGiven(QString::fromStdString(typed->text));
    else
        give(typed->value, false);
}

bool NumberField::event(QEvent* event) {
    // Undo belongs to the recipe unless something half typed stands in the field.
    if (event->type() == QEvent::ShortcutOverride && !typed_) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
            event->ignore();
            return true;
        }
    }
    return QLineEdit::event(event);
}

void NumberField::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && !hasFocus()) {
        pressed_ = true;
        dragging_ = false;
        drag_from_ = static_cast<int>(event->position().x());
        drag_value_ = value_;
        event->accept();
        return;
    }
    QLineEdit::mousePressEvent(event);
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_) {
        if (!hasFocus()) setCursor(formula_.isEmpty() ? Qt::SizeHorCursor : Qt::IBeamCursor);
        QLineEdit::mouseMoveEvent(event);
        return;
    }
    const int moved = static_cast<int>(event->position().x()) - drag_from_;
    if (!dragging_ && std::abs(moved) < 4) return;
    if (!formula_.isEmpty()) return;  // a formula is not overwritten by a careless drag
    dragging_ = true;
    const double speed = event->modifiers() & Qt::ShiftModifier     ? 10
                         : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                    : 1;
    const double pixels_per_step = quantity_ == Quantity::count ? 6 : 2;
    const double steps = std::trunc(moved / pixels_per_step) * speed;
    give(std::round((drag_value_ + steps * step()) / (step() * 0.1)) * step() * 0.1, true);
}

void NumberField::mouseReleaseEvent(QMouseEvent* event) {
    if (pressed_) {
        pressed_ = false;
        if (dragging_) {
            dragging_ = false;
            emit numberGiven(value_, false);
        } else {
            setFocus(Qt::MouseFocusReason);
            setCursor(Qt::IBeamCursor);
            selectAll();
        }
        return;
    }
    QLineEdit::mouseReleaseEvent(event);
}

void NumberField::wheelEvent(QWheelEvent* event) {
    if (!hasFocus() || !formula_.isEmpty()) {
        event->ignore();  // the panel scrolls
        return;
    }
    const double speed = event->modifiers() & Qt::ShiftModifier     ? 10
                         : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                    : 1;
    give(value_ + (event->angleDelta().y() > 0 ? 1 : -1) * speed * step(), false);
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    if ((event->key() == Qt::Key_Up || event->key() == Qt::Key_Down) && formula_.isEmpty() && !text().startsWith('=')) {
        take_text();
        const double speed = event->modifiers() & Qt::ShiftModifier     ? 10
                             : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                        : 1;
        give(value_ + (event->key() == Qt::Key_Up ? 1 : -1) * speed * step(), false);
        return;
    }
    if (event->key() == Qt::Key_Escape) {
        typed_ = false;
        setProperty("wrong", false);
        style()->polish(this);
        refresh();
        clearFocus();
        return;
    }
    QLineEdit::keyPressEvent(event);
}

void NumberField::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) selectAll();
}

void NumberField::focusOutEvent(QFocusEvent* event) {
    QLineEdit::focusOutEvent(event);
    if (event->reason() != Qt::PopupFocusReason) take_text();
    if (!property("wrong").toBool()) refresh();
}

void NumberField::paintEvent(QPaintEvent* event) {
    QLineEdit::paintEvent(event);
    if (hasFocus()) return;
    QPainter painter(this);
    painter.setFont(theme::number_font());
    painter.setPen(theme::color(theme::Role::soft_ink));
    const QString unit = QString::fromStdString(shown_unit(quantity_, length_unit_.toStdString()));
    QString side = unit;
    if (!formula_.isEmpty()) {
        side = value_text(4) + (unit.isEmpty() || unit == "°" ? unit : " " + unit);
        // The value beside as much of the formula as fits.
        const int room = painter.fontMetrics().horizontalAdvance(side) + 16;
        painter.fillRect(2, 2, width() - 4, height() - 4, theme::color(theme::Role::card));
        painter.setPen(theme::color(theme::Role::ink));
        painter.drawText(rect().adjusted(8, 0, -room, 0), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(formula_, Qt::ElideRight, width() - room - 8));
        painter.setPen(theme::color(theme::Role::soft_ink));
    }
    painter.drawText(rect().adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, side);
}

}  // namespace bricol
