// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/number_table.h"

#include <algorithm>
#include <charconv>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace bricol {

namespace {

/// The row a name, or a place from 0 behind "#", stands for; the first when nothing is said.
const NumberTable::Row* row_of(const NumberTable& table, const std::string& row) {
    const auto& rows = table.rows;
    if (rows.empty()) return nullptr;
    if (row.empty()) return &rows.front();
    if (const auto named = std::ranges::find(rows, row, &NumberTable::Row::name); named != rows.end()) return &*named;
    std::size_t place = rows.size();
    if (row.front() == '#') std::from_chars(row.data() + 1, row.data() + row.size(), place);
    return place < rows.size() ? &rows[place] : nullptr;
}

/// At most so many names are spelled out in a message.
constexpr std::size_t most_spelled = 12;

std::string all_of(const std::vector<std::string>& names) {
    std::string all;
    for (std::size_t i = 0; i < names.size() && i < most_spelled; ++i) all += (i == 0 ? "" : ", ") + names[i];
    return names.size() > most_spelled ? all + " …" : all;
}

}  // namespace

std::string head_name(std::string_view written) { return std::string(written.substr(0, written.find(' '))); }

std::vector<std::string> heads_written(const Json& settings, std::string_view key) {
    std::vector<std::string> names;
    const auto table = settings.find(key);
    if (table == settings.end() || !table->is_object() || !table->contains("heads")) return names;
    for (const Json& head : (*table)["heads"])
        if (head.is_string()) names.push_back(head_name(head.get_ref<const std::string&>()));
    return names;
}

Result<double> number_in(const NumberTable& table, const std::string& row, std::string_view name) {
    const auto head = std::ranges::find(table.heads, name);
    if (head == table.heads.end())
        return Problem{fmt::format("The list has no head “{}”.", name), "",
                       table.heads.empty() ? "Give it one." : "There are: " + all_of(table.heads) + "."};
    if (const NumberTable::Row* found = row_of(table, row))
        return found->numbers[static_cast<std::size_t>(head - table.heads.begin())];
    std::vector<std::string> names;
    for (const auto& one : table.rows) names.push_back(one.name);
    return Problem{row.starts_with('#') ? fmt::format("The list has {} rows, counted from 0; there is no {}.",
                                                      names.size(), row.substr(1))
                                        : fmt::format("The list has no row “{}”.", row),
                   "", names.empty() ? "Give it one." : "There are: " + all_of(names) + "."};
}

}  // namespace bricol
