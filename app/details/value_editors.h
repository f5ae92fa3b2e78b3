// SPDX-License-Identifier: GPL-3.0-or-later
// Editors for what is more than one number: colours, ramps, gradients, formula rows, lists of points, kits and their
// dials.
#pragma once

#include <QWidget>
#include <functional>

#include "app/document/session.h"

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

/// Linear colour as on a screen, and back.
QColor screen_colour(const DVec3& linear);
DVec3 linear_colour(const QColor& screen);

/// The editor for a parameter of one of these kinds; null for the kinds that have none here. `refresh` is to be called
/// with every new set of values.
QWidget* value_editor(Session& session, const std::string& part, const std::string& step, const ParameterInfo& info,
                      std::function<void(const Values&)>& refresh);

}  // namespace bricol
