// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/knot_tool.h"

#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "core/kernels/flatten.h"

namespace bricol {

namespace {

constexpr double reach = 8;  // pixels within which something is meant

double rounded(double metres) { return std::round(metres * 1e6) / 1e6; }

/// A number or formula moved by an offset.
Json moved_number(const Json& written, double by) {
    if (written.is_string()) return with_offset(written.get<std::string>(), by);
    return rounded((written.is_number() ? written.get<double>() : 0) + by);
}

Json pair_of(const DVec3& v, const Curve& like) {
    return Json::array({rounded(v[like.written[0]]), rounded(v[like.written[1]])});
}

Json triple_of(const DVec3& v, const Curve& like) {
    return Json::array({rounded(v[like.written[0]]), rounded(v[like.written[1]]), rounded(v[like.written[2]])});
}

QPointF point(const glm::dvec2& p) { return {p.x, p.y}; }

const char* kind_key(KnotKind kind) { return kind == KnotKind::smooth ? "smooth" : kind == KnotKind::free ? "free" : "corner"; }

}  // namespace

KnotTool::KnotTool(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session, &Session::recipeChanged, this, &KnotTool::refresh);
    connect(&session, &Session::choiceChanged, this, [this] {
        drawing_ = false;
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
    for (const ParameterInfo& p : info->parameters)
        if (p.kind == ParameterKind::curves) key_ = p.key;
    if (key_.empty()) return;
    // The step itself places the knots; it is cheap and has no inputs.
    StepRun run;
    run.id = step->id;
    std::vector<Finding> findings;
    run.values = session_.resolver().parameters(*part, *step, *info, findings);
    info->make(run);
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
    const Step* step = session_.chosen_step();
    const std::string plane = step ? step->settings.value("plane", std::string("front")) : "front";
    if (plane == "side") like.written = {1, 2, 0};
    if (plane == "top") like.written = {0, 1, 2};
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
                if (const double d = glm::distance(width_grip(knots[k], projector), at); d < nearest) nearest = d, best = {c, k, 3};
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
                const DVec3 p = s * s * s * DVec3(a.at) + 3 * s * s * t * DVec3(a.at + a.out) + 3 * s * t * t * DVec3(b.at + b.in) + t * t * t * DVec3(b.at);
                const double d = glm::distance(projector.to_screen(p), at);
                if (d < nearest && i > 0 && i < pieces) nearest = d, best = {c, k, t, p};
            }
        }
    }
    return best;
}

bool KnotTool::place_under(const glm::dvec2& at, const Projector& projector, const Curve* curve, const DVec3& origin, DVec3& out) const {
    const Curve like = curve ? *curve : like_curve();
    DVec3 normal(0);
    normal[like.written[2]] = 1;
    return projector.on_plane(at, origin, normal, out);
}

DVec3 KnotTool::snapped(DVec3 place, const Curve& like, const Projector& projector, Qt::KeyboardModifiers keys) const {
    snapped_on_.reset();
    if (keys & Qt::ControlModifier) return place;
    const glm::dvec2 here = projector.to_screen(place);
    if (const auto on = snap_.under(here, projector, reach)) {  // as seen in the drawing plane
        snapped_on_ = on;
        place[like.written[0]] = (*on)[like.written[0]];
        place[like.written[1]] = (*on)[like.written[1]];
        return place;
    }
    for (int i = 0; i < 2; ++i) {
        const int axis = like.written[i];
        DVec3 on_grid = place, on_axis = place;
        on_grid[axis] = std::round(place[axis] / (grid_step / 2)) * grid_step / 2;
        on_axis[axis] = 0;
        if (glm::distance(projector.to_screen(on_axis), here) < reach)
            place[axis] = 0;
        else if (glm::distance(projector.to_screen(on_grid), here) < reach * 0.75)
            place[axis] = on_grid[axis];
    }
    return place;
}

