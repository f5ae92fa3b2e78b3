// SPDX-License-Identifier: GPL-3.0-or-later
// What mouse and keys do on the sheet.
#include <QApplication>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/sheet/graph_view.h"

#include "app/theme/theme.h"

namespace bricol {

namespace {

bool cross(const QPointF& a, const QPointF& b, const QPointF& c, const QPointF& d) {
    const auto side = [](const QPointF& p, const QPointF& q, const QPointF& r) {
        return (q.x() - p.x()) * (r.y() - p.y()) - (q.y() - p.y()) * (r.x() - p.x());
    };
    return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

}  // namespace

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
    if (const std::size_t a = area_at(press_, at_corner); a != no_place) {
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
        setCursor(zoom_ >= far_out && notch_at(pointer_, id, input, output) ? Qt::CrossCursor
                  : pin_at(pointer_, a, b)                                  ? Qt::SizeAllCursor
                  : !card_at(pointer_) && area_at(pointer_, at_corner) != no_place
                      ? (at_corner ? Qt::SizeFDiagCursor : Qt::SizeAllCursor)
                      : Qt::ArrowCursor);
        return;
    }
    if (!moved_ && (event->position() - press_view_).manhattanLength() < QApplication::startDragDistance() &&
        act_ != Act::overview)
        return;
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
                if (const auto from = move_from_.find(c.id); from != move_from_.end())
                    c.rect.moveTopLeft(from->second + by);
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
        case Act::stroke:
            stroke_.push_back(pointer_);
            break;
        case Act::pin:
            wires_[act_index_].via[act_pin_] = pointer_;
            break;
        case Act::area_move:
            areas_[act_index_].rect = area_before_.rect.translated(by);
            for (Card& c : cards_)
                if (const auto from = move_from_.find(c.id); from != move_from_.end())
                    c.rect.moveTopLeft(from->second + by);
            break;
        case Act::area_size: {
            QRectF r = area_before_.rect;
            r.setBottomRight(
                QPointF(std::max(r.left() + 80, r.right() + by.x()), std::max(r.top() + 60, r.bottom() + by.y())));
            areas_[act_index_].rect = r;
            break;
        }
        case Act::overview: {
            const QRectF all = bounds(false)
                                   .united(QRectF(to_sheet({0, 0}), QSizeF(width(), height()) / zoom_))
                                   .adjusted(-20, -20, 20, 20);
            const QRect box = overview_rect();
            const double scale = std::min(box.width() / all.width(), box.height() / all.height());
            const QPointF there = all.center() + (event->position() - QPointF(box.center())) / scale;
            origin_ = there - QPointF(width() / 2.0, height() / 2.0) / zoom_;
            break;
        }
        case Act::none:
            break;
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
    if (const Card* onto = on_notch ? card(id) : card_at(at);
        onto && onto->id != pull_from_ && dropped_on_card(pull_from_, std::string(onto->id), global))
        return;
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
    if (moving)
        cut({{pull_to_, pull_input_}});
    else
        pulled_into_open(pull_from_, at, global);
}

void GraphView::cut_with_stroke() {
    std::vector<std::pair<std::string, std::string>> cuts;
    for (const Wire& wire : wires_) {
        if (wire.fixed) continue;
        const auto points = route(wire);
        bool crossed = false;
        for (std::size_t i = 1; !crossed && i < points.size(); ++i)
            for (std::size_t k = 1; !crossed && k < stroke_.size(); ++k)
                crossed = cross(points[i - 1], points[i], stroke_[k - 1], stroke_[k]);
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
                    if (const std::size_t w = c ? wire_at(c->rect.center()) : wires_.size();
                        w < wires_.size() && wires_[w].from != id && wires_[w].to != id) {
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
        case Act::wire:
            finish_wire(pointer_, event->globalPosition().toPoint());
            break;
        case Act::stroke:
            if (moved_) {
                cut_with_stroke();
            } else {
                const Card* hit = card_at(pointer_);
                if (hit && !chosen_.contains(hit->id))
                    chosen_ = {hit->id}, primary_ = hit->id, chosen_changed(primary_);
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
        default:
            break;
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
    if (const std::size_t a = area_at(at, at_corner); a != no_place && !at_corner) {
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
        case Qt::Key_Equal:
            zoom_by(1.18, QPointF(width() / 2.0, height() / 2.0));
            return;
        case Qt::Key_Minus:
            zoom_by(1 / 1.18, QPointF(width() / 2.0, height() / 2.0));
            return;
        case Qt::Key_O:
            set_overview(!overview_);
            return;
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
                origin_ += QPointF(event->key() == Qt::Key_Left    ? -step
                                   : event->key() == Qt::Key_Right ? step
                                                                   : 0,
                                   event->key() == Qt::Key_Up     ? -step
                                   : event->key() == Qt::Key_Down ? step
                                                                  : 0);
                update();
                return;
            }
            // The nearest card that way.
            const Card* here = card(primary_);
            if (!here && !cards_.empty()) here = &cards_.front();
            if (!here) return;
            const QPointF way = event->key() == Qt::Key_Left    ? QPointF(-1, 0)
                                : event->key() == Qt::Key_Right ? QPointF(1, 0)
                                : event->key() == Qt::Key_Up    ? QPointF(0, -1)
                                                                : QPointF(0, 1);
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
            if (const Card* here = card(primary_))
                menu(primary_, here->rect.center(), mapToGlobal(to_view(here->rect.center())));
            return;
        case Qt::Key_Return:
            if (!primary_.empty()) opened(primary_);
            return;
        default:
            QWidget::keyPressEvent(event);
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

}  // namespace bricol
