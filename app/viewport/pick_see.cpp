// SPDX-License-Identifier: GPL-3.0-or-later
// What of the mesh lies under the pointer, and what is drawn over it.
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

double distance_to_segment(const glm::dvec2& p, const glm::dvec2& a, const glm::dvec2& b) {
    const glm::dvec2 ab = b - a;
    const double square = glm::dot(ab, ab), t = square > 0 ? std::clamp(glm::dot(p - a, ab) / square, 0.0, 1.0) : 0;
    return glm::distance(p, a + ab * t);
}

}  // namespace

void PickTool::look(const Camera& camera, const QSize& size) {
    const glm::dmat4 from =
        camera.projection(static_cast<double>(size.width()) / std::max(1, size.height())) * camera.view_matrix();
    if (!renderer_ || (from == seen_from_ && seen_.size == size)) return;
    seen_from_ = from;
    Scene scene;
    auto shape = std::make_shared<Shape>();
    shape->mesh = mesh_;
    add_items(scene, shape, Qt::white);
    seen_ = renderer_->pick(scene, camera, size);
    triangle_face_ = triangulated(mesh_).face;
    face_seen_.assign(mesh_.face_count(), 0);
    for (const glm::uvec2& pixel : seen_.pixels)
        if (pixel.x && pixel.y < triangle_face_.size()) face_seen_[triangle_face_[pixel.y]] = 1;
}

Index PickTool::face_at(int x, int y) const {
    const glm::uvec2 pixel = seen_.at(x, y);
    return pixel.x && pixel.y < triangle_face_.size() ? triangle_face_[pixel.y] : no_index;
}

bool PickTool::visible(Index element, const Projector& projector) const {
    if (through_) return true;
    if (kind_ == Domain::face) return face_seen_[element];
    const Topology& t = *mesh_.topology;
    const Adjacency& near = t.adjacency();
    const auto touches = [&](Index face) {
        if (kind_ == Domain::edge) {
            const auto faces = near.faces_of_edge(element);
            return std::ranges::find(faces, face) != faces.end();
        }
        const auto corners = t.face(face);
        return std::ranges::find(corners, element) != corners.end();
    };
    // An element on the outline shows beside itself: a few pixels round it are asked.
    const auto shows = [&](const DVec3& place) {
        const glm::dvec2 p = projector.to_screen(place);
        for (int dy = -3; dy <= 3; ++dy)
            for (int dx = -3; dx <= 3; ++dx)
                if (const Index face =
                        face_at(static_cast<int>(std::lround(p.x)) + dx, static_cast<int>(std::lround(p.y)) + dy);
                    face != no_index && touches(face))
                    return true;
        return false;
    };
    const Array<Vec3>& p = *mesh_.positions;
    if (kind_ == Domain::vertex) {
        bool loose = true;
        for (const Index e : near.edges_of_vertex(element)) loose &= near.faces_of_edge(e).empty();
        return loose || shows(DVec3(p[element]));
    }
    if (near.faces_of_edge(element).empty()) return true;
    const DVec3 a(p[t.edges[element][0]]), b(p[t.edges[element][1]]);
    for (const double u : {0.5, 0.25, 0.75})
        if (shows(a + (b - a) * u)) return true;
    return false;
}

Index PickTool::element_under(const glm::dvec2& at, const Projector& projector) const {
    const Index face = face_at(static_cast<int>(at.x), static_cast<int>(at.y));
    if (kind_ == Domain::face) return face;
    const Topology& t = *mesh_.topology;
    Index best = no_index;
    double nearest = pick_reach;
    const auto consider = [&](Index element) {
        double distance = 1e9;
        if (kind_ == Domain::vertex)
            distance = glm::distance(projector.to_screen(DVec3((*mesh_.positions)[element])), at);
        else
            distance = distance_to_segment(at, projector.to_screen(DVec3((*mesh_.positions)[t.edges[element][0]])),
                                           projector.to_screen(DVec3((*mesh_.positions)[t.edges[element][1]])));
        if (distance < nearest && visible(element, projector)) nearest = distance, best = element;
    };
    const std::size_t count = kind_ == Domain::vertex ? mesh_.vertex_count() : mesh_.edge_count();
    if (through_ || face == no_index || count < 20000) {
        for (Index i = 0; i < count; ++i) consider(i);
        return best;
    }
    for (Index c = t.face_offsets[face]; c < t.face_offsets[face + 1]; ++c)
        consider(kind_ == Domain::vertex ? t.corner_vertex[c] : t.corner_edge[c]);
    return best;
}