DVec3 KnotTool::held_straight(const DVec3& from, const DVec3& to, const Curve& like) const {
    const int a = like.written[0], b = like.written[1];
    DVec3 held = to;
    const double across = std::abs(to[a] - from[a]), up = std::abs(to[b] - from[b]);
    if (across > 2.4 * up) {
        held[b] = from[b];
    } else if (up > 2.4 * across) {
        held[a] = from[a];
    } else {  // half a right angle
        const double length = (across + up) / 2;
        held[a] = from[a] + std::copysign(length, to[a] - from[a]);
        held[b] = from[b] + std::copysign(length, to[b] - from[b]);
    }
    return held;
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
        const bool on_first = held_.curve >= 0 && held_.handle == 0 && held_.knot == 0 && held_.curve == session_.curve() &&
                              curves_[held_.curve].knots.size() > 2 && !curves_[held_.curve].closed;
        if (on_first) {
            set_closed(true);
            set_drawing(false);
            pressed_ = false;
            return true;
        }
        DVec3 place;
        const Curve like = like_curve();
        const auto on = surfaces_ ? snap_.surface(at, projector, camera.eye()) : std::nullopt;
        if (on) place = *on;
        else if (!place_under(at, projector, nullptr, DVec3(0), place)) {
            session_.say("This view looks along the drawing plane. Turn it, or press F5 for the front view.", true);
            pressed_ = false;
            return true;
        }
        if (!on) place = snapped(place, like, projector, event->modifiers());
        int curve = session_.curve();
        const bool fresh = curve >= static_cast<int>(curves_.size()) || curves_.empty() || curves_[curve].closed;
        if (fresh) curve = static_cast<int>(curves_.size());
        if (!on && !fresh && (event->modifiers() & Qt::ShiftModifier))
            place = held_straight(DVec3(curves_[curve].knots.back().at), place, like);
        int source = 0;
        const Json written = on ? triple_of(place, like) : pair_of(place, like);
        edit("Add a knot", {}, [&](Json& curves) {
            const int json_curve = fresh ? static_cast<int>(curves.size()) : curves_[curve].source_curve;
            // An empty curve in the file is taken up instead of leaving it behind.
            if (fresh && !curves.empty() && curves.back().is_object() && curves.back().contains("knots") && curves.back()["knots"].empty())
                curves.back()["knots"].push_back(Json{{"at", written}});
            else if (fresh)
                curves.push_back(Json{{"knots", Json::array({Json{{"at", written}}})}});
            else
                curves[json_curve]["knots"].push_back(Json{{"at", written}});
            source = fresh ? 0 : static_cast<int>(curves[json_curve]["knots"].size()) - 1;
        });
        session_.choose_knots(std::min(curve, static_cast<int>(curves_.size()) - 1), {source});
        held_ = {session_.curve(), source, 0};
        new_knot_ = true;
        const Step* now = session_.chosen_step();
        before_ = now->settings[key_];
        curves_before_ = curves_;
        press_place_ = place;
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
        } else if (place_under(at, projector, nullptr, DVec3(0), place)) {
            const Curve like = like_curve();
            place = snapped(place, like, projector, event->modifiers());
            const int curve = session_.curve();
            if ((event->modifiers() & Qt::ShiftModifier) && curve < static_cast<int>(curves_.size()) && !curves_[curve].closed)
                place = held_straight(DVec3(curves_[curve].knots.back().at), place, like);
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
            knot["out"] = pair_of(out, curve);
            knot["in"] = pair_of(-out, curve);
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
    edit(chosen.size() > 1 ? "Move knots" : "Move a knot", QString("move knots %1").arg(drag_number_), [&](Json& curves) {
        curves = before_;
        const Curve& curve = curves_before_[session_.curve()];
        for (const int k : chosen) {
            if (k >= static_cast<int>(curve.knots.size())) continue;
            Json& at = curves[curve.source_curve]["knots"][curve.knots[k].source]["at"];
            for (int i = 0; i < numbers; ++i)
                if (const double d = by[curve.written[i]]; d != 0) at[i] = moved_number(i < static_cast<int>(at.size()) ? at[i] : Json(0), d);
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
                json[key] = pair_of(value, curve);
                return;
            }
            for (int i = 0; i < 2; ++i) json[key][i] = moved_number(json[key][i], value[curve.written[i]] - before[curve.written[i]]);
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
        if (moved_ && (event->modifiers() & Qt::ShiftModifier) && curve == session_.curve()) knots.insert(session_.knots().begin(), session_.knots().end());
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
        Json fresh{{"at", pair_of(span.place, curve)}};
        if (glm::length(a.out) > 1e-7f || glm::length(b.in) > 1e-7f) {
            // De Casteljau's split keeps the curve's form; handles written as formulas are left as they are.
            const DVec3 p0(a.at), p1 = p0 + DVec3(a.out), p3(b.at), p2 = p3 + DVec3(b.in);
            const double t = span.t;
            const DVec3 q0 = glm::mix(p0, p1, t), q1 = glm::mix(p1, p2, t), q2 = glm::mix(p2, p3, t);
            const DVec3 r0 = glm::mix(q0, q1, t), r1 = glm::mix(q1, q2, t), s = glm::mix(r0, r1, t);
            fresh["at"] = pair_of(s, curve);
            fresh["kind"] = "smooth";
            fresh["in"] = pair_of(r0 - s, curve);
            fresh["out"] = pair_of(r1 - s, curve);
            const auto shorten = [&](Json& knot, const Knot& k, const char* key, const DVec3& value, const char* other, const DVec3& other_value) {
                if (k.kind == KnotKind::corner) return;
                const bool formula = knot.contains(key) && (knot[key][0].is_string() || knot[key][1].is_string());
                if (!formula) knot[key] = pair_of(value, curve);
                if (!knot.contains(other) && k.kind == KnotKind::smooth) knot[other] = pair_of(other_value, curve);
            };
            shorten(list[after], a, "out", q0 - p0, "in", DVec3(a.in));
            shorten(list[b.source], b, "in", q2 - p3, "out", DVec3(b.out));
        }
        list.insert(list.begin() + after + 1, fresh);
    });
    session_.choose_knots(span.curve, {span.after + 1});
    return true;
}

