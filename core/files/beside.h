// SPDX-License-Identifier: GPL-3.0-or-later
// Files that belong to another: the materials an OBJ names by `mtllib`.
#pragma once

#include "core/files/kits.h"

namespace bricol {

/// What an OBJ's text names as its material files, in order, each once, as written (the rest of the line, as names may
/// have blanks): at most eight.
std::vector<std::string> material_files(std::string_view obj);

struct Beside {
    std::string text;                  ///< all of them, one after another
    std::vector<std::string> missing;  ///< sentences about those that cannot be read
};
/// The material files of an OBJ (nothing for other suffixes), found beside it, up to 16 MB each.
Beside read_materials(const std::string& name, const std::string& text, const std::string& folder,
                      const ReadFile& files);

/// The same as a making asks for it, by what reads its other files. May be called from any thread.
ReadBeside beside_reader(ReadFile files);

/// Whole paths of the material files that an OBJ on the disk names in its first 64 kB, where writers put them: for
/// watching. Nothing for other files.
std::vector<std::string> material_paths(const std::string& path);

}  // namespace bricol
