// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/version.h"

namespace bricol {

std::string_view version() { return BRICOL_VERSION; }

}  // namespace bricol