bool KnotTool::key(QKeyEvent* event) {
    if (!active()) return false;
    switch (event->key()) {
        case Qt::Key_Delete:
        case Qt::Key_Backspace:
            if (session_.knots().empty()) return false;
            remove_chosen();
            return true;
        case Qt::Key_D: set_drawing(!drawing_); return true;
        case Qt::Key_1: set_kind(KnotKind::corner); return true;
        case Qt::Key_2: set_kind(KnotKind::smooth); return true;
        case Qt::Key_3: set_kind(KnotKind::free); return true;
        case Qt::Key_I: insert_between(); return true;
        case Qt::Key_S:
            if (event->modifiers() != Qt::NoModifier) return false;
            set_on_surfaces(!surfaces_);
            return true;
        case Qt::Key_C:
            if (event->modifiers() != Qt::NoModifier) return false;
            set_comb(!comb_);
            return true;
        case Qt::Key_W:
            if (event->modifiers() != Qt::NoModifier) return false;
            set_width_handles(!widths_);
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
        case Qt::Key_Escape:
            if (drawing_) {
                set_drawing(false);
                return true;
            }
            if (session_.knots().empty()) return false;
            session_.choose_knots(session_.curve(), {});
            return true;
        case Qt::Key_A:
            if (event->modifiers() & Qt::ControlModifier && session_.curve() < static_cast<int>(curves_.size())) {
                std::set<int> all;
                for (int k = 0; k < static_cast<int>(curves_[session_.curve()].knots.size()); ++k) all.insert(k);
                session_.choose_knots(session_.curve(), all);
                return true;
            }
            return false;
        case Qt::Key_Left:
        case Qt::Key_Right:
        case Qt::Key_Up:
        case Qt::Key_Down: {
            if (session_.knots().empty() || session_.curve() >= static_cast<int>(curves_.size())) return false;
            const double step = grid_step * (event->modifiers() & Qt::ShiftModifier ? 1 : event->modifiers() & Qt::ControlModifier ? 0.01 : 0.1);
            const Step* chosen = session_.chosen_step();
            before_ = chosen->settings[key_];
            curves_before_ = curves_;
            ++drag_number_;
            DVec3 by(0);
            const auto& written = curves_[session_.curve()].written;
            if (event->key() == Qt::Key_Left) by[written[0]] = -step;
            if (event->key() == Qt::Key_Right) by[written[0]] = step;
            if (event->key() == Qt::Key_Down) by[written[1]] = -step;
            if (event->key() == Qt::Key_Up) by[written[1]] = step;
            move_chosen(by);
            return true;
        }
        default: return false;
    }
}

