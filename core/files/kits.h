// SPDX-License-Identifier: GPL-3.0-or-later
// Finding the files that recipes name: other recipes, and whatever else steps read.
#pragma once

#include <memory>
#include <mutex>
#include <set>
#include <string>

#include "core/make/environment.h"

namespace bricol {

/// Which files may be read for a recipe: those in its folder and below, unless it is opened. A recipe from somebody
/// else must not reach into the rest of the disk unasked. Links are followed before it is looked where a file lies. May
/// be used from any thread.
class FileFence {
public:
    /// An empty folder lets everything through: the recipe has no place yet.
    explicit FileFence(const std::string& folder, bool open = false) { enclose(folder, open); }
    /// Sets the folder anew and forgets what was refused.
    void enclose(const std::string& folder, bool open);
    /// Whether the file may be read; remembers those that may not.
    bool lets(const std::string& path);
    /// Whole paths of the files refused so far.
    std::set<std::string> refused() const;

private:
    mutable std::mutex mutex_;
    std::string folder_;
    bool open_ = false;
    std::set<std::string> refused_;
};

/// Reads kits from files beside the recipe that uses them, and keeps what it has read until the file changes. May be
/// called from any thread.
FindKit kit_reader(std::shared_ptr<FileFence> fence = nullptr);

/// Reads the files that steps name, up to 512 MB each, and keeps what it has read until the file changes. May be called
/// from any thread.
ReadFile file_reader(std::shared_ptr<FileFence> fence = nullptr);

/// Everything a recipe in this folder is made with: what every door (window, command line, export, thumbnails) uses.
/// Without a fence of their own, files are read from this folder and below.
Environment environment_in(const std::string& folder, Surroundings surroundings = {},
                           std::shared_ptr<FileFence> fence = nullptr);

/// The file a kit's name stands for; absolute names stay as they are.
std::string kit_path(const std::string& written, const std::string& folder);

}  // namespace bricol
