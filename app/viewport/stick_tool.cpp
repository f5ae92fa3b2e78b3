// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/stick_tool.h"

#include <algorithm>
#include <cmath>

#include "app/viewport/knot_numbers.h"
#include "app/viewport/stick_actions.h"

namespace bricol {

namespace {

constexpr double stick_reach = 9;  // pixels within which something is meant

}  // namespace

StickTool::StickTool(Session& session, QObject* parent) : QObject(parent), session_(session) {
    connect(&session, &Session::recipeChanged, this, &StickTool::refresh);
    connect(&session, &Session::choiceChanged, this, [this] {
        pulling_out_ = true, sliding_ = false;
        refresh();
    });
    connect(&session, &Session::knotsChanged, this, &StickTool::changed);
}

void StickTool::refresh() {
    read();
    emit changed();
}

void StickTool::read() {
    key_.clear();
    knots_.clear();
    const Part* part = session_.chosen_part();
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    const ParameterInfo* sticks = info ? info->parameter_of(ParameterKind::sticks) : nullptr;
    if (!sticks) return;
    key_ = sticks->key;
    std::vector<Finding> findings;
    const Values values = session_.resolver().parameters(*part, *step, *info, findings);
    knots_ = std::get<DrawnSticks>(values.find(key_)->second);
    if (const auto girth = values.find("girth"); girth != values.end()) girth_ = std::get<double>(girth->second);
    mirror_ = -1;
    if (const auto mirror = values.find("mirror"); mirror != values.end())
        if (const auto& axis = std::get<std::string>(mirror->second); axis != "none") mirror_ = axis[0] - 'x';
    // A list with knots that cannot be read is not edited by numbers that mean others.
    const Json& written = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    if (written.is_array() && written.size() != knots_.size()) key_.clear(), knots_.clear();
}

int StickTool::knot_numbered(std::int32_t id) const {
    for (std::size_t k = 0; k < knots_.size(); ++k)
        if (knots_[k].id == id) return static_cast<int>(k);
    return -1;
}

DVec2 StickTool::girth_of(int k) const { return knots_[k].girth.x < 0 ? DVec2(girth_) : knots_[k].girth; }

std::int32_t StickTool::free_id(const Json& list) const {
    std::int32_t most = 0;
    for (std::size_t k = 0; k < list.size(); ++k)
        most = std::max(most, list[k].is_object() && list[k].contains("id") && list[k]["id"].is_number_integer()
                                  ? list[k]["id"].get<std::int32_t>()
                                  : static_cast<std::int32_t>(k + 1));
    return most + 1;
}

void StickTool::edit(const QString& name, const QString& merge, const std::function<void(Json&)>& change) {
    const Step* step = session_.chosen_step();
    if (!step || key_.empty()) return;
    Json list = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    if (!list.is_array()) list = Json::array();
    for (std::size_t k = 0; k < list.size() && k < knots_.size(); ++k)  // so that places in the list may change
        if (list[k].is_object() && !list[k].contains("id")) list[k]["id"] = knots_[k].id;
    change(list);
    session_.edit(set_setting(session_.recipe(), session_.part(), step->id, key_, list), name, merge);
}

StickTool::Hit StickTool::hit(const glm::dvec2& at, const Projector& projector, const Camera& camera) const {
    Hit best;
    double nearest = stick_reach;
    for (int k = 0; k < static_cast<int>(knots_.size()); ++k)
        if (const double far = glm::distance(projector.to_screen(knots_[k].at), at); far < nearest)
            nearest = far, best = {k, Grip::knot};
    if (best.knot >= 0) return best;
    for (const int k : session_.knots()) {
        if (k >= static_cast<int>(knots_.size())) continue;
        const Grips grips = grips_of(k, projector, camera);
        for (const auto& [grip, place] : {std::pair{Grip::both, grips.both},
                                          {Grip::across, grips.across},
                                          {Grip::over, grips.over},
                                          {Grip::roll, grips.roll}})
            if (const double far = glm::distance(place, at); far < nearest) nearest = far, best = {k, grip};
    }
    return best;
}

std::optional<std::pair<int, double>> StickTool::bone_at(const glm::dvec2& at, const Projector& projector) const {
    std::optional<std::pair<int, double>> best;
    double nearest = stick_reach;
    for (int k = 0; k < static_cast<int>(knots_.size()); ++k) {
        const int from = knots_[k].from < 0 ? -1 : knot_numbered(knots_[k].from);
        if (from < 0) continue;
        const glm::dvec2 a = projector.to_screen(knots_[from].at), b = projector.to_screen(knots_[k].at), way = b - a;
        const double size = glm::dot(way, way);
        if (size <= 0) continue;
        const double t = std::clamp(glm::dot(at - a, way) / size, 0.0, 1.0);
        if (const double far = glm::distance(a + way * t, at); far < nearest && t > 0.02 && t < 0.98)
            nearest = far, best = {{k, t}};
    }
    return best;
}

DVec3 StickTool::snapped(const DVec3& place, const Projector& projector, const Camera& camera,
                         Qt::KeyboardModifiers keys) const {
    if ((keys & Qt::ControlModifier) || !camera.flat()) return place;
    const glm::dvec2 here = projector.to_screen(place);
    DVec3 out = place;
    for (int axis = 0; axis < 3; ++axis) {
        if (std::abs(camera.direction()[axis]) > 0.9) continue;  // the one the view looks along
        DVec3 on_grid = out;
        on_grid[axis] = std::round(out[axis] / (grid_step / 2)) * grid_step / 2;
        if (glm::distance(projector.to_screen(on_grid), here) < stick_reach * 0.7) out = on_grid;
    }
    return out;
}

void StickTool::begin(const glm::dvec2& at) {
    press_at_ = now_at_ = at;
    pressed_ = true;
    moved_ = boxing_ = drew_ = false;
    ++drag_number_;
    const Step* step = session_.chosen_step();
    before_ = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    knots_before_ = knots_;
}

void StickTool::add_knot(const DVec3& place, int from) {
    edit(from < 0 ? "Set the first knot" : "Pull out a knot", QString("sticks %1").arg(drag_number_), [&](Json& list) {
        Json knot{{"id", free_id(list)}, {"at", Json::array({rounded(place.x), rounded(place.y), rounded(place.z)})}};
        if (from >= 0) {
            knot["from"] = knots_[from].id;
            if (list[from].contains("girth")) knot["girth"] = list[from]["girth"];  // as thick as what it comes out of
        }
        list.push_back(knot);
    });
    before_ = session_.chosen_step()->settings[key_];
    knots_before_ = knots_;
    const int made = static_cast<int>(knots_.size()) - 1;
    session_.choose_knots(0, {made});
    held_ = {made, Grip::knot};
    drew_ = true;
}

bool StickTool::press(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    begin(at);
    held_ = hit(at, projector, camera);
    if (held_.grip == Grip::none) {
        DVec3 place;
        if (knots_.empty() && projector.on_plane(at, DVec3(0), camera.direction(), place)) {
            add_knot(snapped(place, projector, camera, event->modifiers()), -1);
            press_place_ = place;
        } else {
            boxing_ = true;
        }
        return true;
    }
    press_place_ = knots_[held_.knot].at;
    if (held_.grip == Grip::knot) {
        std::set<int> chosen = session_.knots();
        if (event->modifiers() & Qt::ShiftModifier) {
            if (!chosen.erase(held_.knot)) chosen.insert(held_.knot);
        } else if (!chosen.contains(held_.knot)) {
            chosen = {held_.knot};
        }
        session_.choose_knots(0, chosen);
    }
    emit changed();
    return true;
}

bool StickTool::move(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active()) return false;
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    if (!pressed_) {
        const Hit now = hit(at, projector, camera);
        if (now.knot != hot_.knot || now.grip != hot_.grip) hot_ = now, emit changed();
        return false;
    }
    now_at_ = at;
    if (!moved_ && glm::distance(at, press_at_) < 3) return true;
    const bool first = !moved_;
    moved_ = true;
    if (boxing_) {
        emit changed();
        return true;
    }
    if (held_.grip != Grip::knot) {
        pull_grip(at, projector, camera);
        return true;
    }
    DVec3 place;
    if (!projector.on_plane(at, press_place_, camera.direction(), place)) return true;
    place = snapped(place, projector, camera, event->modifiers());
    if (first && pulling_out_ && !drew_ && !(event->modifiers() & Qt::AltModifier)) {
        add_knot(place, held_.knot);
        return true;
    }
    move_chosen(place - (drew_ ? knots_before_[held_.knot].at : press_place_));
    return true;
}

