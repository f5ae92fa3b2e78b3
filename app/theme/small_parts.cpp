// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/theme/small_parts.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

namespace bricol {

HeadLabel::HeadLabel(const QString& text, QWidget* parent) : QLabel(text, parent) { setObjectName("head"); }

QSize HeadLabel::minimumSizeHint() const {
    const QSize whole = QLabel::minimumSizeHint();
    return {std::min(whole.width(), fontMetrics().averageCharWidth() * 6), whole.height()};
}

void HeadLabel::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setPen(palette().color(foregroundRole()));
    const QRect r = contentsRect();
    painter.drawText(r, static_cast<int>(alignment()) | Qt::TextSingleLine,
                     fontMetrics().elidedText(text(), Qt::ElideRight, r.width()));
}

bool HeadLabel::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || fontMetrics().horizontalAdvance(text()) <= contentsRect().width())
        return QLabel::event(event);
    const QString more = toolTip().isEmpty() ? text() : text() + "\n" + toolTip();
    QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), more, this);
    return true;
}

QLabel* soft_label(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setObjectName("soft");
    return label;
}

QLabel* soft_lines(const QString& text, QWidget* parent) {
    QLabel* label = soft_label(text, parent);
    label->setWordWrap(true);
    return label;
}

QToolButton* quiet_button(const QString& tip, QSize size, QWidget* parent) {
    auto* button = new QToolButton(parent);
    button->setObjectName("quiet");
    button->setToolTip(tip);
    button->setFixedSize(size);
    return button;
}

QPushButton* link_button(const QString& text, QWidget* parent) {
    auto* button = new QPushButton(text, parent);
    button->setObjectName("link");
    return button;
}

void exchange_widget(QScrollArea& area, QWidget* widget) {
    if (QWidget* before = area.widget()) {
        // Losing the keyboard is no answer to what was being typed.
        for (QWidget* inside : before->findChildren<QWidget*>()) inside->blockSignals(true);
        area.takeWidget()->deleteLater();
    }
    area.setWidget(widget);
}

}  // namespace bricol