void KnotTool::set_kind(KnotKind kind) {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().empty()) return;
    const Curve curve = curves_[session_.curve()];
    const std::vector<Knot> knots = with_handles(curve);
    edit(kind == KnotKind::corner ? "Make a corner" : kind == KnotKind::smooth ? "Make it smooth" : "Free the handles", {}, [&](Json& curves) {
        for (const int k : session_.knots()) {
            Json& json = curves[curve.source_curve]["knots"][curve.knots[k].source];
            json["kind"] = kind_key(kind);
            if (kind == KnotKind::corner) {
                json.erase("in");
                json.erase("out");
            } else if (kind == KnotKind::smooth && knots[k].kind != KnotKind::smooth) {
                json.erase("in");  // found from the neighbours
                json.erase("out");
                json.erase("fillet");
            } else if (kind == KnotKind::free && knots[k].kind != KnotKind::free) {
                Curve as_smooth = curve;  // free handles start as the smooth ones
                as_smooth.knots[k].kind = KnotKind::smooth;
                const Knot start = with_handles(as_smooth)[k];
                if (!json.contains("in")) json["in"] = pair_of(DVec3(start.in), curve);
                if (!json.contains("out")) json["out"] = pair_of(DVec3(start.out), curve);
                json.erase("fillet");
            }
        }
    });
}

void KnotTool::set_fillet(double radius) {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const Curve curve = curves_[session_.curve()];
    edit("Round corners", "fillet", [&](Json& curves) {
        for (const int k : session_.knots()) {
            Json& json = curves[curve.source_curve]["knots"][curve.knots[k].source];
            if (radius > 0)
                json["fillet"] = rounded(radius);
            else
                json.erase("fillet");
        }
    });
}

void KnotTool::align(int written_axis) {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().size() < 2) return;
    const Curve curve = curves_[session_.curve()];
    const int axis = curve.written[written_axis];
    double mean = 0;
    for (const int k : session_.knots()) mean += curve.knots[k].at[axis];
    mean /= static_cast<double>(session_.knots().size());
    edit("Align knots", {}, [&](Json& curves) {
        for (const int k : session_.knots()) {
            Json& at = curves[curve.source_curve]["knots"][curve.knots[k].source]["at"];
            at[written_axis] = at[written_axis].is_string() ? moved_number(at[written_axis], mean - curve.knots[k].at[axis]) : Json(rounded(mean));
        }
    });
}

void KnotTool::remove_chosen() {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const Curve curve = curves_[session_.curve()];
    const std::set<int> chosen = session_.knots();
    session_.choose_knots(session_.curve(), {});
    edit(chosen.size() > 1 ? "Delete knots" : "Delete a knot", {}, [&](Json& curves) {
        Json& list = curves[curve.source_curve]["knots"];
        for (auto k = chosen.rbegin(); k != chosen.rend(); ++k) list.erase(static_cast<std::size_t>(curve.knots[*k].source));
        if (list.empty()) curves.erase(static_cast<std::size_t>(curve.source_curve));
    });
}

void KnotTool::insert_between() {
    if (session_.curve() >= static_cast<int>(curves_.size()) || session_.knots().size() < 2) return;
    const Curve curve = curves_[session_.curve()];
    edit("Insert knots", {}, [&](Json& curves) {
        Json& list = curves[curve.source_curve]["knots"];
        for (int k = static_cast<int>(curve.knots.size()) - 2; k >= 0; --k) {
            if (!session_.knots().contains(k) || !session_.knots().contains(k + 1)) continue;
            const DVec3 middle = (DVec3(curve.knots[k].at) + DVec3(curve.knots[k + 1].at)) * 0.5;
            list.insert(list.begin() + curve.knots[k].source + 1, Json{{"at", pair_of(middle, curve)}});
        }
    });
}

void KnotTool::set_closed(bool closed) {
    if (session_.curve() >= static_cast<int>(curves_.size())) return;
    const int source = curves_[session_.curve()].source_curve;
    edit(closed ? "Close the curve" : "Open the curve", {}, [&](Json& curves) { curves[source]["closed"] = closed; });
}

void KnotTool::set_comb(bool on) {
    comb_ = on;
    emit changed();
}

void KnotTool::set_on_surfaces(bool on) {
    surfaces_ = on;
    if (on) snap_.gather(session_);
    emit changed();
}

void KnotTool::set_width_handles(bool on) {
    widths_ = on;
    emit changed();
}