std::vector<Index> PickTool::inside(const std::function<bool(const QPointF&)>& region,
                                    const Projector& projector) const {
    std::vector<Index> list;
    const std::size_t count = mesh_.domain_sizes()[static_cast<std::size_t>(kind_)];
    for (Index i = 0; i < count; ++i) {
        double depth = 0;
        const glm::dvec2 at = projector.to_screen(middle_of(mesh_, kind_, i), &depth);
        if (depth > 0 && region(point(at)) && visible(i, projector)) list.push_back(i);
    }
    return list;
}

void PickTool::paint(QPainter& painter, const Camera& camera, const QSize& size) const {
    if (!active()) return;
    using theme::Role;
    const Projector projector(camera, size.width(), size.height());
    const QColor ink = theme::color(Role::chosen);
    const Topology& t = *mesh_.topology;
    const auto at = [&](Index v) { return point(projector.to_screen(DVec3((*mesh_.positions)[v]))); };
    const auto draw = [&](Domain domain, Index element, const QColor& color, double strength) {
        if (domain == Domain::face) {
            QPolygonF face;
            for (const Index v : t.face(element)) face << at(v);
            QColor fill = color;
            fill.setAlphaF(strength);
            painter.setPen(QPen(color, 1.1));
            painter.setBrush(fill);
            painter.drawPolygon(face);
        } else if (domain == Domain::edge) {
            painter.setPen(QPen(color, 3, Qt::SolidLine, Qt::RoundCap));
            painter.drawLine(at(t.edges[element][0]), at(t.edges[element][1]));
        } else {
            painter.setPen(QPen(theme::color(Role::card), 1));
            painter.setBrush(color);
            painter.drawEllipse(at(element), 4.5, 4.5);
        }
    };
    if (cage_) {
        painter.setPen(QPen(theme::color(Role::act), 1));
        for (std::size_t i = 0; i < cage_points_.size(); ++i)
            for (std::size_t j = i + 1; j < cage_points_.size(); ++j) {
                const auto &a = cage_index_[i], &b = cage_index_[j];
                if (std::abs(a[0] - b[0]) + std::abs(a[1] - b[1]) + std::abs(a[2] - b[2]) == 1)
                    painter.drawLine(point(projector.to_screen(cage_points_[i])),
                                     point(projector.to_screen(cage_points_[j])));
            }
        for (int i = 0; i < static_cast<int>(cage_points_.size()); ++i) {
            painter.setPen(QPen(ink, 1.4));
            painter.setBrush(cage_chosen_.contains(i) ? ink : theme::color(Role::card));
            painter.drawRect(QRectF(point(projector.to_screen(cage_points_[i])) - QPointF(3.5, 3.5), QSizeF(7, 7)));
        }
    }
    // In an untouched view picks on the far side are drawn faintly, so that nobody wonders where they went.
    for (std::size_t i = 0; i < elements_.size(); ++i) draw(domain_of_[i], elements_[i], ink, 0.34);
    if (picking_ && hover_ != no_index && gesture_ == Gesture::none &&
        hover_ < mesh_.domain_sizes()[static_cast<std::size_t>(kind_)])
        draw(kind_, hover_, theme::color(Role::act), 0.22);
    painter.setBrush(Qt::NoBrush);
    for (const DVec3& place : lost_) {
        painter.setPen(QPen(theme::color(Role::caution), 2, Qt::DotLine));
        painter.drawEllipse(point(projector.to_screen(place)), 7, 7);
    }
    if (moves_ && (cage_ ? !cage_chosen_.empty() : !elements_.empty()))
        arrows::paint(painter, middle(), projector, gesture_ == Gesture::pull ? grip_ : hot_);
    if ((gesture_ == Gesture::region && moved_)) {
        painter.setPen(QPen(ink, 1, Qt::DashLine));
        if (with_ == PickWith::lasso && !cage_)
            painter.drawPolygon(trail_);
        else
            painter.drawRect(QRectF(point(from_), point(now_)).normalized());
    }
    if (picking_ && with_ == PickWith::paint) {
        painter.setPen(QPen(ink, 1));
        painter.drawEllipse(point(now_), brush, brush);
    }
    if (typing_ || gesture_ == Gesture::pull) typed_.paint(painter, point(now_));
}

}  // namespace bricol
