// SPDX-License-Identifier: GPL-3.0-or-later
// What a recipe is made with besides itself: one value for every door (window, command line, export, thumbnails,
// trace).
#pragma once

#include "core/recipe/kit.h"
#include "core/recipe/resolve.h"

namespace bricol {

struct FileShape;

/// Reads a file that a step names, relative to `folder`; kept until it changes. May be called from any thread.
using ReadFile =
    std::function<Result<std::shared_ptr<const std::string>>(const std::string& name, const std::string& folder)>;

/// Reads the shape in a file that a step names, relative to `folder`, in a process of its own. May be called from any
/// thread.
using ReadShape =
    std::function<Result<std::shared_ptr<const FileShape>>(const std::string& name, const std::string& folder)>;

/// What stands in other files and belongs to one that a step names, an OBJ's materials: as one text, empty without any.
using ReadBeside = std::function<std::string(const std::string& name, const std::string& folder)>;

/// `environment_in` (core/files/kits.h) makes the usual one. An empty one finds no kits and reads no files, and steps
/// that want them say so.
struct Environment {
    std::string folder;  ///< where the recipe lies; kits and files are found beside it
    FindKit find_kit;
    ReadFile read_file;
    ReadShape read_shape;
    Surroundings surroundings;
    ReadBeside read_beside;
};

}  // namespace bricol
