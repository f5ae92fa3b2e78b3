// SPDX-License-Identifier: GPL-3.0-or-later
// The libraries that read files of shapes, each behind one thin file.
#pragma once

#include <string>
#include <string_view>

#include "core/files/reader_wire.h"

namespace bricol::reader {

/// OBJ, PLY, STL, glTF and GLB, by assimp; `materials` are what the material files hold that an OBJ names.
wire::File read_by_assimp(const std::string& suffix, std::string_view text, std::string_view materials);
/// 3MF, by lib3mf.
wire::File read_3mf(const std::string& text);

}  // namespace bricol::reader
