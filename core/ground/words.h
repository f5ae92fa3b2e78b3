// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody may have meant by a mistyped name.
#pragma once

#include <span>
#include <string>
#include <string_view>

namespace bricol {

/// The word that needs the fewest letters changed, added or taken away (Levenshtein 1966) to become `name`; empty when
/// all need more than two, or a third of the name. Of equals the first.
std::string_view nearest_word(std::span<const std::string_view> words, std::string_view name);

/// The letter of UTF-8 text that begins at a byte: one byte to four, fewer when the text is not sound there.
std::string_view letter_at(std::string_view text, std::size_t at);

/// Text as messages quote it: at most `most` letters, with an ellipsis when there were more. Bytes that are not UTF-8
/// are written as `\xe9`.
std::string shortened(std::string_view text, std::size_t most = 40);

/// "1 face", "2 faces". The plural is the word with an s unless another is given.
std::string counted(std::size_t count, std::string_view one, std::string_view many = {});

/// A word in the plural as one of it: "copies" as "copy", "levels" as "level".
std::string one_of_many(std::string_view plural);

}  // namespace bricol
