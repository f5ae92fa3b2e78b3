// SPDX-License-Identifier: GPL-3.0-or-later
// Picking vertices, edges and faces for the chosen step, and pulling what was picked.
#pragma once

#include <QMouseEvent>
#include <QObject>
#include <QPainter>
#include <QPolygonF>
#include <functional>

#include "app/document/session.h"
#include "app/viewport/arrows.h"
#include "app/viewport/renderer.h"
#include "app/viewport/typed_number.h"
#include "core/kernels/choose.h"

namespace bricol {

enum class PickWith { box, lasso, paint };

class PickTool : public QObject {
    Q_OBJECT
public:
    PickTool(Session& session, Renderer* renderer, QObject* parent);

    /// True when the chosen step remembers picked places just now.
    bool active() const { return !key_.empty(); }
    bool picking() const { return picking_; }
    void set_picking(bool on);
    /// Elements that can be picked, and the kind in hand.
    const std::vector<Domain>& kinds() const { return kinds_; }
    Domain kind() const { return kind_; }
    void set_kind(Domain kind);
    PickWith with() const { return with_; }
    void set_with(PickWith with);
    bool see_through() const { return through_; }
    void set_see_through(bool on);
    /// What is picked on the mesh as it now is; places that are lost are not among them.
    const std::vector<Index>& elements() const { return elements_; }
    bool moves() const { return moves_; }

    // What the bar's buttons do to the picks.
    void grow();
    void shrink();
    void loop();
    void ring();
    void same_facing();
    void everything();
    void clear();

    // Each returns true when the event is used.
    bool press(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool move(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool release(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool double_click(const QMouseEvent* event, const Camera& camera, const QSize& size);
    bool key(const QKeyEvent* event, const Camera& camera, const QSize& size);
    void paint(QPainter& painter, const Camera& camera, const QSize& size) const;

    double grid_step = 0.1;

signals:
    void changed();

private:
    enum class Add { replace, add, take };
    static constexpr double pick_reach = 9, brush = 16;  ///< pixels
    void refresh();
    /// The mesh picked on: the step's input, where the step leaves it.
    const Mesh& mesh() const { return mesh_; }
    void look(const Camera& camera, const QSize& size);  ///< draws which face each pixel shows, when it is not known
    Index face_at(int x, int y) const;
    Index element_under(const glm::dvec2& at, const Projector& projector) const;
    bool visible(Index element, const Projector& projector) const;
    std::vector<Index> inside(const std::function<bool(const QPointF&)>& region, const Projector& projector) const;
    void pick(const std::vector<Index>& elements, Add how, const QString& name, const QString& merge = {});
    void set_picks(const Mask& mask, const QString& name);
    Mask picked_mask() const;
    void move_picks(const DVec3& by);
    DVec3 middle() const;  ///< of what is picked
    static Add how_of(Qt::KeyboardModifiers keys);

    Session& session_;
    Renderer* renderer_;
    std::string key_;
    bool moves_ = false, cage_ = false, picking_ = false, through_ = false;
    std::vector<Domain> kinds_;
    Domain kind_ = Domain::face;
    PickWith with_ = PickWith::box;
    Mesh input_, mesh_;  ///< same topology; where the input's points are, and where the step leaves them
    std::vector<Place> places_;
    std::vector<Index> elements_;  ///< found, of any kind, with the place each came from
    std::vector<std::size_t> place_of_;
    std::vector<Domain> domain_of_;
    std::vector<DVec3> lost_;
    std::vector<DVec3> cage_points_;
    std::vector<std::array<int, 3>> cage_index_;

    // what is on the screen
    PickPicture seen_;
    Array<Index> triangle_face_;
    glm::dmat4 seen_from_{0};
    std::vector<std::uint8_t> face_seen_;

    // the gesture in hand
    enum class Gesture { none, region, paint, pull } gesture_ = Gesture::none;
    glm::dvec2 from_{0}, now_{0};
    QPolygonF trail_;
    bool moved_ = false;
    int grip_ = arrows::none, hot_ = arrows::none, gesture_number_ = 0;
    std::set<int> cage_chosen_;
    DVec3 pull_from_{0}, pulled_{0};
    Recipe recipe_before_;
    TypedNumber typed_;
    bool typing_ = false;
    Index hover_ = no_index;
};

}  // namespace bricol
