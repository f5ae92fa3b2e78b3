// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/pick_tool.h"

#include <algorithm>
#include <cmath>

#include "app/viewport/pick_actions.h"
#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "core/kernels/cut_loops.h"
#include "core/kernels/normals.h"
#include "core/kernels/triangulate.h"

namespace bricol {

namespace {

const char* place_key(Domain domain) {
    return domain == Domain::vertex ? "vertex"
           : domain == Domain::edge ? "edge"
           : domain == Domain::face ? "face"
                                    : "point";
}

double tidy_metres(double metres) { return std::round(metres * 1e6) / 1e6; }
Json triple(const DVec3& v, double (*round)(double) = tidy_metres) {
    return Json::array({round(v.x), round(v.y), round(v.z)});
}

Json place_json(const Place& place) {
    Json json{{place_key(place.element), triple(place.at)}};
    if (place.share) json["share"] = triple(*place.share);
    if (place.number) json["number"] = *place.number, json["of"] = place.topology;
    if (place.facing) json["facing"] = triple(*place.facing, [](double v) { return std::round(v * 1e4) / 1e4; });
    return json;
}

}  // namespace

PickTool::PickTool(Session& session, Renderer* renderer, QObject* parent)
    : QObject(parent), session_(session), renderer_(renderer) {
    connect(&session, &Session::recipeChanged, this, &PickTool::refresh);
    connect(&session, &Session::madeChanged, this, &PickTool::refresh);
    connect(&session, &Session::choiceChanged, this, [this] {
        const std::string before = key_;
        gesture_ = Gesture::none;
        typed_.clear();
        typing_ = false;
        cage_chosen_.clear();
        refresh();
        if (!active()) picking_ = false;
    });
}

void PickTool::refresh() {
    key_.clear();
    kinds_.clear();
    moves_ = cage_ = false;
    places_.clear();
    elements_.clear();
    place_of_.clear();
    domain_of_.clear();
    lost_.clear();
    cage_points_.clear();
    cage_index_.clear();
    const Part* part = session_.chosen_part();
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if (!info || step->skipped) return;
    std::vector<Finding> ignored;
    const Values values = session_.resolver().parameters(*part, *step, *info, ignored);
    const ParameterInfo* parameter = nullptr;
    for (const ParameterInfo& p : info->parameters)
        if (p.kind == ParameterKind::places && asked_for(*info, p, values)) parameter = &p;
    const StepOutcome* before =
        session_.outcome(session_.part(), source_of(*part, step_index(*part, step->id), "shape"));
    if (!parameter || !before) {
        emit changed();
        return;
    }
    key_ = parameter->key;
    cage_ = !parameter->cage.empty();
    moves_ = cage_ || parameter->picks.ends_with("|moved");
    for (const auto& [word, domain] :
         {std::pair{"vertices", Domain::vertex}, {"edges", Domain::edge}, {"faces", Domain::face}})
        if (parameter->picks.find(word) != std::string_view::npos) kinds_.push_back(domain);
    if (!kinds_.empty() && std::ranges::find(kinds_, kind_) == kinds_.end()) kind_ = kinds_.back();
    places_ = std::get<std::vector<Place>>(values.find(key_)->second);
    input_ = before->shape->mesh;
    mesh_ = input_;
    const StepOutcome* after = session_.outcome(session_.part(), step->id);
    if (after && after->shape->mesh.topology == input_.topology) mesh_ = after->shape->mesh;
    if (cage_) {
        const auto counts = values.find(parameter->cage);
        const auto box = box_of(*before->shape);
        if (counts == values.end() || !box) return;
        const DVec3 n = glm::clamp(glm::round(std::get<DVec3>(counts->second)), DVec3(2), DVec3(16));
        for (int k = 0; k < n.z; ++k)
            for (int j = 0; j < n.y; ++j)
                for (int i = 0; i < n.x; ++i) {
                    DVec3 at = box->low + box->size() * DVec3(i, j, k) / (n - 1.0);
                    for (const Place& place : places_)
                        if (glm::round(place.at) == DVec3(i, j, k)) at += place.move;
                    cage_points_.push_back(at);
                    cage_index_.push_back({i, j, k});
                }
        emit changed();
        return;
    }
    const FoundPlaces found = found_places(input_, places_);
    for (std::size_t k = 0; k < places_.size(); ++k) {
        if (found.element[k] == no_index) {
            lost_.push_back(places_[k].at);
            continue;
        }
        elements_.push_back(found.element[k]);
        place_of_.push_back(k);
        domain_of_.push_back(places_[k].element);
    }
    seen_from_ = glm::dmat4(0);
    hover_ = no_index;
    emit changed();
}

void PickTool::set_picking(bool on) {
    picking_ = on && active();
    gesture_ = Gesture::none;
    // What is picked on must be what is seen.
    if (picking_ && session_.peek() != session_.step()) session_.set_peek(session_.step());
    if (!picking_ && !on && session_.peek() == session_.step()) session_.set_peek("");
    emit changed();
}

void PickTool::set_kind(Domain kind) {
    if (std::ranges::find(kinds_, kind) == kinds_.end()) return;
    kind_ = kind;
    hover_ = no_index;
    emit changed();
}

void PickTool::set_with(PickWith with) {
    with_ = with;
    emit changed();
}

void PickTool::set_see_through(bool on) {
    through_ = on;
    emit changed();
}

// ---- changing what is picked ------------------------------------------------------------------------------------

PickTool::Add PickTool::how_of(Qt::KeyboardModifiers keys) {
    return keys & Qt::ControlModifier ? Add::take : keys & Qt::ShiftModifier ? Add::add : Add::replace;
}

Mask PickTool::picked_mask() const {
    Mask mask(mesh_.domain_sizes()[static_cast<std::size_t>(kind_)], 0);
    for (std::size_t i = 0; i < elements_.size(); ++i)
        if (domain_of_[i] == kind_ && elements_[i] < mask.size()) mask[elements_[i]] = 1;
    return mask;
}

void PickTool::pick(const std::vector<Index>& wanted, Add how, const QString& name, const QString& merge) {
    const Step* step = session_.chosen_step();
    if (!step) return;
    Json before =
        step->settings.contains(key_) && step->settings[key_].is_array() ? step->settings[key_] : Json::array();
    std::map<std::pair<Domain, Index>, std::size_t> known;
    for (std::size_t i = 0; i < elements_.size(); ++i) known[{domain_of_[i], elements_[i]}] = place_of_[i];
    Json after = Json::array();
    std::set<std::size_t> kept;
    const std::set<Index> now(wanted.begin(), wanted.end());
    if (how != Add::replace)
        for (std::size_t k = 0; k < before.size(); ++k) kept.insert(k);
    for (const Index element : now) {
        const auto found = known.find({kind_, element});
        if (found == known.end()) continue;
        if (how == Add::take)
            kept.erase(found->second);
        else
            kept.insert(found->second);
    }
    for (const std::size_t k : kept)
        if (k < before.size()) after.push_back(before[k]);
    if (how != Add::take) {
        if (after.size() + now.size() > 20000) {
            session_.say(
                "More than 20 000 picked places. A rule such as “in a box” or “facing a way” names as many as you "
                "like.",
                true);
            return;
        }
        const Pinner pinner(input_);
        for (const Index element : now)
            if (!known.contains({kind_, element})) after.push_back(place_json(pinner.pinned(kind_, element)));
    }
    session_.edit(set_setting(session_.recipe(), session_.part(), step->id, key_, after), name, merge);
}

void PickTool::set_picks(const Mask& mask, const QString& name) {
    std::vector<Index> list;
    for (Index i = 0; i < mask.size(); ++i)
        if (mask[i]) list.push_back(i);
    pick(list, Add::replace, name);
}

void PickTool::grow() { set_picks(grown(mesh_, kind_, picked_mask(), 1), "Grow the picks"); }
void PickTool::shrink() { set_picks(shrunk(mesh_, kind_, picked_mask(), 1), "Shrink the picks"); }
void PickTool::everything() { set_picks(Mask(picked_mask().size(), 1), "Pick everything"); }
void PickTool::clear() { pick({}, Add::replace, "Clear the picks"); }

void PickTool::loop() {
    if (kind_ != Domain::edge) return;
    Mask mask = picked_mask();
    for (const Index e : std::vector<Index>(elements_))
        if (e < mask.size())
            for (const Index other : edge_loop(mesh_, e)) mask[other] = 1;
    set_picks(mask, "Pick loops");
}

void PickTool::ring() {
    if (kind_ != Domain::edge) return;
    Mask mask = picked_mask();
    for (const Index e : std::vector<Index>(elements_))
        if (e < mask.size())
            for (const Index other : edge_ring(mesh_, e)) mask[other] = 1;
    set_picks(mask, "Pick rings");
}

void PickTool::same_facing() {
    if (kind_ != Domain::face) return;
    Mask mask = picked_mask();
    const Array<Vec3> flat = face_normals(mesh_);
    for (Index f = 0; f < mask.size(); ++f)
        for (std::size_t i = 0; i < elements_.size() && !mask[f]; ++i)
            if (domain_of_[i] == Domain::face) mask[f] = glm::dot(flat[f], flat[elements_[i]]) > 0.996f;  // 5 degrees
    set_picks(mask, "Pick faces that look the same way");
}

DVec3 PickTool::middle() const {
    DVec3 sum(0);
    if (cage_) {
        for (const int i : cage_chosen_) sum += cage_points_[i];
        return cage_chosen_.empty() ? sum : sum / static_cast<double>(cage_chosen_.size());
    }
    for (std::size_t i = 0; i < elements_.size(); ++i) sum += middle_of(mesh_, domain_of_[i], elements_[i]);
    return elements_.empty() ? sum : sum / static_cast<double>(elements_.size());
}

void PickTool::move_picks(const DVec3& by) {
    const Part* part = recipe_before_.part(session_.part());
    const Step* step = part ? find_step(*part, session_.step()) : nullptr;
    if (!step) return;
    Json places = step->settings.contains(key_) ? step->settings[key_] : Json::array();
    const auto shift = [&](Json& place) {
        Json move = place.contains("move") ? place["move"] : Json::array({0, 0, 0});
        for (int i = 0; i < 3; ++i)
            move[i] = move[i].is_string()
                          ? Json(with_offset(move[i].get<std::string>(), by[i]))
                          : Json(tidy_metres((move[i].is_number() ? move[i].get<double>() : 0) + by[i]));
        place["move"] = move;
    };
    if (cage_) {
        for (const int i : cage_chosen_) {
            const auto& n = cage_index_[i];
            Json* found = nullptr;
            for (Json& place : places)
                if (place.is_object() && place.contains("point") && place["point"] == Json::array({n[0], n[1], n[2]}))
                    found = &place;
            if (!found) found = &places.emplace_back(Json{{"point", {n[0], n[1], n[2]}}});
            shift(*found);
        }
    } else {
        for (Json& place : places) shift(place);
    }
    session_.edit(set_setting(recipe_before_, session_.part(), session_.step(), key_, places), "Nudge",
                  QString("nudge %1").arg(gesture_number_));
}

// ---- the hand ---------------------------------------------------------------------------------------------------

bool PickTool::press(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!active() || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    from_ = now_ = {event->position().x(), event->position().y()};
    moved_ = false;
    typing_ = false;
    typed_.clear();
    ++gesture_number_;
    const bool plain = !(event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier));
    const auto start_pull = [&](int grip) {
        gesture_ = Gesture::pull;
        grip_ = grip;
        pull_from_ = middle();
        pulled_ = DVec3(0);
        recipe_before_ = session_.recipe();
        emit changed();
        return true;
    };
    if (moves_ && (cage_ ? !cage_chosen_.empty() : !elements_.empty()))
        if (const int grip = arrows::hit(middle(), projector, from_); grip != arrows::none) return start_pull(grip);
    if (cage_) {
        for (int i = 0; i < static_cast<int>(cage_points_.size()); ++i)
            if (glm::distance(projector.to_screen(cage_points_[i]), from_) < pick_reach) {
                if (plain && !cage_chosen_.contains(i)) cage_chosen_.clear();
                if (event->modifiers() & Qt::ControlModifier)
                    cage_chosen_.erase(i);
                else
                    cage_chosen_.insert(i);
                return start_pull(arrows::knob);
            }
        if (plain) cage_chosen_.clear();
        gesture_ = Gesture::region;
        trail_ = QPolygonF({point(from_)});
        emit changed();
        return true;
    }
    if (!picking_) return false;
    look(camera, size);
    const Index under = element_under(from_, projector);
    if (moves_ && plain && under != no_index && picked_mask()[under]) return start_pull(arrows::knob);
    gesture_ = with_ == PickWith::paint ? Gesture::paint : Gesture::region;
    trail_ = QPolygonF({point(from_)});
    if (gesture_ == Gesture::paint) {
        const auto near = [this](const QPointF& p) { return std::hypot(p.x() - now_.x, p.y() - now_.y) < brush; };
        std::vector<Index> hit = inside(near, projector);
        if (under != no_index) hit.push_back(under);
        pick(hit, event->modifiers() & Qt::ControlModifier ? Add::take : Add::add, "Paint picks",
             QString("paint %1").arg(gesture_number_));
    }
    return true;
}

