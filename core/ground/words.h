// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody may have meant by a mistyped name.
#pragma once

#include <span>
#include <string_view>

namespace bricol {

/// The word that needs the fewest letters changed, added or taken away (Levenshtein 1966) to become `name`; empty when
/// all need more than two, or a third of the name. Of equals the first.
std::string_view nearest_word(std::span<const std::string_view> words, std::string_view name);

}  // namespace bricol
