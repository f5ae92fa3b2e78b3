// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ground/words.h"

#include <algorithm>
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

}  // namespace bricol