void StickTool::move_chosen(const DVec3& by) {
    const auto written = [&](Json& list, int k, const DVec3& way) {
        for (std::size_t i = 0; i < 3; ++i) list[k]["at"][i] = moved_number(list[k]["at"][i], way[static_cast<int>(i)]);
    };
    edit(sliding_ ? "Slide a knot" : "Move a knot", QString("sticks %1").arg(drag_number_), [&](Json& list) {
        Json ids = Json::array();
        for (const Json& knot : list) ids.push_back(knot.value("id", 0));
        list = before_;
        for (std::size_t k = 0; k < list.size() && k < ids.size(); ++k)
            if (!list[k].contains("id")) list[k]["id"] = ids[k];
        for (const int k : session_.knots()) {
            if (k >= static_cast<int>(list.size())) continue;
            DVec3 way = by;
            const int from = sliding_ ? knot_numbered(knots_before_[k].from) : -1;
            if (from >= 0) {  // between the knot before and a little beyond its own place
                const DVec3 bone = knots_before_[k].at - knots_before_[from].at;
                const double length = glm::length(bone);
                if (length > 0) way = bone / length * std::max(glm::dot(by, bone / length), -0.98 * length);
            }
            written(list, k, way);
        }
    });
}

bool StickTool::release(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!pressed_ || event->button() != Qt::LeftButton) return false;
    pressed_ = false;
    session_.part_edits();
    if (boxing_) {
        boxing_ = false;
        const Projector projector(camera, size.width(), size.height());
        const QRectF box = QRectF(point(press_at_), point(now_at_)).normalized();
        std::set<int> chosen;
        if (event->modifiers() & Qt::ShiftModifier) chosen = session_.knots();
        for (int k = 0; moved_ && k < static_cast<int>(knots_.size()); ++k)
            if (box.contains(point(projector.to_screen(knots_[k].at)))) chosen.insert(k);
        session_.choose_knots(0, chosen);
    }
    emit changed();
    return true;
}

