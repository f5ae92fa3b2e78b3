// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_tool.h"

#include <algorithm>
#include <cmath>

#include "app/viewport/knot_actions.h"
#include "app/theme/theme.h"
#include "app/viewport/knot_numbers.h"
#include "core/kernels/flatten.h"
#include "core/catalogue/draw_plane.h"
#include "core/catalogue/step_run.h"

namespace bricol {

namespace {

constexpr double reach = 8;  // pixels within which something is meant

}  // namespace

KnotTool::KnotTool(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session, &Session::recipeChanged, this, &KnotTool::refresh);
    connect(&session, &Session::choiceChanged, this, [this] {
        drawing_ = choosing_plane_ = false;
        refresh();
        if (active() && curves_.empty()) drawing_ = true;
        emit changed();
    });
    connect(&session, &Session::knotsChanged, this, &KnotTool::changed);
}

void KnotTool::refresh() {
    key_.clear();
    curves_.clear();
    const Part* part = session_.chosen_part();
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if (!info) return;
    const ParameterInfo* curves = info->parameter_of(ParameterKind::curves);
    if (!curves) return;
    key_ = curves->key;
    // The step itself places the knots; it is cheap and has no inputs.
    StepRun run(info);
    run.id = step->id;
    std::vector<Finding> findings;
    const Values values = session_.resolver().parameters(*part, *step, *info, findings);
    run.values = values;
    info->make(run);
    has_plane_ = info->parameter("plane_turn") != nullptr;
    own_plane_ = has_plane_ && std::get<std::string>(values.find("plane")->second) == "own";
    plane_ = has_plane_ ? draw_plane(values) : DrawPlane{};
    if (run.result) curves_ = run.result->curves;
    emit changed();
}

void KnotTool::set_drawing(bool on) {
    drawing_ = on && active();
    hover_.reset();
    snapped_on_.reset();
    if (drawing_) snap_.gather(session_);
    emit changed();
}

Curve KnotTool::like_curve() const {
    if (!curves_.empty()) return curves_.front();
    Curve like;
    like.plane = plane_;
    return like;
}

KnotTool::Hit KnotTool::hit(const glm::dvec2& at, const Projector& projector) const {
    Hit best;
    double nearest = reach;
    for (int c = 0; c < static_cast<int>(curves_.size()); ++c) {
        const Curve& curve = curves_[c];
        const std::vector<Knot> knots = with_handles(curve);
        for (int k = 0; k < static_cast<int>(knots.size()); ++k) {
            const double distance = glm::distance(projector.to_screen(DVec3(knots[k].at)), at);
            if (distance < nearest) nearest = distance, best = {c, k, 0};
            if (session_.curve() != c || !session_.knots().contains(k)) continue;
            if (widths_)
                if (const double d = glm::distance(width_grip(knots[k], projector), at); d < nearest)
                    nearest = d, best = {c, k, 3};
            for (const int side : {1, 2}) {
                const Vec3 handle = side == 1 ? knots[k].in : knots[k].out;
                if (glm::length(handle) < 1e-7f) continue;
                const double d = glm::distance(projector.to_screen(DVec3(knots[k].at + handle)), at);
                if (d < nearest - 1) nearest = d, best = {c, k, side};
            }
        }
    }
    return best;
}

KnotTool::SpanHit KnotTool::span_at(const glm::dvec2& at, const Projector& projector) const {
    SpanHit best;
    double nearest = reach;
    for (int c = 0; c < static_cast<int>(curves_.size()); ++c) {
        const std::vector<Knot> knots = with_handles(curves_[c]);
        const int count = static_cast<int>(knots.size());
        for (int k = 0; k < (curves_[c].closed ? count : count - 1); ++k) {
            const Knot &a = knots[k], &b = knots[(k + 1) % count];
            constexpr int pieces = 24;
            for (int i = 0; i <= pieces; ++i) {
                const double t = static_cast<double>(i) / pieces, s = 1 - t;
                const DVec3 p = s * s * s * DVec3(a.at) + 3 * s * s * t * DVec3(a.at + a.out) +
                                3 * s * t * t * DVec3(b.at + b.in) + t * t * t * DVec3(b.at);
                const double d = glm::distance(projector.to_screen(p), at);
                if (d < nearest && i > 0 && i < pieces) nearest = d, best = {c, k, t, p};
            }
        }
    }
    return best;
}

bool KnotTool::place_under(const glm::dvec2& at, const Projector& projector, const Curve* curve, const DVec3& origin,
                           DVec3& out) const {
    const Curve like = curve ? *curve : like_curve();
    return projector.on_plane(at, origin, DVec3(like.plane.axes[2]), out);
}

