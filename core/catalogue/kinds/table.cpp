// SPDX-License-Identifier: GPL-3.0-or-later
// Named rows of numbers under heads; a head says the unit its numbers are written in ("across mm").
#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"
#include "core/catalogue/number_table.h"
#include "core/formula/tokens.h"
#include "core/formula/units.h"

namespace bricol::kinds {

namespace {

constexpr std::size_t most_heads = 200, most_rows = 10000;

/// A head as it is written, in two.
struct Head {
    std::string name;
    double factor = 1;  ///< of its unit: metres, degrees
};

Head head_of(const ParameterInfo& p, const Json& written, std::size_t at, Reading& reading) {
    const std::string where = fmt::format("{}/heads/{}", p.key, at);
    if (!written.is_string()) {
        reading.tell(where, "A name is wanted, with a unit behind it when its numbers have one: “across mm”.");
        return {};
    }
    const auto& text = written.get_ref<const std::string&>();
    Head head{head_name(text), 1};
    if (head.name.empty() || !name_start(head.name.front()) ||
        !std::ranges::all_of(head.name, [](char c) { return c != '.' && name_part(c); }))
        reading.tell(where, fmt::format("“{}” cannot be asked for: letters, digits and _ make a name.", head.name));
    const std::size_t unit_begin = text.find_first_not_of(' ', head.name.size());
    const std::string unit = unit_begin == std::string::npos ? "" : text.substr(unit_begin);
    if (unit.empty()) return head;
    if (const auto known = find_unit(unit))
        head.factor = known->factor;
    else
        reading.tell(where, fmt::format("“{}” is no unit. Write m, cm, mm or deg behind the name, or nothing.", unit));
    return head;
}

class TableKind final : public SignedKind {
    std::string_view name() const override { return "table"; }
    Value standard(const ParameterInfo&) const override { return NumberTable{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        NumberTable out;
        const auto part = [&](const char* key, std::size_t most) -> const Json* {
            const auto found = written.is_object() ? written.find(key) : written.end();
            if (found != written.end() && found->is_array() && found->size() <= most) return &*found;
            reading.tell(fmt::format("{}/{}", p.key, key),
                         fmt::format("A list of at most {} {} is wanted.", most, key));
            return nullptr;
        };
        const Json *heads = part("heads", most_heads), *rows = heads ? part("rows", most_rows) : nullptr;
        if (!rows) return out;
        std::vector<double> factors;
        for (std::size_t i = 0; i < heads->size(); ++i) {
            Head head = head_of(p, (*heads)[i], i, reading);
            if (std::ranges::find(out.heads, head.name) != out.heads.end())
                reading.tell(fmt::format("{}/heads/{}", p.key, i), fmt::format("“{}” stands here twice.", head.name));
            out.heads.push_back(std::move(head.name));
            factors.push_back(head.factor);
        }
        for (std::size_t r = 0; r < rows->size(); ++r) {
            const Json& row = (*rows)[r];
            const std::string where = fmt::format("{}/rows/{}", p.key, r);
            if (!row.is_array() || row.size() != factors.size() + 1 || !row[0].is_string()) {
                reading.tell(where, fmt::format("A name and {} number{} are wanted, one for each head.", factors.size(),
                                                factors.size() == 1 ? "" : "s"));
                out.rows.push_back({"", std::vector<double>(factors.size())});
                continue;
            }
            NumberTable::Row read{row[0].get<std::string>(), {}};
            if (std::ranges::find(out.rows, read.name, &NumberTable::Row::name) != out.rows.end())
                reading.tell(where, fmt::format("“{}” stands here twice.", read.name));
            for (std::size_t i = 0; i < factors.size(); ++i)
                read.numbers.push_back(factors[i] *
                                       reading.number_or(row[i + 1], fmt::format("{}/{}", where, i + 1), 0));
            out.rows.push_back(std::move(read));
        }
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& table = std::get<NumberTable>(value);
        digest.add(table.heads.size());
        for (const std::string& head : table.heads) digest.add(std::string_view(head));
        digest.add(table.rows.size());
        for (const NumberTable::Row& row : table.rows) {
            digest.add(std::string_view(row.name));
            for (const double number : row.numbers) digest.add(number);
        }
    }
    Json schema(const ParameterInfo&) const override {
        Json row = list_schema(Json::object());
        row["prefixItems"] = Json::array({{{"type", "string"}}});
        row["items"] = number_schema();
        row["minItems"] = 1;
        return {{"type", "object"},
                {"properties", {{"heads", list_schema({{"type", "string"}})}, {"rows", list_schema(std::move(row))}}},
                {"required", {"heads", "rows"}},
                {"additionalProperties", false}};
    }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        const std::size_t count = shown.value ? std::get<NumberTable>(*shown.value).rows.size() : std::size_t(0);
        return fmt::format("{} row{}", count, count == 1 ? "" : "s");
    }
};

/// A row's name, or "= dial" of a choice's dial, or a formula that counts rows from 0.
class RowKind final : public TextKind {
public:
    RowKind() : TextKind("row") {}

private:
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        if (!is_formula(written)) return TextKind::read(p, written, reading);
        if (const auto named = reading.named(written); named && std::holds_alternative<std::string>(*named))
            return *named;
        const auto place = reading.number(written);
        if (place) return fmt::format("#{:.0f}", *place);
        reading.tell(std::string(p.key), place.problem().text());
        return standard(p);
    }
    void each_formula(Json& written, const OnFormula& f) const override { each_formula_in(written, f); }
    std::string standard_words(const ParameterInfo&) const override { return "the first"; }
    std::string told(const ParameterInfo& p, const Shown& shown) const override {
        if (shown.value) return std::get<std::string>(*shown.value);
        return TextKind::told(p, shown);
    }
};

}  // namespace

const Kind& table() {
    static const TableKind kind;
    return kind;
}

const Kind& row() {
    static const RowKind kind;
    return kind;
}

}  // namespace bricol::kinds