bool PickTool::move(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    const Projector projector(camera, size.width(), size.height());
    now_ = {event->position().x(), event->position().y()};
    if (gesture_ == Gesture::none) {
        if (!active()) return false;
        const int before = hot_;
        hot_ = moves_ && (cage_ ? !cage_chosen_.empty() : !elements_.empty()) ? arrows::hit(middle(), projector, now_)
                                                                              : arrows::none;
        const Index hovered = hover_;
        if (picking_ && !cage_ && !(event->buttons() & (Qt::RightButton | Qt::MiddleButton))) {
            look(camera, size);
            hover_ = element_under(now_, projector);
        }
        if (hot_ != before || hover_ != hovered) emit changed();
        return false;
    }
    if (!moved_ && glm::distance(now_, from_) < 3) return true;
    moved_ = true;
    if (gesture_ == Gesture::pull) {
        if (cage_ ? cage_chosen_.empty() : elements_.empty()) return true;
        DVec3 by = arrows::pulled(pull_from_, grip_, camera, projector, from_, now_);
        if (!(event->modifiers() & Qt::ControlModifier))
            for (int i = 0; i < 3; ++i)
                if (by[i] != 0) by[i] = arrows::snapped(by[i], grid_step / 20);
        pulled_ = by;
        move_picks(by);
        return true;
    }
    trail_ << point(now_);
    if (gesture_ == Gesture::paint) {
        const auto near = [this](const QPointF& p) { return std::hypot(p.x() - now_.x, p.y() - now_.y) < brush; };
        std::vector<Index> hit = inside(near, projector);
        if (const Index under = element_under(now_, projector); under != no_index) hit.push_back(under);
        if (!hit.empty())
            pick(hit, event->modifiers() & Qt::ControlModifier ? Add::take : Add::add, "Paint picks",
                 QString("paint %1").arg(gesture_number_));
    }
    emit changed();
    return true;
}

