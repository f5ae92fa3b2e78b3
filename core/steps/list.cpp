// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/number_table.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct ListSettings {
    NumberTable table;
    std::string row;
};

const BlockOf<ListSettings> list_step(
    StepInfo{.key = "list",
             .name = "List",
             .family = Family::look,
             .purpose = "A small table of numbers, one row of which is chosen by name.",
             .words = "table lookup sizes standard series choose row spreadsheet",
             .help = "Each head is a number that formulas ask for by this block's name: `= sizes.across`. A head may "
                     "say the unit its numbers are written in, `across mm`. With a choice's dial as the row, one dial "
                     "sets all numbers of a size at once.",
             .glyph = "M4 5h16v14h-16z M4 9.5h16 M4 14h16 M10 5v14",
             .telling = "{row}"},
    {kind_of(&ListSettings::row, ParameterKind::row, "row", "Row",
             "Its name; `= dial` takes the word at which a choice stands, any other formula counts rows from 0."),
     kind_of(&ListSettings::table, ParameterKind::table, "table", "Numbers",
             "Heads with their units, and rows of a name and a number for each head.")},
    NamedGiven<ListSettings>{[](const Json& settings) { return heads_written(settings, "table"); },
                             [](const ListSettings& s, std::string_view name) -> std::optional<Result<double>> {
                                 return number_in(s.table, s.row, name);
                             }});

}  // namespace

}  // namespace bricol