bool StickTool::double_click(QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    const glm::dvec2 at{event->position().x(), event->position().y()};
    if (hit(at, projector, camera).grip != Grip::none) return true;
    const auto bone = bone_at(at, projector);
    if (!bone) return false;
    const auto [k, t] = *bone;
    const int from = knot_numbered(knots_[k].from);
    edit("Insert a knot", {}, [&, k = k, t = t](Json& list) {
        const DVec3 place = glm::mix(knots_[from].at, knots_[k].at, t);
        const DVec2 girth = girth_of(from) + (girth_of(k) - girth_of(from)) * t;
        const std::int32_t id = free_id(list);
        Json fresh{{"id", id},
                   {"from", knots_[from].id},
                   {"at", Json::array({rounded(place.x), rounded(place.y), rounded(place.z)})},
                   {"girth", Json::array({rounded(girth.x), rounded(girth.y)})}};
        if (girth.x == girth.y) fresh["girth"] = rounded(girth.x);
        list[k]["from"] = id;
        list.push_back(fresh);
    });
    session_.choose_knots(0, {static_cast<int>(knots_.size()) - 1});
    return true;
}

bool StickTool::key(QKeyEvent* event) {
    if (!active()) return false;
    if (event->key() == Qt::Key_Escape) {
        if (session_.knots().empty()) return false;
        session_.choose_knots(0, {});
        return true;
    }
    const bool arrow = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right || event->key() == Qt::Key_Up ||
                       event->key() == Qt::Key_Down;
    if (arrow && !session_.knots().empty()) {
        const double step = grid_step * (event->modifiers() & Qt::ShiftModifier     ? 1
                                         : event->modifiers() & Qt::ControlModifier ? 0.01
                                                                                    : 0.1);
        begin({0, 0});
        pressed_ = false;
        const bool across = event->key() == Qt::Key_Left || event->key() == Qt::Key_Right;
        const double sign = event->key() == Qt::Key_Left || event->key() == Qt::Key_Down ? -1 : 1;
        move_chosen((across ? DVec3(1, 0, 0) : DVec3(0, 0, 1)) * (sign * step));
        session_.part_edits();
        return true;
    }
    return run_by_key(stick_actions(), *this, *event);
}

QString StickTool::hint() const {
    if (knots_.empty()) return "Click to set the first knot";
    if (session_.knots().empty())
        return pulling_out_ ? "Pull a knot to draw a new one out of it · click to choose · double-click a bone for a "
                              "knot on it · Alt moves"
                            : "Pull a knot to move it · click to choose · double-click a bone for a knot on it";
    return "Pull the ring's grips for its girth, the tick for its roll · I inserts · 2 and 3 split · Esc ends";
}

}  // namespace bricol
