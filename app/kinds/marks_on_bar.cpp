// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/marks_on_bar.h"

#include <QKeyEvent>
#include <QMouseEvent>

namespace bricol {

namespace {

bool is_delete(const QKeyEvent* event) { return event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace; }

}  // namespace

MarksOnBar::MarksOnBar(QWidget* parent) : QWidget(parent) { setFocusPolicy(Qt::StrongFocus); }

void MarksOnBar::marks_came() {
    if (chosen_ >= mark_count()) chosen_ = -1;
    update();
}

int MarksOnBar::mark_under(const QPointF& p) const {
    for (int k = 0; k < mark_count(); ++k)
        if (catches(mark_at(k) - p)) return k;
    return -1;
}

void MarksOnBar::mousePressEvent(QMouseEvent* event) {
    chosen_ = mark_under(event->position());
    dragging_ = chosen_ >= 0;
    update();
}

void MarksOnBar::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0) return;
    drag_mark(chosen_, event->position());
    tell(false);
    update();
}

void MarksOnBar::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    tell(true);
}

void MarksOnBar::mouseDoubleClickEvent(QMouseEvent* event) {
    dragging_ = false;
    if (const int mark = mark_under(event->position()); mark >= 0) {
        chosen_ = mark;
        open_mark(mark);
        return;
    }
    chosen_ = add_mark(event->position());
    tell(true);
    update();
}

void MarksOnBar::keyPressEvent(QKeyEvent* event) {
    if (!is_delete(event) || chosen_ < 0 || mark_count() < 2) {
        QWidget::keyPressEvent(event);
        return;
    }
    remove_mark(chosen_);
    chosen_ = -1;
    tell(true);
    update();
}

/// With a mark in hand Delete means the mark, not the step.
bool MarksOnBar::event(QEvent* event) {
    if (chosen_ >= 0 && event->type() == QEvent::ShortcutOverride && is_delete(static_cast<QKeyEvent*>(event))) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

}  // namespace bricol
