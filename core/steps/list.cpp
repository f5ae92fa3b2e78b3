// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <charconv>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct ListSettings {
    NumberTable table;
    std::string row;
};

/// The row a name, or a place from 0 behind "#", stands for; the first when nothing is said.
const NumberTable::Row* row_of(const ListSettings& s) {
    const auto& rows = s.table.rows;
    if (rows.empty()) return nullptr;
    if (s.row.empty()) return &rows.front();
    if (const auto named = std::ranges::find(rows, s.row, &NumberTable::Row::name); named != rows.end()) return &*named;
    std::size_t place = rows.size();
    if (s.row.front() == '#') std::from_chars(s.row.data() + 1, s.row.data() + s.row.size(), place);
    return place < rows.size() ? &rows[place] : nullptr;
}

/// At most so many names are spelled out in a message.
constexpr std::size_t most_spelled = 12;

std::string all_of(const std::vector<std::string>& names) {
    std::string all;
    for (std::size_t i = 0; i < names.size() && i < most_spelled; ++i) all += (i == 0 ? "" : ", ") + names[i];
    return names.size() > most_spelled ? all + " …" : all;
}

std::optional<Result<double>> number_of_row(const ListSettings& s, std::string_view name) {
    const auto head = std::ranges::find(s.table.heads, name);
    if (head == s.table.heads.end())
        return Problem{fmt::format("The list has no head “{}”.", name), "",
                       s.table.heads.empty() ? "Give it one." : "There are: " + all_of(s.table.heads) + "."};
    const NumberTable::Row* row = row_of(s);
    if (row) return row->numbers[static_cast<std::size_t>(head - s.table.heads.begin())];
    std::vector<std::string> names;
    for (const auto& one : s.table.rows) names.push_back(one.name);
    return Problem{s.row.starts_with('#') ? fmt::format("The list has {} rows, counted from 0; there is no {}.",
                                                        names.size(), s.row.substr(1))
                                          : fmt::format("The list has no row “{}”.", s.row),
                   "", names.empty() ? "Give it one." : "There are: " + all_of(names) + "."};
}

std::vector<std::string> heads_written(const Json& settings) {
    std::vector<std::string> names;
    const auto table = settings.find("table");
    if (table == settings.end() || !table->is_object() || !table->contains("heads")) return names;
    for (const Json& head : (*table)["heads"])
        if (head.is_string())
            names.push_back(head.get_ref<const std::string&>().substr(0, head.get_ref<const std::string&>().find(' ')));
    return names;
}

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
    NamedGiven<ListSettings>{heads_written, number_of_row});

}  // namespace

}  // namespace bricol
