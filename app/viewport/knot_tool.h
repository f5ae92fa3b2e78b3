// SPDX-License-Identifier: GPL-3.0-or-later
// Drawing and editing the knots of the chosen step's curves, in any view.
#pragma once

#include <QMouseEvent>
#include <QObject>
#include <QPainter>
#include <functional>
#include <optional>

#include "app/document/session.h"
#include "app/viewport/camera.h"
#include "app/viewport/knot_snap.h"

namespace bricol {

class KnotTool : public QObject {
    Q_OBJECT
public:
    KnotTool(Session& session, QObject* parent);

    /// True when the chosen step has curves to edit.
    bool active() const { return !key_.empty(); }
    bool drawing() const { return drawing_; }
    void set_drawing(bool on);
    double grid_step = 0.1;

    // Each returns true when the event is used.
    bool press(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool move(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool release(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool double_click(QMouseEvent* event, const Camera& camera, const QSize& size);
    bool key(QKeyEvent* event);
    void paint(QPainter& painter, const Camera& camera, const QSize& size) const;

    // What the knot bar and the menu do to the chosen knots.
    void set_kind(KnotKind kind);
    void set_fillet(double radius);
    void align(int written_axis);  ///< gives all chosen knots the mean of one of their two numbers
    void remove_chosen();
    void insert_between();  ///< a knot in the middle of every span between chosen neighbours
    void set_closed(bool closed);
    void split();            ///< the curve at the chosen knots, which then end one curve and begin the next
    void join();             ///< the chosen end to the nearest end of another curve of the step
    void reverse();          ///< the curve run the other way
    void set_comb(bool on);  ///< shows how strongly the curves bend
    bool comb() const { return comb_; }
    void set_width_handles(bool on);  ///< shows and pulls the width and roll of chosen knots
    bool width_handles() const { return widths_; }
    void set_on_surfaces(bool on);  ///< knots are set on what other parts show under the pointer, off the drawing plane
    bool on_surfaces() const { return surfaces_; }
    void set_choosing_plane(bool on);  ///< the next click takes the plane of another part's face as the drawing plane
    bool choosing_plane() const { return choosing_plane_; }
    /// The plane being drawn in when it is none of the flat views' planes.
    const DrawPlane* own_plane() const { return active() && own_plane_ ? &plane_ : nullptr; }
    bool has_plane() const { return has_plane_; }  ///< the step can be drawn in a plane of its own
    bool closed() const;
    std::size_t chosen_count() const { return session_.knots().size(); }
    void choose_all();
    std::optional<KnotKind> chosen_kind() const;
    std::optional<double> chosen_fillet() const;

    const std::vector<Curve>& curves() const { return curves_; }
    void refresh();

signals:
    void changed();
    /// The drawing plane became another one: it is best looked at along `normal`.
    void planeChosen(const DVec3& at, const DVec3& normal);

private:
    struct Hit {
        int curve = -1, knot = -1;
        int handle = 0;  ///< 0 the knot, 1 in, 2 out, 3 its width and roll
    };
    Hit hit(const glm::dvec2& at, const Projector& projector) const;
    bool leave();                        ///< one thing in hand after the other; false when there is none
    bool nudge(const QKeyEvent& event);  ///< the chosen knots, by an arrow key
    struct SpanHit {
        int curve = -1, after = -1;
        double t = 0;
        DVec3 place{0};
    };
    SpanHit span_at(const glm::dvec2& at, const Projector& projector) const;
    bool place_under(const glm::dvec2& at, const Projector& projector, const Curve* curve, const DVec3& origin,
                     DVec3& out) const;
    DVec3 snapped(DVec3 place, const Curve& like, const Projector& projector, Qt::KeyboardModifiers keys) const;
    void choose_plane(const glm::dvec2& at, const Projector& projector, const DVec3& eye);
    /// Drawing goes on from the first knot, because that end is chosen.
    bool from_start() const;
    DVec3 held_straight(const DVec3& from, const DVec3& to, const Curve& like) const;
    Curve like_curve() const;
    /// Changes the list of curves as JSON and sends it as one edit.
    bool on_other_end() const;
    void draw_knot(const QMouseEvent* event, const Projector& projector, const DVec3& eye);
    int add_knot(int curve, bool front, const Json& at);
    void edit(const QString& name, const QString& merge, const std::function<void(Json&)>& change);
    void move_chosen(const DVec3& by, int numbers = 2);
    void move_handle(const DVec3& to);
    void pull_width(const glm::dvec2& at, const Projector& projector);
    /// Where the grip of a knot's width and roll is drawn.
    glm::dvec2 width_grip(const Knot& knot, const Projector& projector) const;
    void paint_comb(QPainter& painter, const Projector& projector) const;
    void paint_width(QPainter& painter, const Projector& projector, const Knot& knot) const;

    Session& session_;
    std::string key_;            ///< the step's parameter that holds curves
    std::vector<Curve> curves_;  ///< worked out from the recipe in hand
    DrawPlane plane_;            ///< that new knots are set in
    bool drawing_ = false, pressed_ = false, moved_ = false, boxing_ = false, new_knot_ = false;
    Hit held_;
    glm::dvec2 press_at_{0}, now_at_{0};
    DVec3 press_place_{0};
    Json before_;  ///< curves as they were when the drag began
    std::vector<Curve> curves_before_;
    std::optional<DVec3> hover_;
    KnotSnap snap_;
    mutable std::optional<DVec3> snapped_on_;  ///< the place of another part that the knot in hand lies on
    bool comb_ = false, widths_ = false, surfaces_ = false, choosing_plane_ = false, has_plane_ = false,
         own_plane_ = false;
    int drag_number_ = 0;
};

}  // namespace bricol
