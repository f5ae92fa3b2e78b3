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

constexpr double lowest_zoom = 0.08, highest_zoom = 2.5, far_out = 0.35;
constexpr double grip = 7, corner = 7, stub = 14;
constexpr std::size_t none = static_cast<std::size_t>(-1);

double distance_to(const QPointF& p, const QPointF& a, const QPointF& b) {
    const QPointF ab = b - a;
    const double length2 = QPointF::dotProduct(ab, ab);
    const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(p - a, ab) / length2, 0.0, 1.0) : 0;
    const QPointF d = p - (a + ab * t);
    return std::hypot(d.x(), d.y());
}

bool cross(const QPointF& a, const QPointF& b, const QPointF& c, const QPointF& d) {
    const auto side = [](const QPointF& p, const QPointF& q, const QPointF& r) { return (q.x() - p.x()) * (r.y() - p.y()) - (q.y() - p.y()) * (r.x() - p.x()); };
    return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/// A line of right angles with its corners rounded.
QPainterPath rounded(const std::vector<QPointF>& points) {
    QPainterPath path(points.front());
    for (std::size_t i = 1; i + 1 < points.size(); ++i) {
        const QPointF in = points[i] - points[i - 1], out = points[i + 1] - points[i];
        const double a = std::hypot(in.x(), in.y()), b = std::hypot(out.x(), out.y()), r = std::min({corner, a / 2, b / 2});
        if (r < 0.5) {
            path.lineTo(points[i]);
            continue;
        }
        path.lineTo(points[i] - in * (r / a));
        path.quadTo(points[i], points[i] + out * (r / b));
    }
    path.lineTo(points.back());
    return path;
}

}  // namespace

QPointF GraphView::Card::input_at(std::size_t i) const {
    const double n = static_cast<double>(inputs.size());
    const double space = std::min(18.0, (rect.height() - 12) / std::max(1.0, n));
    return {rect.left(), rect.center().y() + (static_cast<double>(i) - (n - 1) / 2) * space};
}

QPointF GraphView::Card::output_at() const { return numbers_below ? QPointF(rect.center().x(), rect.bottom()) : QPointF(rect.right(), rect.center().y()); }

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
    zoom_ = std::clamp(std::min((width() - 2 * margin) / all.width(), (height() - 2 * margin) / all.height()), lowest_zoom, 1.0);
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
            if (!text.trimmed().isEmpty() && found_text(c).contains(text.trimmed(), Qt::CaseInsensitive)) lit_.insert(c.id);
        update();
    });
    connect(find_, &QLineEdit::returnPressed, this, [this] {
        if (lit_.empty()) return;
        // Each Enter goes on to the next one, in reading order.
        std::vector<const Card*> order;
        for (const Card& c : cards_)
            if (lit_.contains(c.id)) order.push_back(&c);
        std::ranges::sort(order, [](const Card* a, const Card* b) { return a->rect.x() != b->rect.x() ? a->rect.x() < b->rect.x() : a->rect.y() < b->rect.y(); });
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
            if (const double away = std::hypot(d.x(), d.y()); away <= best) best = away, input = card->inputs[i].key, found = true;
        }
        if (found) return true;
    }
    return false;
}

std::vector<QPointF> GraphView::route(const QPointF& from, const QPointF& to, const std::vector<QPointF>& via, bool from_below) const {
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
            const double between = std::abs(next.y() - at.y()) < 60 ? std::max(at.y(), next.y()) + 50 : (at.y() + next.y()) / 2;
            points.insert(points.end(), {{at.x() + stub, at.y()}, {at.x() + stub, between}, {next.x() - stub, between}, {next.x() - stub, next.y()}, next});
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
    return none;
}

// ---- Painting ----

