// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/format.h"

#include <algorithm>
#include <cctype>

namespace bricol {

namespace {

std::vector<const FormatInfo*>& registry() {
    static std::vector<const FormatInfo*> list;  // filled before main by each format's file
    return list;
}

}  // namespace

RegisteredFormat::RegisteredFormat(const FormatInfo& info) {
    auto& list = registry();
    auto* kept = new FormatInfo(info);  // lives as long as the program
    list.insert(std::ranges::upper_bound(list, kept->suffix, {}, &FormatInfo::suffix), kept);
}

std::span<const FormatInfo* const> all_formats() { return registry(); }

const FormatInfo* find_format(std::string_view path) {
    const std::size_t dot = path.find_last_of('.');
    std::string suffix(dot == std::string_view::npos ? "" : path.substr(dot + 1));
    std::ranges::transform(suffix, suffix.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    const auto found = std::ranges::find(registry(), suffix, &FormatInfo::suffix);
    return found == registry().end() ? nullptr : *found;
}

std::string suffix_words() {
    std::string words;
    const auto all = all_formats();
    for (std::size_t i = 0; i < all.size(); ++i)
        words += (i == 0 ? "." : i + 1 == all.size() ? " or ." : ", .") + std::string(all[i]->suffix);
    return words;
}

glm::mat4 directed_place(const glm::mat4& place, const ExportOptions& options) {
    glm::mat4 turn(1);
    if (*options.up == UpAxis::y) turn = glm::mat4(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1);
    glm::mat4 m = turn * place * glm::transpose(turn);
    m[3] = Vec4(Vec3(m[3]) * static_cast<float>(options.scale), 1);
    return m;
}

}  // namespace bricol
