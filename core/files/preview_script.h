// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace bricol {

/// What shows the shapes of a preview page, ready to stand in it; made by tools/preview-script.
std::string preview_script();

}  // namespace bricol