DVec3 KnotTool::snapped(DVec3 place, const Curve& like, const Projector& projector, Qt::KeyboardModifiers keys) const {
    snapped_on_.reset();
    if (keys & Qt::ControlModifier) return place;
    const glm::dvec2 here = projector.to_screen(place);
    if (const auto on = snap_.under(here, projector, reach)) {  // as seen in the drawing plane
        snapped_on_ = on;
        const DVec3 there = like.plane.numbers(*on);
        return place_of({there.x, there.y, like.plane.numbers(place).z}, like);
    }
    DVec3 n = like.plane.numbers(place);
    for (int i = 0; i < 2; ++i) {
        DVec3 on_grid = n, on_axis = n;
        on_grid[i] = std::round(n[i] / (grid_step / 2)) * grid_step / 2;
        on_axis[i] = 0;
        if (glm::distance(projector.to_screen(place_of(on_axis, like)), here) < reach)
            n[i] = 0;
        else if (glm::distance(projector.to_screen(place_of(on_grid, like)), here) < reach * 0.75)
            n[i] = on_grid[i];
    }
    return place_of(n, like);
}

DVec3 KnotTool::held_straight(const DVec3& from, const DVec3& to, const Curve& like) const {
    const DVec3 start = like.plane.numbers(from);
    DVec3 held = like.plane.numbers(to);
    const double across = held.x - start.x, up = held.y - start.y;
    if (std::abs(across) > 2.4 * std::abs(up)) {
        held.y = start.y;
    } else if (std::abs(up) > 2.4 * std::abs(across)) {
        held.x = start.x;
    } else {  // half a right angle
        const double length = (std::abs(across) + std::abs(up)) / 2;
        held.x = start.x + std::copysign(length, across);
        held.y = start.y + std::copysign(length, up);
    }
    return place_of(held, like);
}

bool KnotTool::from_start() const {
    const int c = session_.curve();
    return c < static_cast<int>(curves_.size()) && !curves_[c].closed && curves_[c].knots.size() > 1 &&
           session_.knots() == std::set<int>{0};
}

void KnotTool::edit(const QString& name, const QString& merge, const std::function<void(Json&)>& change) {
    const Step* step = session_.chosen_step();
    if (!step || key_.empty()) return;
    Json curves = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    if (!curves.is_array()) curves = Json::array();
    change(curves);
    session_.edit(set_setting(session_.recipe(), session_.part(), step->id, key_, curves), name, merge);
}

bool KnotTool::press(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    if (choosing_plane_) {
        choose_plane(at, projector, camera.eye());
        return true;
    }
    press_at_ = now_at_ = at;
    pressed_ = true;
    moved_ = boxing_ = new_knot_ = false;
    ++drag_number_;
    const Step* step = session_.chosen_step();
    before_ = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    curves_before_ = curves_;
    held_ = hit(at, projector);
    snap_.gather(session_);

    if (drawing_) {
        draw_knot(event, projector, camera.eye());
        return true;
    }
    if (held_.curve < 0) {
        boxing_ = true;
        return true;
    }
    if (held_.handle == 0) {
        std::set<int> knots = session_.curve() == held_.curve ? session_.knots() : std::set<int>{};
        if (event->modifiers() & Qt::ShiftModifier) {
            if (!knots.erase(held_.knot)) knots.insert(held_.knot);
        } else if (!knots.contains(held_.knot)) {
            knots = {held_.knot};
        }
        session_.choose_knots(held_.curve, knots);
    }
    press_place_ = DVec3(curves_[held_.curve].knots[held_.knot].at);
    emit changed();
    return true;
}

