// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/shape/curve.h"

namespace bricol {

Curve::Curve() = default;
Curve::Curve(const Curve&) = default;
Curve::Curve(Curve&&) noexcept = default;
Curve& Curve::operator=(const Curve&) = default;
Curve& Curve::operator=(Curve&&) noexcept = default;
Curve::~Curve() = default;

}  // namespace bricol
