// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/beside.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace bricol {

namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_files = 8, most_bytes = std::size_t(16) << 20;

bool is_obj(const std::string& name) {
    std::string suffix = fs::path(name).extension().string();
    for (char& c : suffix) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return suffix == ".obj";
}

std::string_view trimmed_line(std::string_view line) {
    constexpr std::string_view blank = " \t\r";
    const std::size_t first = line.find_first_not_of(blank);
    if (first == std::string_view::npos) return {};
    return line.substr(first, line.find_last_not_of(blank) - first + 1);
}

}  // namespace

std::vector<std::string> material_files(std::string_view obj) {
    constexpr std::string_view word = "mtllib";
    std::vector<std::string> names;
    for (std::size_t at = 0; (at = obj.find(word, at)) != std::string_view::npos && names.size() < most_files;) {
        const std::size_t line = obj.rfind('\n', at) == std::string_view::npos ? 0 : obj.rfind('\n', at) + 1;
        const std::size_t end = std::min(obj.find('\n', at), obj.size());
        const std::size_t behind = at + word.size();
        const bool said = trimmed_line(obj.substr(line, at - line)).empty() && behind < end &&
                          (obj[behind] == ' ' || obj[behind] == '\t');
        if (said)
            if (std::string name(trimmed_line(obj.substr(behind, end - behind)));
                !name.empty() && std::ranges::find(names, name) == names.end())
                names.push_back(std::move(name));
        at = end;
    }
    return names;
}

Beside read_materials(const std::string& name, const std::string& text, const std::string& folder,
                      const ReadFile& files) {
    Beside out;
    if (!is_obj(name)) return out;
    for (const std::string& one : material_files(text)) {
        const auto read = files((fs::path(name).parent_path() / one).string(), folder);
        if (!read)
            out.missing.push_back(fmt::format("Its materials in “{}” are not read: {}", one, read.problem().what));
        else if ((*read)->size() > most_bytes)
            out.missing.push_back(
                fmt::format("Its materials in “{}” are not read: the file is larger than 16 MB.", one));
        else
            out.text += **read + "\n";
    }
    return out;
}

ReadBeside beside_reader(ReadFile files) {
    return [files = std::move(files)](const std::string& name, const std::string& folder) -> std::string {
        if (!is_obj(name)) return {};
        const auto text = files(name, folder);
        if (!text) return {};
        Beside beside = read_materials(name, **text, folder, files);
        for (const std::string& one : beside.missing) beside.text += one;  // that one is missing matters too
        return std::move(beside.text);
    };
}

std::vector<std::string> material_paths(const std::string& path) {
    std::vector<std::string> out;
    if (!is_obj(path)) return out;
    std::ifstream file(path, std::ios::binary);
    std::string head(std::size_t(64) << 10, '\0');
    file.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, file.gcount())));
    for (const std::string& one : material_files(head))
        out.push_back((fs::path(path).parent_path() / one).lexically_normal().string());
    return out;
}

}  // namespace bricol
