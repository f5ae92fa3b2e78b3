// SPDX-License-Identifier: GPL-3.0-or-later
// A widget with marks along 0..1 that are dragged, added and taken away.
#pragma once

#include <QWidget>
#include <algorithm>
#include <cmath>

namespace bricol {

/// To three digits, as recipes are written.
inline double to_thousandths(double v) { return std::round(v * 1000) / 1000; }

/// A mark is chosen by a press and dragged between its neighbours; a double click adds one, Del takes the chosen one
/// away unless it is the last. What a mark is, and how it looks, is said by who derives from it.
class MarksOnBar : public QWidget {
    Q_OBJECT
public:
    explicit MarksOnBar(QWidget* parent);

protected:
    /// Pixels that stand for 0 and 1.
    virtual QRectF field() const = 0;
    virtual int mark_count() const = 0;
    virtual QPointF mark_at(int mark) const = 0;
    /// How near a pixel must be to hold the mark there.
    virtual bool catches(const QPointF& away) const = 0;
    virtual void drag_mark(int mark, const QPointF& to) = 0;
    virtual int add_mark(const QPointF& at) = 0;
    virtual void remove_mark(int mark) = 0;
    /// A double click on a mark.
    virtual void open_mark(int) {}
    /// Tells what was changed; `done` when the hand has let go.
    virtual void tell(bool done) = 0;

    int chosen() const { return chosen_; }
    bool dragging() const { return dragging_; }
    /// After marks came from outside.
    void marks_came();
    double share_at(const QPointF& p) const { return std::clamp((p.x() - field().left()) / field().width(), 0.0, 1.0); }

    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    int mark_under(const QPointF& p) const;

    int chosen_ = -1;
    bool dragging_ = false;
};

/// Where mark `k` may go: between its neighbours.
template <class Marks>
double between_neighbours(const Marks& marks, std::size_t k, double share) {
    const double low = k > 0 ? marks[k - 1].at + 0.001 : 0, high = k + 1 < marks.size() ? marks[k + 1].at - 0.001 : 1;
    return to_thousandths(std::clamp(share, low, std::max(low, high)));
}

/// Puts a mark in its place among the others; its number.
template <class Marks>
int put_in_order(Marks& marks, const typename Marks::value_type& fresh) {
    const auto place = std::ranges::find_if(marks, [&](const auto& mark) { return mark.at > fresh.at; });
    const auto number = place - marks.begin();
    marks.insert(place, fresh);
    return static_cast<int>(number);
}

}  // namespace bricol
