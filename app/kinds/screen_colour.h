// SPDX-License-Identifier: GPL-3.0-or-later
// Linear colour as on a screen, and back.
#pragma once

#include <QColor>

#include "core/ground/types.h"

namespace bricol {

QColor screen_colour(const DVec3& linear);
/// To three digits, as recipes are written.
DVec3 linear_colour(const QColor& screen);

}  // namespace bricol
