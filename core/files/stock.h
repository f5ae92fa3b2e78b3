// SPDX-License-Identifier: GPL-3.0-or-later
// The stock: recipes of standard parts that come with the program. Recipes name them "stock:hex-bolt", so they are
// found wherever the program is installed.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/ground/result.h"

namespace bricol {

/// Where the stock lies: BRICOL_STOCK when it is set, else beside the installed program or library, else in the
/// sources it was built from. Empty when there is none.
const std::string& stock_folder();

bool is_stock_name(std::string_view written);
/// The file of "stock:hex-bolt".
std::string stock_path(std::string_view name);
/// Why there is no such part, and the one most like it.
Problem no_such_stock(std::string_view name);

/// What the stock says of one of its parts.
struct StockPart {
    std::string name;    ///< "stock:hex-bolt", as recipes write it
    std::string path;    ///< its file
    std::string title;   ///< "Hex bolt"
    std::string family;  ///< what it stands under: "Fasteners"
    std::string words;   ///< other words by which it is looked for
    std::string about;   ///< what it is, and where its measures come from
};
/// All of them, by family (in the order of the trade's catalogues: fasteners first) and title. Read once.
const std::vector<StockPart>& stock_parts();
/// The part of that name; null for none.
const StockPart* find_stock_part(std::string_view name);

}  // namespace bricol
