// SPDX-License-Identifier: GPL-3.0-or-later
// A dial's slider: a value in a range, moved by mouse, wheel and keys.
#pragma once

#include <QWidget>

namespace bricol {

class Slider : public QWidget {
    Q_OBJECT
public:
    explicit Slider(QWidget* parent = nullptr);
    void set_range(double low, double high, double step);
    void show_value(double value);
    /// Pixel of the handle's middle.
    int handle_x() const;

signals:
    void moved(double value, bool moving);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void give_at(double x, bool moving);
    double low_ = 0, high_ = 1, step_ = 0.01, value_ = 0;
    bool pressed_ = false;
};

}  // namespace bricol
