// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/words.h"

#include <algorithm>
#include <fmt/format.h>
#include <vector>

namespace bricol {

namespace {

std::size_t edit_distance(std::string_view a, std::string_view b) {
    std::vector<std::size_t> row(b.size() + 1);
    for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
    for (std::size_t i = 1; i <= a.size(); ++i) {
        std::size_t diagonal = row[0];
        row[0] = i;
        for (std::size_t j = 1; j <= b.size(); ++j) {
            const std::size_t kept = diagonal + (a[i - 1] != b[j - 1]);
            diagonal = row[j];
            row[j] = std::min({row[j] + 1, row[j - 1] + 1, kept});
        }
    }
    return row.back();
}

}  // namespace

std::string_view letter_at(std::string_view text, std::size_t at) {
    const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
    const unsigned char first = byte(at);
    // Leading bytes of two, three and four (RFC 3629); anything else stands alone.
    const std::size_t length = first >= 0xC2 && first <= 0xDF   ? 2
                               : first >= 0xE0 && first <= 0xEF ? 3
                               : first >= 0xF0 && first <= 0xF4 ? 4
                                                                : 1;
    if (at + length > text.size()) return text.substr(at, 1);
    for (std::size_t i = 1; i < length; ++i)
        if ((byte(at + i) & 0xC0) != 0x80) return text.substr(at, 1);
    return text.substr(at, length);
}

std::string shortened(std::string_view text, std::size_t most) {
    std::string out;
    std::size_t letters = 0;
    for (std::size_t at = 0; at < text.size(); ++letters) {
        if (letters == most) return out + "…";
        const std::string_view letter = letter_at(text, at);
        if (letter.size() == 1 && static_cast<unsigned char>(letter[0]) >= 0x80)
            out += fmt::format("\\x{:02x}", static_cast<unsigned char>(letter[0]));
        else
            out += letter;
        at += letter.size();
    }
    return out;
}

std::string_view nearest_word(std::span<const std::string_view> words, std::string_view name) {
    std::string_view nearest;
    std::size_t best = std::max<std::size_t>(2, name.size() / 3) + 1;
    if (name.size() > 64) return nearest;
    for (const std::string_view word : words) {
        if (word.size() > 64) continue;
        if (const std::size_t distance = edit_distance(name, word); distance < best) {
            best = distance;
            nearest = word;
        }
    }
    return nearest;
}

std::string counted(std::size_t count, std::string_view one, std::string_view many) {
    if (count == 1) return fmt::format("1 {}", one);
    return many.empty() ? fmt::format("{} {}s", count, one) : fmt::format("{} {}", count, many);
}

std::string one_of_many(std::string_view plural) {
    if (plural == "vertices") return "vertex";
    if (plural.ends_with("ies")) return std::string(plural.substr(0, plural.size() - 3)) + "y";
    return std::string(plural.ends_with("s") ? plural.substr(0, plural.size() - 1) : plural);
}

}  // namespace bricol
