// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace bricol {

/// Key under which a recipe of the stock says what it is: { "family": …, "words": …, "about": … }.
inline constexpr std::string_view stock_words_key = "stock";

}  // namespace bricol
