// SPDX-License-Identifier: GPL-3.0-or-later
// The widget that draws a gradient.
#pragma once

#include "app/kinds/marks_on_bar.h"
#include "core/kernels/ramp.h"

namespace bricol {

/// A bar of colours whose marks are its stops; a double click on one opens its colour.
class GradientEdit : public MarksOnBar {
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
    QRectF field() const override;
    int mark_count() const override { return static_cast<int>(gradient_.stops.size()); }
    QPointF mark_at(int mark) const override { return at(gradient_.stops[static_cast<std::size_t>(mark)]); }
    bool catches(const QPointF& away) const override { return std::abs(away.x()) < 7 && std::abs(away.y()) < 10; }
    void drag_mark(int mark, const QPointF& to) override;
    int add_mark(const QPointF& at) override;
    void remove_mark(int mark) override { gradient_.stops.erase(gradient_.stops.begin() + mark); }
    void open_mark(int mark) override;
    void tell(bool done) override { emit changed(gradient_, done); }

private:
    Gradient gradient_;
};

}  // namespace bricol
