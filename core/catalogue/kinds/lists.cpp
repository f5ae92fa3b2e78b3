// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of whole numbers: the corners of faces.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

class ListsKind final : public SignedKind {
    std::string_view name() const override { return "lists"; }
    Value standard(const ParameterInfo&) const override { return std::vector<std::vector<int>>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        std::vector<std::vector<int>> out;
        if (!written.is_array() || written.size() > most_points) {
            reading.tell(std::string(p.key), fmt::format("At most {} lists of numbers are wanted.", most_points));
            return out;
        }
        std::size_t unread = 0;
        for (std::size_t k = 0; k < written.size(); ++k) {
            const std::string at = fmt::format("{}/{}", p.key, k);
            std::vector<int> list;
            if (written[k].is_array() && written[k].size() <= most_points)
                for (std::size_t i = 0; i < written[k].size(); ++i) {
                    const std::string here = fmt::format("{}/{}", at, i);
                    const double number = reading.number_or(written[k][i], here, -1);
                    const double whole = std::clamp(std::round(number), -1.0, 2e9);
                    if (std::abs(number - whole) > 1e-6 && unread++ < Reading::most_told)
                        reading.tell(here, fmt::format("A whole number is wanted, not {}.", format_number(number)));
                    list.push_back(std::abs(number - whole) > 1e-6 ? no_number : static_cast<int>(whole));
                }
            else if (unread++ < Reading::most_told)
                reading.tell(at, "A list of whole numbers is wanted.");
            out.push_back(std::move(list));
        }
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& lists = std::get<std::vector<std::vector<int>>>(value);
        digest.add(lists.size());
        for (const auto& list : lists) {
            digest.add(list.size());
            for (const int i : list) digest.add(i);
        }
    }
    Json schema(const ParameterInfo&) const override { return list_schema(list_schema(number_schema())); }
};

}  // namespace

const Kind& lists() {
    static const ListsKind kind;
    return kind;
}

}  // namespace bricol::kinds
