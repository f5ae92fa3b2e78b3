// SPDX-License-Identifier: GPL-3.0-or-later
// The widget that draws a ramp.
#pragma once

#include <QWidget>

#include "core/kernels/ramp.h"

namespace bricol {

/// A drawn curve over 0..1: knots are dragged, a double click adds one, Del takes the chosen one away.
class RampEdit : public QWidget {
    Q_OBJECT
public:
    explicit RampEdit(QWidget* parent = nullptr);
    void show_ramp(const DrawnRamp& ramp);
    const DrawnRamp& ramp() const { return ramp_; }
    QPointF at(const RampKnot& knot) const;

signals:
    void changed(const bricol::DrawnRamp& ramp, bool done);

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
    int knot_at(const QPointF& p) const;
    DrawnRamp ramp_;
    int chosen_ = -1;
    bool dragging_ = false;
    double high_ = 1;
};

}  // namespace bricol
