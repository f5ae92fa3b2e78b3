// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/handle_tool.h"
#include "app/viewport/screen.h"
#include "app/viewport/view_marks.h"
#include "core/shape/view_axes.h"

#include <cmath>

namespace bricol {

namespace {

DVec3 unit_axis(int i) {
    DVec3 a(0);
    a[i] = 1;
    return a;
}

/// The axis a parameter chooses, or that a fixed letter names; -1 for none ("a free direction").
int axis_named(std::string_view name, const Values& values) {
    if (const auto found = values.find(name); found != values.end())
        if (const auto* choice = std::get_if<std::string>(&found->second)) name = *choice;
    return name == "x" ? 0 : name == "y" ? 1 : name == "z" ? 2 : -1;
}

/// The way from one place to another, or one of the two square to it.
std::optional<DVec3> way_between(std::string_view names, const Values& values) {
    const std::size_t arrow = names.find('>'), colon = names.find(':');
    const auto place = [&](std::string_view key) {
        const auto found = values.find(key);
        const auto* at = found == values.end() ? nullptr : std::get_if<DVec3>(&found->second);
        return at ? *at : DVec3(0);
    };
    const DVec3 way = place(names.substr(arrow + 1, colon - arrow - 1)) - place(names.substr(0, arrow));
    if (!(glm::length(way) > 0)) return std::nullopt;
    const ViewAxes axes(way);
    const std::string_view wanted = names.substr(colon + 1);
    return wanted == "right" ? axes.right : wanted == "up" ? axes.up : axes.ahead;
}

/// Before the parameter, in degrees round the vertical, over which an angle rises from the ground.
constexpr std::string_view rising = "rise:";

/// Square to the vertical and to a way along the ground: an angle about it rises from that way, 90° on.
std::optional<DVec3> axis_of_rise(std::string_view bearing, const Values& values) {
    const auto found = values.find(bearing);
    const auto* degrees = found == values.end() ? nullptr : std::get_if<double>(&found->second);
    if (!degrees) return std::nullopt;
    const double turn = glm::radians(*degrees);
    return glm::cross(DVec3(std::cos(turn), std::sin(turn), 0), DVec3(0, 0, 1));
}

std::optional<DVec3> axis_of(std::string_view names, const Values& values) {
    if (names.starts_with(rising)) return axis_of_rise(names.substr(rising.size()), values);
    if (names.find('>') != std::string_view::npos) return way_between(names, values);
    const std::size_t two = names.find('^');
    const int a = axis_named(names.substr(0, two), values);
    if (a < 0) return std::nullopt;
    if (two == std::string_view::npos) return unit_axis(a);
    const int b = axis_named(names.substr(two + 1), values);
    if (b < 0 || a == b) return std::nullopt;
    return glm::cross(unit_axis(a), unit_axis(b));
}

/// Two directions square to an axis; angles start at the first.
std::pair<DVec3, DVec3> across(const DVec3& axis) {
    const DVec3 first = std::abs(axis.z) > 0.9 ? DVec3(1, 0, 0) : glm::normalize(DVec3(0, 0, 1) - axis * axis.z);
    return {first, glm::cross(axis, first)};
}

}  // namespace

HandleTool::HandleTool(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session, &Session::recipeChanged, this, &HandleTool::refresh);
    connect(&session, &Session::madeChanged, this, &HandleTool::refresh);
    connect(&session, &Session::choiceChanged, this, [this] {
        held_ = last_ = hot_ = -1;
        typed_.clear();
        refresh();
    });
}

void HandleTool::refresh() {
    if (held_ < 0) handles_.clear();
    const Part* part = session_.chosen_part();
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if (!info || step->skipped) {
        handles_.clear();
        emit changed();
        return;
    }
    std::vector<Finding> ignored;
    const Values values = session_.resolver().parameters(*part, *step, *info, ignored);
    std::optional<Box> box;
    if (const StepOutcome* before =
            session_.outcome(session_.part(), source_of(*part, step_index(*part, step->id), "shape")))
        box = box_of(*before->shape);
    std::optional<Box> after = box;
    if (const StepOutcome* outcome = session_.outcome(session_.part(), step->id); outcome && held_ < 0)
        after = box_of(*outcome->shape);
    if (!after) after = everything();  // a sun is pulled round all there is
    if (held_ >= 0) after = after_;    // what is held stays where it is
    after_ = after;
    span_ = after ? std::max(1e-4, glm::length(after->size())) : 1;
    std::vector<Handle> now;
    for (const ParameterInfo& p : info->parameters)
        if (p.handle.kind != HandleKind::none && asked_for(*info, p, values))
            if (auto handle = handle_of(p, values, box, after)) now.push_back(*handle);
    handles_ = std::move(now);
    if (held_ >= static_cast<int>(handles_.size())) held_ = -1;
    emit changed();
}

