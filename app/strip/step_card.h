// SPDX-License-Identifier: GPL-3.0-or-later
// A step as an index card, the same on the strip and on the sheet.
#pragma once

#include <QPainter>

#include "app/document/session.h"

namespace bricol {

/// "1 344 faces", "22 knots", "120 × 80": what a shape is made of, short enough for a card's foot.
QString count_text(const Shape& shape);

/// Notch, glyph, name, telling value, foot line, tabs and finding corner of a step of the chosen part.
void paint_step_card(QPainter& painter, const QRect& rect, const Session& session, const Step& step, bool chosen,
                     double device_ratio);

/// Over the foot of a card whose step is being made: how far it has come, 0..1, negative where it does not say.
void paint_at_work(QPainter& painter, const QRect& rect, double of_step);

/// What is on a step: purpose, note, elements, attributes, sets, size, memory and time, as rich text.
QString step_hover_text(const Session& session, const Step& step);

}  // namespace bricol
