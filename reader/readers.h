// SPDX-License-Identifier: GPL-3.0-or-later
// The libraries that read files of shapes, each behind one thin file.
#pragma once

#include <string>

#include "core/files/reader_wire.h"

namespace bricol::reader {

/// OBJ, PLY, STL, glTF and GLB, by assimp.
wire::File read_by_assimp(const std::string& suffix, const std::string& text);
/// 3MF, by lib3mf.
wire::File read_3mf(const std::string& text);

}  // namespace bricol::reader