std::optional<Box> HandleTool::everything() const {
    std::optional<Box> box;
    const Made* made = session_.made();
    for (std::size_t p = 0; made && p < made->parts.size(); ++p) {
        const auto own = made->parts[p] ? made->parts[p]->measures.box : std::nullopt;
        if (!own) continue;
        if (!box) box = *own;
        box->low = glm::min(box->low, own->low), box->high = glm::max(box->high, own->high);
    }
    return box;
}

std::optional<HandleTool::Handle> HandleTool::handle_of(const ParameterInfo& p, const Values& values,
                                                        const std::optional<Box>& before,
                                                        const std::optional<Box>& after) const {
    Handle handle;
    handle.info = &p;
    if (!p.handle.origin.empty()) {
        const auto found = values.find(p.handle.origin);
        if (found == values.end()) return std::nullopt;
        if (const auto* places = std::get_if<std::vector<Place>>(&found->second)) {
            if (places->empty()) return std::nullopt;
            for (const Place& place : *places) handle.picked.push_back(place.at + place.move);
            for (const DVec3& at : handle.picked) handle.origin += at / static_cast<double>(handle.picked.size());
        } else {
            handle.origin = std::get<DVec3>(found->second);
        }
    } else if (p.handle.kind == HandleKind::about && after) {
        handle.origin = after->centre();  // an angle is read where its result is
    } else if (before) {
        handle.origin = before->centre();
    }
    const Value& value = values.find(p.key)->second;
    if (const auto* vector = std::get_if<DVec3>(&value)) {
        handle.in_space = true;
        handle.vector = *vector;
        if (p.handle.kind == HandleKind::point) handle.origin = *vector;
        handle.at = p.handle.kind == HandleKind::arrow ? handle.origin + *vector : *vector;
        return handle;
    }
    const auto axis = axis_of(p.handle.axis, values);
    if (!axis) return std::nullopt;
    // From picked places aslant: along an axis it would lie on the arrow they are pulled by.
    const DVec3 way = handle.picked.empty() ? *axis : glm::normalize(DVec3(1, -1, 0));
    handle.axis = way;
    if (p.handle.axis.starts_with(rising)) handle.zero = -90;
    handle.value = std::get<double>(value);
    if (p.handle.kind == HandleKind::along)
        handle.at = handle.origin - *axis * glm::dot(handle.origin, *axis) + *axis * handle.value;
    else if (p.handle.kind == HandleKind::reach)
        // A reach of nothing round picked places is caught beside them: on them they are pulled themselves.
        handle.at = handle.origin +
                    way * (handle.picked.empty() || handle.value > 0 ? handle.value * p.handle.share : 0.25 * span_);
    else
        handle.at = spoke(handle, handle.value) * (0.32 * span_) + handle.origin;
    return handle;
}

DVec3 HandleTool::spoke(const Handle& handle, double degrees) {
    const auto [first, second] = across(handle.axis);
    const double turn = glm::radians(degrees + handle.zero);
    return first * std::cos(turn) + second * std::sin(turn);
}

std::optional<DVec3> HandleTool::place_of(const std::string& key) const {
    for (const Handle& handle : handles_)
        if (handle.info->key == key) return handle.at;
    return std::nullopt;
}

bool HandleTool::catches(const Handle& handle, const Projector& projector, const glm::dvec2& pointer, int& grip) const {
    if (handle.in_space) {
        grip = arrows::hit(handle.at, projector, pointer);
        return grip != arrows::none;
    }
    grip = arrows::knob;
    return glm::distance(projector.to_screen(handle.at), pointer) < 9;
}

bool HandleTool::press(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!shown || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    pointer_ = from_ = {event->position().x(), event->position().y()};
    for (int i = 0; i < static_cast<int>(handles_.size()); ++i)
        if (catches(handles_[i], projector, from_, grip_)) {
            held_ = last_ = i;
            before_ = handles_[i];
            recipe_before_ = session_.recipe();
            typed_.clear();
            ++pull_number_;
            emit changed();
            return true;
        }
    last_ = -1;
    typed_.clear();
    return false;
}

