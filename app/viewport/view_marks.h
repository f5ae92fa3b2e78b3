// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn over the picture that is no shape: curves and points, grid numbers, a scale bar, the tripod, a hint.
#pragma once

#include <QPainter>
#include <optional>

#include "app/viewport/camera.h"
#include "core/shape/shape.h"

namespace bricol {

/// From where, how large (pixels of the widget), and in which unit lengths are written.
struct ViewFrame {
    const Camera& camera;
    QSize size;
    std::string unit;
};

/// Curves, loose points and loose edges of these shapes.
void paint_curves(QPainter& painter, const ViewFrame& view, const std::vector<ShapePtr>& shapes);
/// In a flat view: the places of the strong grid lines, `step` metres apart, along the lower and the right edge.
void paint_grid_labels(QPainter& painter, const ViewFrame& view, double step);
void paint_scale_bar(QPainter& painter, const ViewFrame& view);
void paint_tripod(QPainter& painter, const ViewFrame& view);
/// The view that a click on the tripod asks for; nothing beside it.
std::optional<View> view_at_tripod(const ViewFrame& view, const QPointF& at);
/// A line of text along the lower edge.
void paint_hint(QPainter& painter, const ViewFrame& view, const QString& text);

/// A small card with words, to the upper right of a place on the picture.
void paint_tag(QPainter& painter, const QPointF& at, const QString& text);

}  // namespace bricol