bool KnotTool::move(QMouseEvent* event, const Camera& camera, const QSize& size) {
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    if (!pressed_) {
        if (!drawing_) return false;
        DVec3 place;
        hover_.reset();
        if (const auto on = surfaces_ ? snap_.surface(at, projector, camera.eye()) : std::nullopt) {
            hover_ = on;
        } else if (place_under(at, projector, nullptr, DVec3(plane_.origin), place)) {
            const Curve like = like_curve();
            place = snapped(place, like, projector, event->modifiers());
            const int curve = session_.curve();
            if ((event->modifiers() & Qt::ShiftModifier) && curve < static_cast<int>(curves_.size()) &&
                !curves_[curve].closed)
                place = held_straight(
                    DVec3((from_start() ? curves_[curve].knots.front() : curves_[curve].knots.back()).at), place, like);
            hover_ = place;
        }
        emit changed();
        return false;
    }
    now_at_ = at;
    if (!moved_ && glm::distance(at, press_at_) < 3) return true;
    moved_ = true;
    if (boxing_) {
        emit changed();
        return true;
    }
    if (held_.curve < 0 || held_.curve >= static_cast<int>(curves_before_.size()) ||
        held_.knot >= static_cast<int>(curves_before_[held_.curve].knots.size()))
        return true;
    if (held_.handle == 3) {
        pull_width(at, projector);
        return true;
    }
    const Curve& curve = curves_before_[held_.curve];
    if (surfaces_ && held_.handle == 0 && !new_knot_)
        if (const auto on = snap_.surface(at, projector, camera.eye())) {
            move_chosen(*on - press_place_, 3);
            return true;
        }
    DVec3 place;
    if (!place_under(at, projector, &curve, press_place_, place)) return true;
    if (new_knot_) {  // pulling while setting a knot draws its handles out
        edit("Add a knot", QString("pull %1").arg(drag_number_), [&](Json& curves) {
            curves = before_;
            Json& knot = curves[curve.source_curve]["knots"][curve.knots[held_.knot].source];
            const DVec3 out = place - press_place_;
            knot["kind"] = "smooth";
            const bool front = from_start();  // the curve runs towards the older knots then
            knot["out"] = way_pair(front ? -out : out, curve);
            knot["in"] = way_pair(front ? out : -out, curve);
        });
        return true;
    }
    if (held_.handle != 0) {
        move_handle(snapped(place, curve, projector, event->modifiers() | Qt::ControlModifier));
        return true;
    }
    place = snapped(place, curve, projector, event->modifiers());
    if (event->modifiers() & Qt::ShiftModifier) place = held_straight(press_place_, place, curve);
    move_chosen(place - press_place_);
    return true;
}

void KnotTool::move_chosen(const DVec3& by, int numbers) {
    const std::set<int> chosen = session_.knots();
    edit(chosen.size() > 1 ? "Move knots" : "Move a knot", QString("move knots %1").arg(drag_number_),
         [&](Json& curves) {
             curves = before_;
             const Curve& curve = curves_before_[session_.curve()];
             for (const int k : chosen) {
                 if (k >= static_cast<int>(curve.knots.size())) continue;
                 Json& at = curves[curve.source_curve]["knots"][curve.knots[k].source]["at"];
                 const DVec3 along = curve.plane.numbers_of_way(by);
                 for (int i = 0; i < numbers; ++i)
                     if (const double d = std::abs(along[i]) > 1e-9 ? along[i] : 0; d != 0)
                         at[i] = moved_number(i < static_cast<int>(at.size()) ? at[i] : Json(0), d);
             }
         });
}

void KnotTool::move_handle(const DVec3& to) {
    const Curve& curve = curves_before_[held_.curve];
    const Knot knot = with_handles(curve)[held_.knot];
    const DVec3 handle = to - DVec3(knot.at);
    const DVec3 old = DVec3(held_.handle == 1 ? knot.in : knot.out);
    edit("Move a handle", QString("handle %1").arg(drag_number_), [&](Json& curves) {
        curves = before_;
        Json& json = curves[curve.source_curve]["knots"][curve.knots[held_.knot].source];
        const auto put = [&](const char* key, const DVec3& value, const DVec3& before) {
            if (!json.contains(key)) {
                json[key] = way_pair(value, curve);
                return;
            }
            const DVec3 by = curve.plane.numbers_of_way(value - before);
            for (int i = 0; i < 2; ++i) json[key][i] = moved_number(json[key][i], by[i]);
        };
        put(held_.handle == 1 ? "in" : "out", handle, old);
        if (knot.kind == KnotKind::smooth && glm::length(handle) > 1e-9) {
            const DVec3 other = DVec3(held_.handle == 1 ? knot.out : knot.in);
            put(held_.handle == 1 ? "out" : "in", -glm::normalize(handle) * glm::length(other), other);
        }
    });
}