bool HandleTool::move(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    const Projector projector(camera, size.width(), size.height());
    pointer_ = {event->position().x(), event->position().y()};
    if (held_ < 0) {
        const int before = hot_, before_grip = hot_grip_;
        hot_ = -1;
        for (int i = 0; i < static_cast<int>(handles_.size()) && hot_ < 0 && shown; ++i)
            if (catches(handles_[i], projector, pointer_, hot_grip_)) hot_ = i;
        if (hot_ != before || hot_grip_ != before_grip) emit changed();
        return false;
    }
    typed_.clear();
    const bool loose = event->modifiers() & Qt::ControlModifier;
    const double step = loose ? 1e-6 : grid_step / 10;
    if (before_.in_space) {
        const DVec3 by = arrows::pulled(before_.at, grip_, camera, projector, from_, pointer_);
        DVec3 to = before_.vector;
        for (int i = 0; i < 3; ++i)
            if (std::abs(by[i]) > 1e-12) to[i] = arrows::snapped(before_.vector[i] + by[i], step);
        send(before_, 0, to);
    } else if (before_.info->handle.kind == HandleKind::about) {
        // The pointer's angle round the axis, followed past full turns.
        DVec3 a, b;
        if (!projector.on_plane(from_, before_.origin, before_.axis, a) ||
            !projector.on_plane(pointer_, before_.origin, before_.axis, b))
            return true;
        a -= before_.origin, b -= before_.origin;
        const double turn = glm::degrees(std::atan2(glm::dot(glm::cross(a, b), before_.axis), glm::dot(a, b)));
        const double wanted = before_.value + turn;
        const double now = handles_[held_].value;
        const double value = wanted + 360 * std::round((now - wanted) / 360);
        send(before_, arrows::snapped(value, loose ? 0.1 : 5), {});
    } else {
        const double by = arrows::pulled_along(before_.at, before_.axis, projector, from_, pointer_);
        const double from =
            before_.picked.empty() ? before_.value : glm::dot(before_.at - before_.origin, before_.axis);
        const HandleInfo& kind = before_.info->handle;
        send(before_, arrows::snapped(from + by / (kind.kind == HandleKind::reach ? kind.share : 1), step), {});
    }
    return true;
}

bool HandleTool::release(const QMouseEvent*) {
    if (held_ < 0) return false;
    held_ = -1;
    session_.part_edits();
    refresh();
    return true;
}

void HandleTool::send(const Handle& from, double value, const DVec3& vector) {
    const ParameterInfo& p = *from.info;
    const QString name = "Pull " + QString::fromUtf8(p.label.data(), static_cast<int>(p.label.size())).toLower(),
                  merge = QString("pull %1").arg(pull_number_);
    Recipe recipe = recipe_before_;
    // A number that is a formula keeps it and gets an offset.
    const auto put = [&](int component, double now, double wanted) {
        wanted = std::clamp(wanted, p.low, p.high);
        const NumberPlace place{session_.part(), session_.step(), std::string(p.key), component, {}};
        const Json written = written_at(recipe_before_, place);
        auto edited = set_number(
            recipe, place,
            written.is_string() ? Json(with_offset(written.get<std::string>(), wanted - now)) : Json(wanted));
        if (edited) recipe = std::move(*edited);
    };
    if (from.in_space) {
        for (int i = 0; i < 3; ++i)
            if (vector[i] != from.vector[i]) put(i, from.vector[i], vector[i]);
    } else if (value != from.value) {
        put(-1, from.value, value);
    }
    session_.edit(recipe, name, merge);
}

bool HandleTool::key(const QKeyEvent* event) {
    if (last_ < 0 || last_ >= static_cast<int>(handles_.size())) return false;
    if (event->key() == Qt::Key_Escape) {
        const bool any = held_ >= 0 || !typed_.empty();
        if (held_ >= 0) session_.edit(recipe_before_, "Leave it as it was", QString("pull %1").arg(pull_number_));
        held_ = -1;
        typed_.clear();
        emit changed();
        return any;
    }
    if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && !typed_.empty()) {
        finish_typed();
        return true;
    }
    if (!typed_.take(event)) return false;
    emit changed();
    return true;
}

void HandleTool::finish_typed() {
    const Quantity quantity = before_.info->quantity;
    const auto value = typed_.value(quantity, session_.recipe().unit);
    if (!value) {
        session_.say(
            "“" + typed_.text() + "” is not a number Bricol can read here. Type figures, with a unit if you like.",
            true);
        return;
    }
    typed_.clear();
    held_ = -1;
    before_ = handles_[last_];
    recipe_before_ = session_.recipe();
    if (before_.in_space) {
        // Along the arrow that was pulled: what the number shall be.
        DVec3 to = before_.vector;
        to[grip_ >= 0 && grip_ < 3 ? grip_ : 0] = *value;
        send(before_, 0, to);
    } else {
        send(before_, *value, {});
    }
    session_.part_edits();
}