bool KnotTool::closed() const { return session_.curve() < static_cast<int>(curves_.size()) && curves_[session_.curve()].closed; }

std::optional<KnotKind> KnotTool::chosen_kind() const {
    std::optional<KnotKind> kind;
    if (session_.curve() >= static_cast<int>(curves_.size())) return kind;
    for (const int k : session_.knots()) {
        if (k >= static_cast<int>(curves_[session_.curve()].knots.size())) continue;
        const KnotKind here = curves_[session_.curve()].knots[k].kind;
        if (kind && *kind != here) return std::nullopt;
        kind = here;
    }
    return kind;
}

std::optional<double> KnotTool::chosen_fillet() const {
    if (session_.curve() >= static_cast<int>(curves_.size())) return std::nullopt;
    for (const int k : session_.knots())
        if (k < static_cast<int>(curves_[session_.curve()].knots.size())) return curves_[session_.curve()].knots[k].fillet;
    return std::nullopt;
}

void KnotTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!active()) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    const QColor ink = theme::color(Role::chosen);
    if (comb_) paint_comb(painter, projector);
    for (int c = 0; c < static_cast<int>(curves_.size()); ++c) {
        const Curve& curve = curves_[c];
        const Polyline line = flatten(curve);
        QPolygonF drawn;
        for (const Vec3& p : line.points) drawn << point(projector.to_screen(DVec3(p)));
        if (line.closed && !drawn.isEmpty()) drawn << drawn.first();
        painter.setPen(QPen(ink, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(drawn);
        const std::vector<Knot> knots = with_handles(curve);
        for (int k = 0; k < static_cast<int>(knots.size()); ++k) {
            const Knot& knot = knots[k];
            const QPointF at = point(projector.to_screen(DVec3(knot.at)));
            const bool chosen = session_.curve() == c && session_.knots().contains(k);
            if (chosen)
                for (const Vec3& handle : {knot.in, knot.out}) {
                    if (glm::length(handle) < 1e-7f) continue;
                    const QPointF end = point(projector.to_screen(DVec3(knot.at + handle)));
                    painter.setPen(QPen(theme::color(Role::act), 1.2));
                    painter.drawLine(at, end);
                    painter.setBrush(theme::color(Role::card));
                    painter.drawEllipse(end, 3.5, 3.5);
                }
            if (chosen && widths_) paint_width(painter, projector, knot);
            painter.setPen(QPen(ink, 1.5));
            painter.setBrush(chosen ? ink : theme::color(Role::card));
            if (knot.kind == KnotKind::corner)
                painter.drawPolygon(QPolygonF({at + QPointF(0, -5), at + QPointF(5, 0), at + QPointF(0, 5), at + QPointF(-5, 0)}));
            else if (knot.kind == KnotKind::smooth)
                painter.drawEllipse(at, 4.2, 4.2);
            else
                painter.drawRect(QRectF(at - QPointF(3.8, 3.8), QSizeF(7.6, 7.6)));
        }
    }
    if (drawing_ && hover_) {
        const QPointF at = point(projector.to_screen(*hover_));
        const int c = session_.curve();
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        if (c < static_cast<int>(curves_.size()) && !curves_[c].closed && !curves_[c].knots.empty())
            painter.drawLine(point(projector.to_screen(DVec3(curves_[c].knots.back().at))), at);
        painter.setPen(QPen(ink, 1.5));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, 5, 5);
        const Curve like = like_curve();
        const std::string unit = session_.recipe().unit;
        painter.setFont(theme::number_font(8.5));
        painter.setPen(theme::color(Role::ink));
        painter.drawText(at + QPointF(10, -8),
                         QString::fromStdString(format_value((*hover_)[like.written[0]], Quantity::length, unit) + ", " +
                                                format_value((*hover_)[like.written[1]], Quantity::length, unit)));
    }
    if (snapped_on_ && (pressed_ || drawing_)) {  // on a place of another part
        const QPointF at = point(projector.to_screen(*snapped_on_));
        painter.setPen(QPen(theme::color(Role::act), 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(at - QPointF(7, 7), QSizeF(14, 14)));
    }
    if (boxing_ && moved_) {
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(point(press_at_), point(now_at_)).normalized());
    }
}

}  // namespace bricol