bool PickTool::release(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (gesture_ == Gesture::none || event->button() != Qt::LeftButton) return false;
    const Gesture done = gesture_;
    gesture_ = Gesture::none;
    const Projector projector(camera, size.width(), size.height());
    session_.part_edits();
    if (done == Gesture::pull) {
        typing_ = true;
        emit changed();
        return true;
    }
    if (done == Gesture::paint) {
        emit changed();
        return true;
    }
    const QRectF box = QRectF(point(from_), point(now_)).normalized();
    const bool lasso = with_ == PickWith::lasso && !cage_;
    const auto region = [&](const QPointF& p) {
        return lasso ? trail_.containsPoint(p, Qt::OddEvenFill) : box.contains(p);
    };
    if (cage_) {
        if (moved_)
            for (int i = 0; i < static_cast<int>(cage_points_.size()); ++i)
                if (region(point(projector.to_screen(cage_points_[i])))) cage_chosen_.insert(i);
        emit changed();
        return true;
    }
    const Add how = how_of(event->modifiers());
    if (moved_) {
        look(camera, size);
        pick(inside(region, projector), how, lasso ? "Pick with a lasso" : "Pick in a box");
    } else if (const Index under = element_under(from_, projector); under != no_index) {
        const bool again = how == Add::add && picked_mask()[under];  // Shift on a picked one lets it go
        pick({under}, again ? Add::take : how, "Pick");
    } else if (how == Add::replace && !elements_.empty()) {
        clear();
    }
    emit changed();
    return true;
}

