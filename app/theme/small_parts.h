// SPDX-License-Identifier: GPL-3.0-or-later
// The small parts every panel is put together from. The style sheet knows them by these object names and no others.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>

namespace bricol {

/// The words a panel or a group begins with. Words too long for the panel are shortened in sight and whole in the
/// tooltip.
class HeadLabel : public QLabel {
    Q_OBJECT
public:
    explicit HeadLabel(const QString& text, QWidget* parent = nullptr);
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
    bool event(QEvent* event) override;
};

/// Quiet words beside or under what matters.
QLabel* soft_label(const QString& text, QWidget* parent = nullptr);
/// The same over as many lines as they need: hints, and panels with nothing in them yet.
QLabel* soft_lines(const QString& text, QWidget* parent = nullptr);
/// A button that is a glyph without a frame, at the end of a line or of a panel's head.
QToolButton* quiet_button(const QString& tip, QSize size, QWidget* parent = nullptr);
/// A button that reads as a word in a line.
QPushButton* link_button(const QString& text, QWidget* parent = nullptr);

/// Shows another widget in a scroll area. The one before is heard no more and goes when control is back in the event
/// loop: a button or a menu of its own may be what asked, and is still at work when this returns.
void exchange_widget(QScrollArea& area, QWidget* widget);

}  // namespace bricol
