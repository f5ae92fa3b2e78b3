// SPDX-License-Identifier: GPL-3.0-or-later
// What is written down of one variant, and where its files lie.
#pragma once

#include "core/make/make.h"

namespace bricol {

/// "0042": as many digits as the largest number needs, at least four.
std::string variant_name(std::size_t number, std::size_t count);
/// Beneath the folder: "0042", or "0001234/0001234567" where there are more than ten thousand, a thousand a folder.
std::string variant_place(std::size_t number, std::size_t count);

/// Everything that decides what a recipe makes besides its dials: its text, the kits and files it names, this program.
std::uint64_t recipe_content(const Recipe& recipe, const Environment& environment);
std::uint64_t text_content(std::string_view text);
/// A hash as it is written: sixteen hexadecimal digits.
std::string hash_words(std::uint64_t hash);

/// Dials, measures of the parts that are asked for taken together, findings. Without files.
Json variant_record(const Recipe& turned, const Made& made, const std::vector<std::string>& parts);

/// One row of the index, and the row of its names; `dials` decides the columns.
std::string variant_row(const Json& record, const std::vector<std::string>& dials);
std::string variant_head(const std::vector<std::string>& dials);

}  // namespace bricol
