// SPDX-License-Identifier: GPL-3.0-or-later
// The widget that draws a ramp.
#pragma once

#include "app/kinds/marks_on_bar.h"
#include "core/kernels/ramp.h"

namespace bricol {

/// A drawn curve over 0..1 whose marks are its knots.
class RampEdit : public MarksOnBar {
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
    QRectF field() const override;
    int mark_count() const override { return static_cast<int>(ramp_.knots.size()); }
    QPointF mark_at(int mark) const override { return at(ramp_.knots[static_cast<std::size_t>(mark)]); }
    bool catches(const QPointF& away) const override { return std::hypot(away.x(), away.y()) < 8; }
    void drag_mark(int mark, const QPointF& to) override;
    int add_mark(const QPointF& at) override;
    void remove_mark(int mark) override { ramp_.knots.erase(ramp_.knots.begin() + mark); }
    void tell(bool done) override { emit changed(ramp_, done); }

private:
    double value_at(const QPointF& p) const;

    DrawnRamp ramp_;
    double high_ = 1;
};

}  // namespace bricol
