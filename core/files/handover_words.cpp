// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/handover_words.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace bricol {

namespace {

std::optional<double> read_number(std::string_view text) {
    double value = 0;
    const auto [stopped, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || stopped != text.data() + text.size()) return std::nullopt;
    return value;
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> parted(std::string_view text, char at) {
    std::vector<std::string_view> out;
    for (std::size_t to = text.find(at); to != std::string_view::npos; to = text.find(at)) {
        out.push_back(trimmed(text.substr(0, to)));
        text.remove_prefix(to + 1);
    }
    out.push_back(trimmed(text));
    return out;
}

}  // namespace

Result<std::vector<double>> typed_levels(const std::string& text) {
    std::vector<double> out;
    if (trimmed(text).empty()) return out;
    for (std::string_view one : parted(text, ',')) {
        if (one.ends_with('%')) one = trimmed(one.substr(0, one.size() - 1));
        const auto value = read_number(one);
        const double before = out.empty() ? 100 : 100 * out.back();
        if (!value || *value <= 0 || *value >= before)
            return Problem{fmt::format("“{}” are no levels.", text), "",
                           "Write shares of the triangles in percent, each less than the one before: 50,25,10."};
        out.push_back(*value / 100);
    }
    return out;
}

std::optional<Problem> read_pivot(const std::string& text, Dressing& dressing) {
    dressing.pivot = Pivot::own;
    if (text.empty() || text == "own") return std::nullopt;
    if (text == "foot" || text == "middle") {
        dressing.pivot = text == "foot" ? Pivot::foot : Pivot::middle;
        return std::nullopt;
    }
    const std::vector<std::string_view> numbers = parted(text, ',');
    dressing.pivot = Pivot::point;
    bool good = numbers.size() == 3;
    for (std::size_t i = 0; good && i < 3; ++i) {
        const auto value = read_number(numbers[i]);
        good = value && std::isfinite(*value);
        if (good) dressing.point[static_cast<int>(i)] = *value;
    }
    if (good) return std::nullopt;
    return Problem{fmt::format("“{}” is no pivot.", text), "", "Write own, foot, middle, or a point: 0,0,1.2."};
}

Result<std::optional<FrameRange>> typed_frames(const std::string& text, double rate) {
    if (trimmed(text).empty()) return std::optional<FrameRange>();
    const std::size_t dots = text.find("..");
    const auto first = dots == std::string::npos ? std::nullopt : read_number(trimmed(text.substr(0, dots)));
    const auto last = dots == std::string::npos ? std::nullopt : read_number(trimmed(text.substr(dots + 2)));
    if (!first || !last || !(*last >= *first + 1) || *last - *first > 10000)
        return Problem{fmt::format("“{}” are no frames.", text), "",
                       "Write the first and the last, at most 10 000 apart: 0..24."};
    return std::optional<FrameRange>(FrameRange{*first, *last, rate});
}

std::optional<Problem> read_kinds(const std::vector<std::string>& kinds, HandoverOrder& order) {
    if (!kinds.empty()) order.suffixes = kinds;
    for (std::string& suffix : order.suffixes) {
        if (suffix.starts_with('.')) suffix.erase(0, 1);
        if (!find_format("x." + suffix))
            return Problem{fmt::format("Bricol writes {} files.", suffix_words()), suffix, ""};
    }
    return std::nullopt;
}

std::optional<Problem> collision_name_problem(const std::string& pattern) {
    if (pattern.find("{n}") != std::string::npos && pattern.find("{part}") != std::string::npos) return std::nullopt;
    return Problem{fmt::format("“{}” would give several shapes one name.", pattern), "",
                   "Put {part} and {n} in, which stand for the part and a number."};
}

}  // namespace bricol
