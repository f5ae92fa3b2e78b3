// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/formula/hidden_dials.h"

#include <fmt/format.h>

namespace bricol {

std::map<std::string, double> without_hidden_dials(const FormulaRow& row, std::size_t number,
                                                   const std::function<bool(const std::string&)>& stands,
                                                   std::string_view whose, std::vector<RowProblem>& problems) {
    std::map<std::string, double> constants = row.constants;
    std::string hidden;
    std::erase_if(constants, [&](const auto& constant) {
        if (!stands(constant.first)) return false;
        if (constant.first.find('.') == std::string::npos)
            hidden += (hidden.empty() ? "“" : ", “") + constant.first + "”";
        return true;
    });
    if (!hidden.empty())
        problems.push_back({number,
                            "hidden-dial",
                            fmt::format("{} in “{}” {}, not the dial of that name. Rename the dial to use it here.",
                                        hidden, row.text, whose),
                            {},
                            {},
                            {}});
    return constants;
}

}  // namespace bricol