/// How far it reaches: round every picked place, or round its origin, where the reach fades to nothing.
void HandleTool::paint_reach(QPainter& painter, const Handle& handle, const Camera& camera,
                             const Projector& projector) {
    painter.save();
    QColor ink = painter.pen().color();
    std::vector<DVec3> middles = handle.picked;
    if (middles.empty()) middles = {handle.origin};
    if (middles.size() > 40) middles.resize(40);
    // Rings square to the view, at shares of the reach: closer together where it falls off most.
    const DVec3 right = camera.right(), up = camera.up();
    for (const DVec3& middle : middles)
        for (const double share : {1.0, 0.75, 0.5, 0.25}) {
            if (share < 1 && handle.picked.empty()) continue;
            ink.setAlphaF(share == 1 ? 0.9f : 0.35f);
            painter.setPen(QPen(ink, share == 1 ? 1.4 : 1));
            QPolygonF ring;
            for (int k = 0; k <= 48; ++k) {
                const double a = glm::radians(7.5 * k);
                ring << point(
                    projector.to_screen(middle + (right * std::cos(a) + up * std::sin(a)) * handle.value * share));
            }
            painter.drawPolyline(ring);
        }
    painter.restore();
}

void HandleTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!shown) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    const std::string unit = session_.recipe().unit;
    for (int i = 0; i < static_cast<int>(handles_.size()); ++i) {
        const Handle& handle = handles_[i];
        const bool hot = i == hot_ || i == held_;
        const QPointF at = point(projector.to_screen(handle.at));
        const QColor ink = theme::color(hot ? Role::chosen : Role::act);
        painter.setPen(QPen(ink, 1.4, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        if (handle.in_space) {
            if (handle.info->handle.kind == HandleKind::arrow)
                painter.drawLine(point(projector.to_screen(handle.origin)), at);
            arrows::paint(painter, handle.at, projector, hot ? (held_ == i ? grip_ : hot_grip_) : arrows::none);
        } else {
            if (handle.info->handle.kind == HandleKind::about) {
                QPolygonF arc;
                const int pieces = std::clamp(static_cast<int>(std::abs(handle.value) / 6), 2, 240);
                for (int k = 0; k <= pieces; ++k)
                    arc << point(
                        projector.to_screen(handle.origin + spoke(handle, handle.value * k / pieces) * (0.32 * span_)));
                painter.drawLine(point(projector.to_screen(handle.origin)), arc.first());
                painter.setPen(QPen(ink, 1.6));
                painter.drawPolyline(arc);
                painter.drawLine(point(projector.to_screen(handle.origin)), at);
            } else if (handle.info->handle.kind == HandleKind::along) {
                // The plane across the axis, as a small frame.
                const auto [a, b] = across(handle.axis);
                QPolygonF frame;
                for (const auto& [s, t] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}, {-1, -1}})
                    frame << point(projector.to_screen(handle.at + (a * double(s) + b * double(t)) * (0.22 * span_)));
                painter.drawPolyline(frame);
            } else {
                painter.drawLine(point(projector.to_screen(handle.origin)), at);
                // A side of something that is turned reaches one way only: it has no ring.
                const bool one_way = handle.info->handle.axis.find('>') != std::string_view::npos;
                if (!handle.info->handle.origin.empty() && handle.value > 0 && !one_way)
                    paint_reach(painter, handle, camera, projector);
            }
            painter.setPen(QPen(ink, 1.6));
            painter.setBrush(hot ? ink : theme::color(Role::card));
            painter.drawPolygon(
                QPolygonF({at + QPointF(0, -6), at + QPointF(6, 0), at + QPointF(0, 6), at + QPointF(-6, 0)}));
        }
        if (hot) {
            const QString label =
                QString::fromUtf8(handle.info->label.data(), static_cast<int>(handle.info->label.size()));
            QString value = QString::fromStdString(format_value(handle.value, handle.info->quantity, unit));
            if (handle.in_space) {
                QStringList parts;
                for (int k = 0; k < 3; ++k)
                    parts << QString::fromStdString(
                        format_number(shown_value(handle.vector[k], handle.info->quantity, unit), 4));
                value = parts.join(", ");
            }
            paint_tag(painter, at, label + "  " + value);
        }
    }
    if (last_ >= 0) typed_.paint(painter, point(pointer_));
}

}  // namespace bricol