bool PickTool::double_click(const QMouseEvent* event, const Camera& camera, const QSize& size) {
    if (!picking_ || cage_ || kind_ != Domain::edge || event->button() != Qt::LeftButton) return false;
    const Projector projector(camera, size.width(), size.height());
    look(camera, size);
    const Index under = element_under({event->position().x(), event->position().y()}, projector);
    if (under == no_index) return false;
    pick(edge_loop(mesh_, under), how_of(event->modifiers()), "Pick a loop");
    return true;
}

bool PickTool::key(const QKeyEvent* event, const Camera&, const QSize&) {
    if (!active()) return false;
    if (typing_ || gesture_ == Gesture::pull) {
        if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && !typed_.empty()) {
            const auto distance = typed_.value(Quantity::length, session_.recipe().unit);
            typed_.clear();
            if (!distance) {
                session_.say("That is not a length Bricol can read. Type figures, with a unit if you like.", true);
                return true;
            }
            // As far as typed, the way it was pulled.
            const double length = glm::length(pulled_);
            const DVec3 way = grip_ >= 0 && grip_ < 3 ? [&] { DVec3 a(0); a[grip_] = 1; return a; }() : length > 0 ? pulled_ / length : DVec3(0, 0, 1);
            move_picks(way * *distance);
            session_.part_edits();
            typing_ = false;
            gesture_ = Gesture::none;
            emit changed();
            return true;
        }
        if (event->key() == Qt::Key_Escape && gesture_ == Gesture::pull) {
            move_picks(DVec3(0));
            gesture_ = Gesture::none;
            emit changed();
            return true;
        }
        if (typed_.take(event)) {
            emit changed();
            return true;
        }
    }
    if (cage_) {
        if (event->key() == Qt::Key_Escape && !cage_chosen_.empty()) {
            cage_chosen_.clear();
            emit changed();
            return true;
        }
        return false;
    }
    const bool done = event->key() == Qt::Key_Escape || event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (done && picking_) {
        set_picking(false);
        return true;
    }
    return run_by_key(pick_actions(), *this, *event);
}

}  // namespace bricol