void GraphView::paint_wire(QPainter& painter, const Wire& wire, bool lit) const {
    const auto points = route(wire);
    if (points.size() < 2) return;
    QRectF reach;
    for (const QPointF& p : points) reach |= QRectF(p - QPointF(1, 1), QSizeF(2, 2));
    if (!reach.intersects(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_))) return;
    const bool far = zoom_ < far_out;
    QPen pen(theme::color(lit ? theme::Role::chosen : theme::Role::ink), far ? 1 : 1.4 / zoom_ * std::min(zoom_, 1.0));
    pen.setCosmetic(far);
    pen.setCapStyle(Qt::FlatCap);
    switch (wire.pen) {
        case Pen::curves: pen.setDashPattern({4, 3}); break;
        case Pen::points: pen.setDashPattern({1, 3}), pen.setCapStyle(Qt::RoundCap); break;
        case Pen::number:
            pen.setWidthF(far ? 1 : 0.8);
            if (!lit) pen.setColor(theme::color(theme::Role::soft_ink));
            break;
        default: break;
    }
    painter.setBrush(Qt::NoBrush);
    if (far) {
        painter.setPen(pen);
        painter.drawPolyline(points.data(), static_cast<int>(points.size()));
        return;
    }
    const QPainterPath path = rounded(points);
    if (wire.pen == Pen::instances) {  // a double line: wide in ink, then its middle taken out
        pen.setWidthF(4);
        painter.strokePath(path, pen);
        painter.strokePath(path, QPen(theme::color(theme::Role::panel), 2));
    } else {
        painter.strokePath(path, pen);
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(theme::Role::ink));
    for (const QPointF& pin : wire.via) painter.drawEllipse(pin, 3.5, 3.5);
}

QRect GraphView::overview_rect() const { return {width() - 158, height() - 104, 148, 94}; }

void GraphView::paint_overview(QPainter& painter) const {
    const QRectF all = bounds(false).united(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_)).adjusted(-20, -20, 20, 20);
    const QRect box = overview_rect();
    const double scale = std::min(box.width() / all.width(), box.height() / all.height());
    painter.save();
    painter.setPen(QPen(theme::color(theme::Role::line), 1));
    QColor ground = theme::color(theme::Role::card);
    ground.setAlpha(235);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 3, 3);
    painter.setClipRect(box.adjusted(1, 1, -1, -1));
    painter.translate(box.center());
    painter.scale(scale, scale);
    painter.translate(-all.center());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(theme::Role::grid));
    for (const Area& a : areas_) painter.drawRect(a.rect);
    for (const Card& c : cards_) {
        painter.setBrush(theme::color(chosen_.contains(c.id) ? theme::Role::chosen : theme::Role::soft_ink));
        painter.drawRect(c.rect);
    }
    QPen pen(theme::color(theme::Role::act), 1.4);
    pen.setCosmetic(true);
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_));
    painter.restore();
}

