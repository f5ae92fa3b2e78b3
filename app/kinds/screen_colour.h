// SPDX-License-Identifier: GPL-3.0-or-later
// Linear colour as on a screen, and back.
#pragma once

#include <QColor>
#include <QPushButton>

#include "core/catalogue/parameter.h"
#include "core/ground/json.h"

namespace bricol {

QColor screen_colour(const DVec3& linear);
/// A colour setting's numbers as a screen shows them, and what is written for a picked colour.
QColor colour_in(const ParameterInfo& info, const DVec3& value);
Json colour_for(const ParameterInfo& info, const QColor& picked);
/// Makes a button a swatch: the colour as its ground, its number as its text.
void show_swatch(QPushButton& button, const QColor& colour);
/// To three digits, as recipes are written.
DVec3 linear_colour(const QColor& screen);

}  // namespace bricol
