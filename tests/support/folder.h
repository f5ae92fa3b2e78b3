// SPDX-License-Identifier: GPL-3.0-or-later
// A folder of its own for a test, gone with the scope.
#pragma once

#include <nlohmann/json.hpp>
#include <filesystem>
#include <fstream>
#include <map>
#include <random>
#include <string>

#include "core/files/files.h"
#include "core/ground/json.h"

namespace bricol::test {

struct Folder {
    std::filesystem::path path =
        std::filesystem::temp_directory_path() / ("bricol-test-" + std::to_string(std::random_device{}()));
    Folder() { std::filesystem::create_directories(path); }
    ~Folder() { std::filesystem::remove_all(path); }
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;

    std::string operator/(const std::string& name) const { return (path / name).string(); }
    void write(const std::string& name, const Json& recipe) const { std::ofstream(path / name) << recipe.dump(); }
    void write(const std::string& name, const std::string& text) const { std::ofstream(path / name) << text; }
};

/// What the files in a folder and in those inside it hold, by path.
inline std::map<std::string, std::string> contents(const std::filesystem::path& folder) {
    std::map<std::string, std::string> out;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(folder))
        if (entry.is_regular_file())
            out[std::filesystem::relative(entry.path(), folder).string()] = *read_file(entry.path().string());
    return out;
}

}  // namespace bricol::test
