// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace bricol {

/// The version of the program, as CMakeLists.txt has it ("0.1.0").
std::string_view version();

}  // namespace bricol
