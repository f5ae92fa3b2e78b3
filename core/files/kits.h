// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the files that recipes name: other recipes, and whatever else steps read.
#pragma once

#include "core/make/environment.h"

namespace bricol {

/// Reads kits from files beside the recipe that uses them, and keeps what it has read until the file changes. May be
/// called from any thread.
FindKit kit_reader();

/// Reads the files that steps name, up to 64 MB each, and keeps what it has read until the file changes. May be called
/// from any thread.
ReadFile file_reader();

/// Everything a recipe in this folder is made with: what every door (window, command line, export, thumbnails) uses.
Environment environment_in(const std::string& folder, Surroundings surroundings = {});

/// The file a kit's name stands for; absolute names stay as they are.
std::string kit_path(const std::string& written, const std::string& folder);

}  // namespace bricol