void GraphView::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.fillRect(rect(), theme::color(Role::panel));
    if (cards_.empty()) {
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(rect(), Qt::AlignCenter, empty_text());
    }
    const bool far = zoom_ < far_out;
    painter.setRenderHint(QPainter::Antialiasing, !far);
    painter.save();
    painter.scale(zoom_, zoom_);
    painter.translate(-origin_);
    const QRectF seen(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_);
    if (zoom_ > 0.5) {  // a faint raster of points to judge alignment by
        painter.setPen(QPen(theme::color(Role::line), 1 / zoom_));
        constexpr double raster = 48;
        for (double y = std::floor(seen.top() / raster) * raster; y < seen.bottom(); y += raster)
            for (double x = std::floor(seen.left() / raster) * raster; x < seen.right(); x += raster) painter.drawPoint(QPointF(x, y));
    }
    for (const Area& a : areas_) {
        QColor ground = theme::color(Role::desk);
        ground.setAlpha(130);
        painter.setPen(QPen(theme::color(Role::line), 1 / zoom_));
        painter.setBrush(ground);
        painter.drawRoundedRect(a.rect, 4, 4);
        painter.setPen(theme::color(Role::soft_ink));
        painter.setFont(theme::text_font(9, 600));
        if (zoom_ > 0.2) painter.drawText(a.rect.adjusted(10, 5, -10, 0), Qt::AlignTop | Qt::AlignLeft, a.title);
        painter.drawLine(a.rect.bottomRight() + QPointF(-10, -3), a.rect.bottomRight() + QPointF(-3, -10));
    }
    for (const Wire& wire : wires_) {
        if (act_ == Act::wire && !pull_forward_ && wire.to == pull_to_ && wire.input == pull_input_) continue;
        paint_wire(painter, wire, !wire.fixed && chosen_.contains(wire.from) && chosen_.contains(wire.to) && chosen_.size() < cards_.size());
    }
    for (const Card& c : cards_) {
        if (!seen.intersects(c.rect.adjusted(-10, -20, 10, 10))) continue;
        const bool lit = lit_.contains(c.id);
        if (lit) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme::color(Role::act_soft));
            painter.drawRoundedRect(c.rect.adjusted(-7, -7, 7, 7), 8, 8);
        }
        if (far) {
            painter.setPen(QPen(theme::color(chosen_.contains(c.id) ? Role::chosen : Role::soft_ink), 1 / zoom_));
            painter.setBrush(theme::color(lit ? Role::act_soft : Role::card));
            painter.drawRect(c.rect);
            continue;
        }
        paint_card(painter, c, chosen_.contains(c.id), zoom_);
        painter.setPen(QPen(theme::color(Role::ink), 1));
        for (std::size_t i = 0; i < c.inputs.size(); ++i) {
            painter.setBrush(theme::color(c.inputs[i].linked ? Role::ink : Role::desk));
            painter.drawPie(QRectF(c.input_at(i) - QPointF(4, 4), QSizeF(8, 8)), -90 * 16, 180 * 16);
        }
        if (c.gives) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme::color(chosen_.contains(c.id) ? Role::chosen : Role::ink));
            painter.drawRect(c.numbers_below ? QRectF(c.output_at() - QPointF(4, 0), QSizeF(9, 3)) : QRectF(c.output_at() - QPointF(0, 4), QSizeF(3, 9)));
        }
    }
    if (act_ == Act::wire) {
        const Card *from = card(pull_from_), *to = card(pull_to_);
        QPen pen(theme::color(refusal_.empty() ? Role::act : Role::error), 1.6);
        painter.setBrush(Qt::NoBrush);
        if (pull_forward_ && from) painter.strokePath(rounded(route(from->output_at(), pointer_, {}, from->numbers_below)), pen);
        if (!pull_forward_ && to) {
            QPointF end = to->rect.center();
            for (std::size_t i = 0; i < to->inputs.size(); ++i)
                if (to->inputs[i].key == pull_input_) end = to->input_at(i);
            painter.strokePath(rounded(route(pointer_, end, {}, false)), pen);
        }
    }
    if (act_ == Act::stroke && stroke_.size() > 1) {
        painter.setPen(QPen(theme::color(Role::error), 1.6 / zoom_, Qt::DashLine));
        painter.drawPolyline(stroke_.data(), static_cast<int>(stroke_.size()));
    }
    if (act_ == Act::band) {
        QColor ground = theme::color(Role::chosen);
        ground.setAlpha(28);
        painter.setPen(QPen(theme::color(Role::chosen), 1 / zoom_));
        painter.setBrush(ground);
        painter.drawRect(QRectF(press_, band_to_).normalized());
    }
    painter.restore();
    painter.setRenderHint(QPainter::Antialiasing, true);
    if (act_ == Act::wire && !refusal_.empty()) {
        const QString text = QString::fromStdString(refusal_);
        painter.setFont(theme::text_font(9));
        const QRect box = painter.fontMetrics().boundingRect(text).adjusted(-8, -4, 8, 4).translated(to_view(pointer_) + QPoint(16, 26));
        painter.setPen(QPen(theme::color(Role::error), 1));
        painter.setBrush(theme::color(Role::card));
        painter.drawRoundedRect(box, 3, 3);
        painter.setPen(theme::color(Role::error));
        painter.drawText(box, Qt::AlignCenter, text);
    }
    if (overview_ && !cards_.empty() && width() > 420 && height() > 130) paint_overview(painter);
    if (const QString text = legend(); !text.isEmpty() && !cards_.empty()) {
        painter.setFont(theme::text_font(8));
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(QRect(10, height() - 20, width() - 190, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme::color(Role::act), 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

void GraphView::resizeEvent(QResizeEvent*) {
    if (!fitted_) regather();
    else if (follows_) fit(false);
    if (find_) find_->move(width() - 236, 8);
}

// ---- Hands ----

void GraphView::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    press_view_ = event->position();
    press_ = pointer_ = to_sheet(event->position());
    moved_ = false;
    QToolTip::hideText();
    if (event->button() == Qt::MiddleButton) {
        act_ = Act::pan;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() == Qt::RightButton) {
        act_ = Act::stroke;
        stroke_ = {press_};
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    if (overview_ && overview_rect().contains(event->pos()) && width() > 420 && height() > 130) {
        act_ = Act::overview;
        mouseMoveEvent(event);
        return;
    }
    std::string id, input;
    bool output = false;
    if (zoom_ >= far_out && notch_at(press_, id, input, output)) {
        refusal_.clear();
        act_ = Act::wire;
        if (output) {
            pull_from_ = id, pull_to_.clear(), pull_input_.clear();
            pull_forward_ = true;
            return;
        }
        // A linked notch gives its wire away to be put elsewhere; an empty one is pulled back to a source.
        for (const Wire& wire : wires_)
            if (wire.to == id && wire.input == input && !wire.fixed) {
                pull_from_ = wire.from, pull_to_ = id, pull_input_ = input;
                pull_forward_ = true;
                return;
            }
        pull_from_.clear(), pull_to_ = id, pull_input_ = input;
        pull_forward_ = false;
        return;
    }
    if (pin_at(press_, act_index_, act_pin_)) {
        act_ = Act::pin;
        return;
    }
    if (const Card* hit = card_at(press_)) {
        const std::string hit_id = hit->id;
        if (event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) {
            if (!chosen_.erase(hit_id)) chosen_.insert(hit_id), primary_ = hit_id;
        } else {
            if (!chosen_.contains(hit_id)) chosen_ = {hit_id};
            primary_ = hit_id;
        }
        move_from_.clear();
        for (const std::string& chosen : chosen_)
            if (const Card* c = card(chosen)) move_from_[chosen] = c->rect.topLeft();
        act_ = Act::move;
        if (!primary_.empty() && chosen_.contains(primary_)) chosen_changed(primary_);
        update();
        return;
    }
    bool at_corner = false;
    if (const std::size_t a = area_at(press_, at_corner); a != none) {
        act_ = at_corner ? Act::area_size : Act::area_move;
        act_index_ = a;
        area_before_ = areas_[a];
        move_from_.clear();
        if (!at_corner)
            for (const Card& c : cards_)
                if (area_before_.rect.contains(c.rect)) move_from_[c.id] = c.rect.topLeft();
        return;
    }
    act_ = Act::band;
    band_to_ = press_;
    if (!(event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier))) chosen_.clear();
    update();
}

void GraphView::mouseMoveEvent(QMouseEvent* event) {
    pointer_ = to_sheet(event->position());
    if (act_ == Act::none) {
        std::string id, input;
        bool output = false, at_corner = false;
        std::size_t a = 0, b = 0;
        setCursor(zoom_ >= far_out && notch_at(pointer_, id, input, output) ? Qt::CrossCursor : pin_at(pointer_, a, b) ? Qt::SizeAllCursor : !card_at(pointer_) && area_at(pointer_, at_corner) != none ? (at_corner ? Qt::SizeFDiagCursor : Qt::SizeAllCursor) : Qt::ArrowCursor);
        return;
    }
    if (!moved_ && (event->position() - press_view_).manhattanLength() < QApplication::startDragDistance() && act_ != Act::overview) return;
    moved_ = true;
    const QPointF by = pointer_ - press_;
    switch (act_) {
        case Act::pan:
            origin_ -= by;
            follows_ = false;
            break;  // the sheet stays under the hand, so the press place is where it was
        case Act::band: {
            band_to_ = pointer_;
            break;
        }
        case Act::move:
            for (Card& c : cards_)
                if (const auto from = move_from_.find(c.id); from != move_from_.end()) c.rect.moveTopLeft(from->second + by);
            break;
        case Act::wire: {
            refusal_.clear();
            std::string id, input;
            bool output = false;
            if (notch_at(pointer_, id, input, output)) {
                if (pull_forward_ && !output) refusal_ = why_not_link(pull_from_, id, input).toStdString();
                if (!pull_forward_ && output) refusal_ = why_not_link(id, pull_to_, pull_input_).toStdString();
            }
            break;
        }
        case Act::stroke: stroke_.push_back(pointer_); break;
        case Act::pin: wires_[act_index_].via[act_pin_] = pointer_; break;
        case Act::area_move:
            areas_[act_index_].rect = area_before_.rect.translated(by);
            for (Card& c : cards_)
                if (const auto from = move_from_.find(c.id); from != move_from_.end()) c.rect.moveTopLeft(from->second + by);
            break;
        case Act::area_size: {
            QRectF r = area_before_.rect;
            r.setBottomRight(QPointF(std::max(r.left() + 80, r.right() + by.x()), std::max(r.top() + 60, r.bottom() + by.y())));
            areas_[act_index_].rect = r;
            break;
        }
        case Act::overview: {
            const QRectF all = bounds(false).united(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_)).adjusted(-20, -20, 20, 20);
            const QRect box = overview_rect();
            const double scale = std::min(box.width() / all.width(), box.height() / all.height());
            const QPointF there = all.center() + (event->position() - QPointF(box.center())) / scale;
            origin_ = there - QPointF(width() / 2.0, height() / 2.0) / zoom_;
            break;
        }
        case Act::none: break;
    }
    update();
}

void GraphView::finish_wire(const QPointF& at, const QPoint& global) {
    std::string id, input;
    bool output = false;
    const bool on_notch = notch_at(at, id, input, output);
    if (!pull_forward_) {
        if (const Card* source = on_notch && output ? card(id) : card_at(at)) link(source->id, pull_to_, pull_input_);
        return;
    }
    if (on_notch && output && id == pull_from_) return;
    if (const Card* onto = on_notch ? card(id) : card_at(at); onto && onto->id != pull_from_ && dropped_on_card(pull_from_, std::string(onto->id), global)) return;
    const bool moving = !pull_to_.empty();
    if (on_notch && !output) {
        if (moving && id == pull_to_ && input == pull_input_) return;
        const std::string from = pull_from_, old_to = pull_to_, old_input = pull_input_;
        if (!why_not_link(from, id, input).isEmpty()) {
            link(from, id, input);  // says why it is refused
            return;
        }
        if (moving) cut({{old_to, old_input}});
        link(from, id, input);
        return;
    }
    if (const Card* onto = card_at(at)) {  // on the card itself: its first input that is free and can take it
        for (const bool free_only : {true, false})
            for (const Notch& notch : onto->inputs)
                if ((!free_only || !notch.linked) && why_not_link(pull_from_, onto->id, notch.key).isEmpty()) {
                    link(pull_from_, std::string(onto->id), std::string(notch.key));
                    return;
                }
        if (!onto->inputs.empty()) link(pull_from_, std::string(onto->id), std::string(onto->inputs.front().key));
        return;
    }
    if (moving) cut({{pull_to_, pull_input_}});
    else pulled_into_open(pull_from_, at, global);
}

void GraphView::cut_with_stroke() {
    std::vector<std::pair<std::string, std::string>> cuts;
    for (const Wire& wire : wires_) {
        if (wire.fixed) continue;
        const auto points = route(wire);
        bool crossed = false;
        for (std::size_t i = 1; !crossed && i < points.size(); ++i)
            for (std::size_t k = 1; !crossed && k < stroke_.size(); ++k) crossed = cross(points[i - 1], points[i], stroke_[k - 1], stroke_[k]);
        if (crossed) cuts.emplace_back(wire.to, wire.input);
    }
    if (!cuts.empty()) cut(cuts);
}

void GraphView::mouseReleaseEvent(QMouseEvent* event) {
    pointer_ = to_sheet(event->position());
    const Act act = act_;
    act_ = Act::none;
    unsetCursor();
    switch (act) {
        case Act::band:
            if (moved_) {
                const QRectF band = QRectF(press_, pointer_).normalized();
                for (const Card& c : cards_)
                    if (band.intersects(c.rect)) chosen_.insert(c.id), primary_ = c.id;
                if (!chosen_.empty()) chosen_changed(primary_);
            }
            break;
        case Act::move:
            if (moved_) {
                const QPointF by = pointer_ - press_;
                std::map<std::string, QPointF> places;
                for (const auto& [id, from] : move_from_) places[id] = from + by;
                if (places.size() == 1) {
                    const std::string id = places.begin()->first;
                    const Card* c = card(id);
                    if (const std::size_t w = c ? wire_at(c->rect.center()) : wires_.size(); w < wires_.size() && wires_[w].from != id && wires_[w].to != id) {
                        const Wire wire = wires_[w];
                        moved(places);
                        dropped_on_wire(id, wire);
                        break;
                    }
                }
                moved(places);
            } else if (!(event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) && chosen_.size() > 1) {
                chosen_ = {primary_};
            }
            break;
        case Act::wire: finish_wire(pointer_, event->globalPosition().toPoint()); break;
        case Act::stroke:
            if (moved_) {
                cut_with_stroke();
            } else {
                const Card* hit = card_at(pointer_);
                if (hit && !chosen_.contains(hit->id)) chosen_ = {hit->id}, primary_ = hit->id, chosen_changed(primary_);
                menu(hit ? hit->id : "", pointer_, event->globalPosition().toPoint());
            }
            break;
        case Act::pin:
            if (moved_ && act_index_ < wires_.size()) {
                const Wire wire = wires_[act_index_];
                pins_changed(wire.to, wire.input, wire.via);
            }
            break;
        case Act::area_move:
        case Act::area_size:
            if (moved_ && act_index_ < areas_.size()) {
                std::map<std::string, QPointF> places;
                if (act == Act::area_move)
                    for (const auto& [id, from] : move_from_) places[id] = from + (pointer_ - press_);
                area_changed(act_index_, areas_[act_index_], places);
            }
            break;
        default: break;
    }
    update();
}

void GraphView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const QPointF at = to_sheet(event->position());
    std::size_t wire = 0, pin = 0;
    if (pin_at(at, wire, pin)) {
        auto via = wires_[wire].via;
        via.erase(via.begin() + static_cast<std::ptrdiff_t>(pin));
        pins_changed(wires_[wire].to, wires_[wire].input, via);
        return;
    }
    if (const Card* hit = card_at(at)) {
        opened(hit->id);
        return;
    }
    if (const std::size_t w = wire_at(at); w < wires_.size()) {
        // The new pin goes between those before and behind it along the wire.
        auto via = wires_[w].via;
        const auto place = std::ranges::find_if(via, [&](const QPointF& p) { return p.x() > at.x(); });
        via.insert(place, at);
        pins_changed(wires_[w].to, wires_[w].input, via);
        return;
    }
    bool at_corner = false;
    if (const std::size_t a = area_at(at, at_corner); a != none && !at_corner) {
        area_rename(a);
        return;
    }
    open_double_clicked(at, event->globalPosition().toPoint());
}

