// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/graph_view.h"

#include <QApplication>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr double lowest_zoom = 0.08, highest_zoom = 2.5;
constexpr double grip = 7, stub = 14;

double distance_to(const QPointF& p, const QPointF& a, const QPointF& b) {
    const QPointF ab = b - a;
    const double length2 = QPointF::dotProduct(ab, ab);
    const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(p - a, ab) / length2, 0.0, 1.0) : 0;
    const QPointF d = p - (a + ab * t);
    return std::hypot(d.x(), d.y());
}

}  // namespace

QPointF GraphView::Card::input_at(std::size_t i) const {
    const double n = static_cast<double>(inputs.size());
    const double space = std::min(18.0, (rect.height() - 12) / std::max(1.0, n));
    return {rect.left(), rect.center().y() + (static_cast<double>(i) - (n - 1) / 2) * space};
}

QPointF GraphView::Card::output_at() const {
    return numbers_below ? QPointF(rect.center().x(), rect.bottom()) : QPointF(rect.right(), rect.center().y());
}

GraphView::GraphView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAttribute(Qt::WA_OpaquePaintEvent);
}

QPoint GraphView::to_view(const QPointF& p) const { return ((p - origin_) * zoom_).toPoint(); }
QPointF GraphView::to_sheet(const QPointF& p) const { return p / zoom_ + origin_; }

const GraphView::Card* GraphView::card(const std::string& id) const {
    for (const Card& card : cards_)
        if (card.id == id) return &card;
    return nullptr;
}

QPoint GraphView::card_view_at(const std::string& id) const {
    const Card* found = card(id);
    return found ? to_view(found->rect.center() + QPointF(20, -8)) : QPoint();
}

QPoint GraphView::input_view_at(const std::string& id, const std::string& input) const {
    if (const Card* found = card(id))
        for (std::size_t i = 0; i < found->inputs.size(); ++i)
            if (found->inputs[i].key == input) return to_view(found->input_at(i));
    return {};
}

QPoint GraphView::output_view_at(const std::string& id) const {
    const Card* found = card(id);
    return found ? to_view(found->output_at() + QPointF(1, 0)) : QPoint();
}

void GraphView::regather() {
    if (!isVisible()) return;  // taken anew when it is shown: a drag elsewhere does not pay for it
    cards_.clear();
    wires_.clear();
    areas_.clear();
    gather(cards_, wires_, areas_);
    std::erase_if(chosen_, [this](const std::string& id) { return !card(id); });
    if (!fitted_ && !cards_.empty() && width() > 100) fit(false);
    update();
}

QRectF GraphView::bounds(bool chosen_only) const {
    QRectF all;
    for (const Card& c : cards_)
        if (!chosen_only || chosen_.contains(c.id)) all |= c.rect;
    if (!chosen_only)
        for (const Area& a : areas_) all |= a.rect;
    return all.isNull() && chosen_only ? bounds(false) : all;
}

void GraphView::fit(bool chosen_only) {
    const QRectF all = bounds(chosen_only);
    if (all.isEmpty() || width() < 20 || height() < 20) return;
    fitted_ = true;
    follows_ = !chosen_only;
    constexpr double margin = 26;
    zoom_ = std::clamp(std::min((width() - 2 * margin) / all.width(), (height() - 2 * margin) / all.height()),
                       lowest_zoom, 1.0);
    origin_ = all.center() - QPointF(width() / 2.0, height() / 2.0) / zoom_;
    update();
}

void GraphView::set_zoom(double zoom, const QPointF& about) {
    const QPointF held = to_sheet(about);
    follows_ = false;
    zoom_ = std::clamp(zoom, lowest_zoom, highest_zoom);
    origin_ = held - about / zoom_;
    update();
}

void GraphView::zoom_by(double factor, const QPointF& about) { set_zoom(zoom_ * factor, about); }

void GraphView::set_overview(bool on) {
    overview_ = on;
    update();
}

void GraphView::choose_cards(std::set<std::string> ids) {
    if (ids == chosen_) return;
    chosen_ = std::move(ids);
    update();
}

void GraphView::look(const std::string& id) {
    follows_ = false;
    const Card* found = card(id);
    if (!found) return;
    if (zoom_ < 0.6) zoom_ = 0.8;
    origin_ = found->rect.center() - QPointF(width() / 2.0, height() / 2.0) / zoom_;
    update();
}

void GraphView::find() {
    if (find_) {
        find_->setFocus();
        find_->selectAll();
        return;
    }
    find_ = new QLineEdit(this);
    find_->setObjectName("sheetFind");
    find_->setPlaceholderText("find on this sheet…");
    find_->setGeometry(width() - 236, 8, 226, 26);
    find_->show();
    find_->setFocus();
    connect(find_, &QLineEdit::textChanged, this, [this](const QString& text) {
        lit_.clear();
        for (const Card& c : cards_)
            if (!text.trimmed().isEmpty() && found_text(c).contains(text.trimmed(), Qt::CaseInsensitive))
                lit_.insert(c.id);
        update();
    });
    connect(find_, &QLineEdit::returnPressed, this, [this] {
        if (lit_.empty()) return;
        // Each Enter goes on to the next one, in reading order.
        std::vector<const Card*> order;
        for (const Card& c : cards_)
            if (lit_.contains(c.id)) order.push_back(&c);
        std::ranges::sort(order, [](const Card* a, const Card* b) {
            return a->rect.x() != b->rect.x() ? a->rect.x() < b->rect.x() : a->rect.y() < b->rect.y();
        });
        auto at = std::ranges::find(order, primary_, [](const Card* c) { return c->id; });
        const std::string next = at == order.end() || at + 1 == order.end() ? order.front()->id : (*(at + 1))->id;
        primary_ = next;
        chosen_ = {next};
        look(next);
        chosen_changed(next);
    });
}

