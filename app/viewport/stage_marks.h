// SPDX-License-Identifier: GPL-3.0-or-later
// Cameras and lamps as outlines in the view, the frame of a picture, and what is caught of them.
#pragma once

#include "app/viewport/view_marks.h"
#include "core/make/stage.h"

namespace bricol {

/// Which entry of the stage is meant.
struct StageName {
    std::string part, step;
    friend bool operator==(const StageName&, const StageName&) = default;
};

/// Outlines of every camera and lamp, `chosen` in its colour. The camera that is looked through has none.
void paint_stage(QPainter& painter, const ViewFrame& view, const Stage& stage, const StageName& chosen,
                 const StageName& through);
/// The camera or lamp whose middle is drawn at a pixel.
std::optional<StageName> stage_at(const ViewFrame& view, const Stage& stage, const QPointF& at,
                                  const StageName& through);

/// Where a picture of this shape lies in the view, with a rim of the view round it.
QRectF picture_frame(QSize view, double aspect);
/// The frame: what lies outside is dimmed; thirds and a safe margin inside when they are asked for.
void paint_picture_frame(QPainter& painter, const QRectF& frame, QSize view, bool thirds, bool margin);

}  // namespace bricol