bool KnotTool::release(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!pressed_ || event->button() != Qt::LeftButton) return false;
    pressed_ = false;
    snapped_on_.reset();
    session_.part_edits();
    if (boxing_) {
        boxing_ = false;
        const Projector projector(camera, size.width(), size.height());
        const QRectF box = QRectF(point(press_at_), point(now_at_)).normalized();
        std::set<int> knots;
        int curve = session_.curve();
        if (moved_) {
            for (int c = 0; c < static_cast<int>(curves_.size()) && knots.empty(); ++c) {
                for (int k = 0; k < static_cast<int>(curves_[c].knots.size()); ++k)
                    if (box.contains(point(projector.to_screen(DVec3(curves_[c].knots[k].at))))) knots.insert(k);
                if (!knots.empty()) curve = c;
            }
        }
        if (moved_ && (event->modifiers() & Qt::ShiftModifier) && curve == session_.curve())
            knots.insert(session_.knots().begin(), session_.knots().end());
        session_.choose_knots(curve, knots);
    }
    emit changed();
    return true;
}

bool KnotTool::double_click(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || drawing_ || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    if (hit(at, projector).curve >= 0) return true;
    const SpanHit span = span_at(at, projector);
    if (span.curve < 0) return false;
    const Curve curve = curves_[span.curve];
    const int after = curve.knots[span.after].source;
    const std::vector<Knot> knots = with_handles(curve);
    const Knot &a = knots[span.after], &b = knots[(span.after + 1) % knots.size()];
    edit("Insert a knot", {}, [&](Json& curves) {
        Json& list = curves[curve.source_curve]["knots"];
        Json fresh{{"at", place_pair(span.place, curve)}};
        if (glm::length(a.out) > 1e-7f || glm::length(b.in) > 1e-7f) {
            // De Casteljau's split keeps the curve's form; handles written as formulas are left as they are.
            const DVec3 p0(a.at), p1 = p0 + DVec3(a.out), p3(b.at), p2 = p3 + DVec3(b.in);
            const double t = span.t;
            const DVec3 q0 = glm::mix(p0, p1, t), q1 = glm::mix(p1, p2, t), q2 = glm::mix(p2, p3, t);
            const DVec3 r0 = glm::mix(q0, q1, t), r1 = glm::mix(q1, q2, t), s = glm::mix(r0, r1, t);
            fresh["at"] = place_pair(s, curve);
            fresh["kind"] = "smooth";
            fresh["in"] = way_pair(r0 - s, curve);
            fresh["out"] = way_pair(r1 - s, curve);
            const auto shorten = [&](Json& knot, const Knot& k, const char* key, const DVec3& value, const char* other,
                                     const DVec3& other_value) {
                if (k.kind == KnotKind::corner) return;
                const bool formula = knot.contains(key) && (knot[key][0].is_string() || knot[key][1].is_string());
                if (!formula) knot[key] = way_pair(value, curve);
                if (!knot.contains(other) && k.kind == KnotKind::smooth) knot[other] = way_pair(other_value, curve);
            };
            shorten(list[after], a, "out", q0 - p0, "in", DVec3(a.in));
            shorten(list[b.source], b, "in", q2 - p3, "out", DVec3(b.out));
        }
        list.insert(list.begin() + after + 1, fresh);
    });
    session_.choose_knots(span.curve, {span.after + 1});
    return true;
}

void KnotTool::choose_all() {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    std::set<int> all;
    for (int k = 0; k < static_cast<int>(curves_[session_.curve()].knots.size()); ++k) all.insert(k);
    session_.choose_knots(session_.curve(), all);
}

bool KnotTool::leave() {
    if (choosing_plane_)
        set_choosing_plane(false);
    else if (drawing_)
        set_drawing(false);
    else if (!session_.knots().empty())
        session_.choose_knots(session_.curve(), {});
    else
        return false;
    return true;
}

bool KnotTool::nudge(const QKeyEvent& event) {
    if (session_.knots().empty() || session_.curve() >= static_cast<int>(curves_.size())) return false;
    const double step = grid_step * (event.modifiers() & Qt::ShiftModifier     ? 1
                                     : event.modifiers() & Qt::ControlModifier ? 0.01
                                                                               : 0.1);
    before_ = session_.chosen_step()->settings[key_];
    curves_before_ = curves_;
    ++drag_number_;
    const DrawPlane& plane = curves_[session_.curve()].plane;
    const bool across = event.key() == Qt::Key_Left || event.key() == Qt::Key_Right;
    const double sign = event.key() == Qt::Key_Left || event.key() == Qt::Key_Down ? -1 : 1;
    move_chosen(DVec3(plane.axes[across ? 0 : 1]) * (sign * step));
    return true;
}

bool KnotTool::key(QKeyEvent* event) {
    if (!active()) return false;
    switch (event->key()) {
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Escape:
            return leave();
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down:
            return nudge(*event);
        default:
            return run_by_key(knot_actions(), *this, *event);
    }
}

}  // namespace bricol
