// SPDX-License-Identifier: GPL-3.0-or-later
// Drawing and editing the knots of the chosen step's stick figure, in any view.
#pragma once

#include <QMouseEvent>
#include <QObject>
#include <QPainter>
#include <functional>
#include <optional>

#include "app/document/session.h"
#include "app/viewport/camera.h"
#include "core/shape/skeleton.h"

namespace bricol {

class StickTool : public QObject {
    Q_OBJECT
public:
    StickTool(Session& session, QObject* parent);

    /// True when the chosen step has sticks to edit.
    bool active() const { return !key_.empty(); }
    double grid_step = 0.1;

    // Each returns true when the event is used.
    bool press(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool move(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool release(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool double_click(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool key(QKeyEvent* event);
    void paint(QPainter& painter, const Camera& camera, const QSize& size) const;
    /// What the pointer can do now, for the line at the foot of the picture.
    QString hint() const;

    // What the bar and the keys do to the chosen knots.
    void set_pulling_out(bool on);  ///< a pull at a knot draws a new one out of it instead of moving it
    bool pulling_out() const { return pulling_out_; }
    void set_sliding(bool on);  ///< a pull moves knots along their bones only
    bool sliding() const { return sliding_; }
    void insert_before();  ///< a knot in the middle of the bone that leads to each chosen one
    void split(int into);  ///< each chosen knot into two or three along its bone
    void join();           ///< chosen knots into the first of them
    void cut();            ///< takes away the bone that leads to each chosen one
    void remove_chosen();  ///< what hung on a knot then hangs on the one before
    void mark_root();
    void toggle_flat();
    void toggle_joint();
    void choose_all();
    std::size_t chosen_count() const { return session_.knots().size(); }
    bool all_chosen(bool DrawnStick::*what) const;

    const DrawnSticks& knots() const { return knots_; }
    /// Where the grip that sizes a knot both ways is drawn, in pixels.
    glm::dvec2 size_grip(int knot, const Projector& projector, const Camera& camera) const;

signals:
    void changed();

private:
    enum class Grip { none, knot, both, across, over, roll };
    struct Hit {
        int knot = -1;
        Grip grip = Grip::none;
    };
    /// The places of a knot's grips on the picture.
    struct Grips {
        glm::dvec2 middle{0}, both{0}, across{0}, over{0}, roll{0};
        double pixels_per_metre = 1;
    };
    void refresh();
    void read();  ///< the chosen step's sticks, worked out
    Grips grips_of(int knot, const Projector& projector, const Camera& camera) const;
    void paint_bones(QPainter& painter, const Projector& projector) const;
    Hit hit(const glm::dvec2& at, const Projector& projector, const Camera& camera) const;
    /// The knot whose bone is under the pointer, and where on it.
    std::optional<std::pair<int, double>> bone_at(const glm::dvec2& at, const Projector& projector) const;
    int knot_numbered(std::int32_t id) const;
    DVec2 girth_of(int knot) const;
    std::int32_t free_id(const Json& list) const;
    void edit(const QString& name, const QString& merge, const std::function<void(Json&)>& change);
    DVec3 snapped(const DVec3& place, const Projector& projector, const Camera& camera, Qt::KeyboardModifiers) const;
    void begin(const glm::dvec2& at);
    void add_knot(const DVec3& place, int from);
    void move_chosen(const DVec3& by);
    void pull_grip(const glm::dvec2& at, const Projector& projector, const Camera& camera);

    Session& session_;
    std::string key_;    ///< the step's parameter that holds sticks
    DrawnSticks knots_;  ///< worked out from the recipe in hand, in the order written
    double girth_ = 0.05;
    int mirror_ = -1;  ///< axis across which it is mirrored
    bool pulling_out_ = true, sliding_ = false, pressed_ = false, moved_ = false, boxing_ = false, drew_ = false;
    Hit held_, hot_;
    glm::dvec2 press_at_{0}, now_at_{0};
    DVec3 press_place_{0};
    Json before_;
    DrawnSticks knots_before_;
    int drag_number_ = 0;
};

}  // namespace bricol