void GraphView::wheelEvent(QWheelEvent* event) {
    const double notches = event->angleDelta().y() / 120.0;
    if (event->modifiers() & Qt::ShiftModifier) {
        origin_ -= QPointF(notches * 60 / zoom_, 0);
        update();
    } else {
        set_zoom(zoom_ * std::pow(1.18, notches), event->position());
    }
    event->accept();
}

void GraphView::keyPressEvent(QKeyEvent* event) {
    const double step = 40 / zoom_;
    switch (event->key()) {
        case Qt::Key_Plus:
        case Qt::Key_Equal: zoom_by(1.18, QPointF(width() / 2.0, height() / 2.0)); return;
        case Qt::Key_Minus: zoom_by(1 / 1.18, QPointF(width() / 2.0, height() / 2.0)); return;
        case Qt::Key_O: set_overview(!overview_); return;
        case Qt::Key_Escape:
            if (find_) {
                find_->deleteLater();
                find_ = nullptr;
                lit_.clear();
            } else if (act_ != Act::none) {
                act_ = Act::none;
                unsetCursor();
                regather();
            } else if (!chosen_.empty()) {
                chosen_.clear();
            }
            update();
            return;
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down: {
            if (event->modifiers() & Qt::ControlModifier) {
                origin_ += QPointF(event->key() == Qt::Key_Left ? -step : event->key() == Qt::Key_Right ? step : 0, event->key() == Qt::Key_Up ? -step : event->key() == Qt::Key_Down ? step : 0);
                update();
                return;
            }
            // The nearest card that way.
            const Card* here = card(primary_);
            if (!here && !cards_.empty()) here = &cards_.front();
            if (!here) return;
            const QPointF way = event->key() == Qt::Key_Left ? QPointF(-1, 0) : event->key() == Qt::Key_Right ? QPointF(1, 0) : event->key() == Qt::Key_Up ? QPointF(0, -1) : QPointF(0, 1);
            const Card* best = nullptr;
            double least = 1e18;
            for (const Card& c : cards_) {
                const QPointF d = c.rect.center() - here->rect.center();
                const double along = QPointF::dotProduct(d, way), aside = std::abs(d.x() * way.y() - d.y() * way.x());
                if (along < 10) continue;
                if (const double cost = along + 3 * aside; cost < least) least = cost, best = &c;
            }
            if (best) {
                primary_ = best->id;
                chosen_ = {primary_};
                const std::string id = primary_;
                if (!QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_).contains(best->rect)) look(id);
                chosen_changed(id);
            }
            update();
            return;
        }
        case Qt::Key_Menu:
            if (const Card* here = card(primary_)) menu(primary_, here->rect.center(), mapToGlobal(to_view(here->rect.center())));
            return;
        case Qt::Key_Return:
            if (!primary_.empty()) opened(primary_);
            return;
        default: QWidget::keyPressEvent(event);
    }
}

bool GraphView::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const QPointF at = to_sheet(help->pos());
        std::string id, input;
        bool output = false;
        if (zoom_ >= far_out && notch_at(at, id, input, output) && !output) {
            for (const Notch& notch : card(id)->inputs)
                if (notch.key == input) QToolTip::showText(help->globalPos(), notch.label, this);
        } else if (const Card* hit = card_at(at)) {
            QToolTip::showText(help->globalPos(), hover_text(*hit), this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QWidget::event(event);
}

void GraphView::showEvent(QShowEvent*) { regather(); }

void GraphView::leaveEvent(QEvent*) { unsetCursor(); }

}  // namespace bricol
