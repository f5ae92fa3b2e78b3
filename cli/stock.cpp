// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/files/stock.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/report.h"
#include "cli/running.h"
#include "core/files/recipe_file.h"
#include "core/recipe/recipe_json.h"

namespace bricol {

namespace {

Json stock_json() {
    Json list = Json::array();
    for (const StockPart& part : stock_parts()) {
        Json row{{"name", part.name},
                 {"title", part.title},
                 {"family", part.family},
                 {"words", part.words},
                 {"about", part.about}};
        if (const auto recipe = load_recipe(part.path)) row["dials"] = dials_json(*recipe);
        list.push_back(std::move(row));
    }
    return list;
}

std::string stock_text() {
    std::string out, family;
    for (const StockPart& part : stock_parts()) {
        if (family != part.family) out += fmt::format("{}{}\n", family.empty() ? "" : "\n", part.family);
        family = part.family;
        out += fmt::format("  {:<28} {}\n", part.name, part.about);
    }
    return out;
}

}  // namespace

int run_stock(const CommonOptions& common) {
    if (stock_parts().empty())
        return fail({"The stock is not installed.", stock_folder(),
                     "Install it with the program, or name its folder in BRICOL_STOCK."},
                    exit_file);
    return print(common.json ? pretty_json(stock_json()) : stock_text());
}

}  // namespace bricol
