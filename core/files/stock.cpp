// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/stock.h"

#include <algorithm>
#include <array>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <tuple>

#include "core/files/own_place.h"
#include "core/files/recipe_file.h"
#include "core/ground/words.h"
#include "core/recipe/recipe.h"
#include "core/recipe/stock_words.h"

namespace bricol {

namespace {

namespace fs = std::filesystem;

constexpr std::string_view prefix = "stock:", suffix = ".bricol";

/// Families in the order in which they stand.
constexpr std::array<std::string_view, 5> families = {"Fasteners", "Chain and rope", "Deck and pipe fittings",
                                                      "Gears and drives", "Springs and handles"};

std::string found_folder() {
    std::error_code none;
    if (const char* told = std::getenv("BRICOL_STOCK")) return fs::weakly_canonical(told, none).string();
    const fs::path own = own_place();
    // bin/ and lib/ stand beside share/; a library may lie one folder deeper, in lib/<machine>/.
    for (const fs::path& folder : {own / "../share/bricol/kits", own / "../../share/bricol/kits",
                                   own / "../../../share/bricol/kits", fs::path(BRICOL_SOURCE_STOCK)})
        if (fs::is_directory(folder, none)) return fs::weakly_canonical(folder, none).string();
    return {};
}

std::string text_in(const Json& about, const char* key) {
    const auto found = about.is_object() ? about.find(key) : about.end();
    return found != about.end() && found->is_string() ? found->get<std::string>() : std::string();
}

std::vector<StockPart> read_stock() {
    std::vector<StockPart> parts;
    std::error_code none;
    if (stock_folder().empty()) return parts;
    for (const auto& entry : fs::directory_iterator(stock_folder(), none)) {
        if (entry.path().extension() != suffix) continue;
        const auto recipe = load_recipe(entry.path().string());
        if (!recipe) continue;
        const Json about = recipe->extra.value(std::string(stock_words_key), Json::object());
        parts.push_back({fmt::format("{}{}", prefix, entry.path().stem().string()), entry.path().string(),
                         recipe->title, text_in(about, "family"), text_in(about, "words"), text_in(about, "about")});
    }
    const auto place = [](const StockPart& part) {
        return std::ranges::find(families, part.family) - families.begin();
    };
    std::ranges::sort(parts, [&](const StockPart& a, const StockPart& b) {
        return place(a) != place(b) ? place(a) < place(b) : std::tie(a.family, a.title) < std::tie(b.family, b.title);
    });
    return parts;
}

}  // namespace

const std::string& stock_folder() {
    static const std::string folder = found_folder();
    return folder;
}

bool is_stock_name(std::string_view written) { return written.starts_with(prefix); }

std::string stock_path(std::string_view name) {
    // The name alone: nothing may lead out of the folder.
    const std::string stem = fs::path(name.substr(prefix.size())).filename().string();
    return (fs::path(stock_folder()) / (stem + std::string(suffix))).string();
}

Problem no_such_stock(std::string_view name) {
    if (stock_parts().empty())
        return {fmt::format("“{}” is of the stock, and the stock is not installed.", name), "",
                "Install it with the program, or name its folder in BRICOL_STOCK."};
    std::vector<std::string_view> names;
    for (const StockPart& part : stock_parts()) names.push_back(part.name);
    const std::string_view near = nearest_word(names, name);
    return {fmt::format("The stock has no “{}”.", name), "",
            near.empty() ? "`bricol stock` lists what it has." : fmt::format("Did you mean “{}”?", near)};
}

const std::vector<StockPart>& stock_parts() {
    static const std::vector<StockPart> parts = read_stock();
    return parts;
}

const StockPart* find_stock_part(std::string_view name) {
    const auto found = std::ranges::find(stock_parts(), name, &StockPart::name);
    return found == stock_parts().end() ? nullptr : &*found;
}

}  // namespace bricol
