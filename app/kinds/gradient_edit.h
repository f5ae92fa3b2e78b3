// SPDX-License-Identifier: GPL-3.0-or-later
// The widget that draws a gradient.
#pragma once

#include <QWidget>

#include "core/kernels/ramp.h"

namespace bricol {

/// A bar of colours: stops are dragged along it, a double click adds one or opens the colour of the one below it.
class GradientEdit : public QWidget {
    Q_OBJECT
public:
    explicit GradientEdit(QWidget* parent = nullptr);
    void show_gradient(const Gradient& gradient);
    const Gradient& gradient() const { return gradient_; }
    QPointF at(const GradientStop& stop) const;
    /// Colour of the chosen stop, linear.
    void set_colour(const DVec3& colour);

signals:
    void changed(const bricol::Gradient& gradient, bool done);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    QRectF field() const;
    int stop_at(const QPointF& p) const;
    Gradient gradient_;
    int chosen_ = -1;
    bool dragging_ = false;
};

}  // namespace bricol
