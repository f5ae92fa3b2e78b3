// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/value.h"

namespace bricol {

Values::Values() = default;
Values::Values(const Values&) = default;
Values::Values(Values&&) noexcept = default;
Values& Values::operator=(const Values&) = default;
Values& Values::operator=(Values&&) noexcept = default;
Values::~Values() = default;

}  // namespace bricol
