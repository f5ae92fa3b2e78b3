// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <filesystem>

namespace bricol {

/// Folder of the program or the library that this code was linked into; empty when it cannot be told.
std::filesystem::path own_place();

}  // namespace bricol