// ---- What lies where ----

const GraphView::Card* GraphView::card_at(const QPointF& at) const {
    for (auto card = cards_.rbegin(); card != cards_.rend(); ++card)
        if (card->rect.contains(at)) return &*card;
    return nullptr;
}

bool GraphView::notch_at(const QPointF& at, std::string& id, std::string& input, bool& output) const {
    const double reach = grip / std::min(zoom_, 1.0) + 2;
    for (auto card = cards_.rbegin(); card != cards_.rend(); ++card) {
        if (!card->rect.adjusted(-reach, -reach, reach, reach).contains(at)) continue;
        id = card->id;
        if (card->gives && std::hypot(at.x() - card->output_at().x(), at.y() - card->output_at().y()) <= reach) {
            output = true;
            return true;
        }
        output = false;
        double best = reach;
        bool found = false;
        for (std::size_t i = 0; i < card->inputs.size(); ++i) {
            const QPointF d = at - card->input_at(i);
            if (const double away = std::hypot(d.x(), d.y()); away <= best)
                best = away, input = card->inputs[i].key, found = true;
        }
        if (found) return true;
    }
    return false;
}

std::vector<QPointF> GraphView::route(const QPointF& from, const QPointF& to, const std::vector<QPointF>& via,
                                      bool from_below) const {
    std::vector<QPointF> points{from};
    QPointF at = from;
    if (from_below) at += QPointF(0, stub), points.push_back(at);
    const auto towards = [&](const QPointF& next, bool last) {
        if (std::abs(next.y() - at.y()) < 0.5 && next.x() > at.x()) {
            points.push_back(next);
        } else if (next.x() - at.x() >= 2 * stub) {
            const double middle = last ? next.x() - stub : (at.x() + next.x()) / 2;
            points.insert(points.end(), {{middle, at.y()}, {middle, next.y()}, next});
        } else {  // backwards: out, over, and in from the left
            const double between =
                std::abs(next.y() - at.y()) < 60 ? std::max(at.y(), next.y()) + 50 : (at.y() + next.y()) / 2;
            points.insert(points.end(), {{at.x() + stub, at.y()},
                                         {at.x() + stub, between},
                                         {next.x() - stub, between},
                                         {next.x() - stub, next.y()},
                                         next});
        }
        at = next;
    };
    for (const QPointF& pin : via) towards(pin, false);
    towards(to, true);
    return points;
}

std::vector<QPointF> GraphView::route(const Wire& wire) const {
    const Card *from = card(wire.from), *to = card(wire.to);
    if (!from || !to) return {};
    QPointF end(to->rect.left() + 24, to->rect.bottom());
    for (std::size_t i = 0; i < to->inputs.size(); ++i)
        if (to->inputs[i].key == wire.input) end = to->input_at(i);
    if (wire.pen == Pen::number && wire.fixed) {  // numbers come in from below
        const QPointF start = from->output_at();
        const double between = std::max(start.y(), end.y()) + 18;
        return {start, {start.x(), between}, {end.x(), between}, end};
    }
    return route(from->output_at() + QPointF(from->numbers_below ? 0 : 3, 0), end, wire.via, from->numbers_below);
}

std::size_t GraphView::wire_at(const QPointF& at) const {
    const double reach = 5 / std::min(zoom_, 1.0);
    for (std::size_t w = wires_.size(); w-- > 0;) {
        if (wires_[w].fixed) continue;
        const auto points = route(wires_[w]);
        for (std::size_t i = 1; i < points.size(); ++i)
            if (distance_to(at, points[i - 1], points[i]) <= reach) return w;
    }
    return wires_.size();
}

bool GraphView::pin_at(const QPointF& at, std::size_t& wire, std::size_t& pin) const {
    for (std::size_t w = 0; w < wires_.size(); ++w)
        for (std::size_t k = 0; k < wires_[w].via.size(); ++k)
            if (const QPointF d = at - wires_[w].via[k]; std::hypot(d.x(), d.y()) <= grip / std::min(zoom_, 1.0)) {
                wire = w, pin = k;
                return true;
            }
    return false;
}

std::size_t GraphView::area_at(const QPointF& at, bool& corner_grip) const {
    for (std::size_t a = areas_.size(); a-- > 0;) {
        const QRectF& r = areas_[a].rect;
        corner_grip = QRectF(r.right() - 14, r.bottom() - 14, 18, 18).contains(at);
        if (corner_grip || QRectF(r.left(), r.top(), r.width(), 24).contains(at)) return a;
    }
    return no_place;
}

// ---- Painting ----

void GraphView::resizeEvent(QResizeEvent*) {
    if (!fitted_)
        regather();
    else if (follows_)
        fit(false);
    if (find_) find_->move(width() - 236, 8);
}

// ---- Hands ----

void GraphView::showEvent(QShowEvent*) { regather(); }

void GraphView::leaveEvent(QEvent*) { unsetCursor(); }

}  // namespace bricol
