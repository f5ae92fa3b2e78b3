// SPDX-License-Identifier: GPL-3.0-or-later
// Lines "target <- formula", worked out per element. Their formulas carry no sign in front.
#include <fmt/format.h>

#include "core/catalogue/kinds/pieces.h"

namespace bricol::kinds {

namespace {

std::string row_text(const Json& row, const char* key) {
    return row.is_object() && row.contains(key) && row[key].is_string() ? row[key].get<std::string>() : std::string();
}

class RowsKind final : public Kind {
    std::string_view name() const override { return "rows"; }
    Value standard(const ParameterInfo&) const override { return std::vector<FormulaRow>{}; }
    Value read(const ParameterInfo& p, const Json& written, Reading& reading) const override {
        std::vector<FormulaRow> out;
        if (!written.is_array() || written.size() > 500) {
            reading.tell(std::string(p.key), "A list of at most 500 rows is wanted.");
            return out;
        }
        for (std::size_t k = 0; k < written.size(); ++k) {
            const Json& row = written[k];
            if (!row.is_object() || !row.contains("target") || !row["target"].is_string() || !row.contains("formula") ||
                !row["formula"].is_string()) {
                reading.tell(fmt::format("{}/{}", p.key, k), "A row has “target” and “formula”, both text.");
                continue;
            }
            std::string text = row["formula"].get<std::string>();
            if (const std::size_t begin = text.find_first_not_of(' '); begin != std::string::npos && text[begin] == '=')
                text.erase(0, begin + 1);
            out.push_back({row["target"].get<std::string>(), text, reading.constants(text)});
        }
        return out;
    }
    void digest(const Value& value, Digest& digest) const override {
        const auto& rows = std::get<std::vector<FormulaRow>>(value);
        digest.add(rows.size());
        for (const FormulaRow& row : rows) {
            digest.add(std::string_view(row.target)), digest.add(std::string_view(row.text));
            digest.add(row.constants.size());
            for (const auto& [name, number] : row.constants) digest.add(std::string_view(name)), digest.add(number);
        }
    }
    Json schema(const ParameterInfo&) const override {
        return list_schema({{"type", "object"},
                            {"properties", {{"target", {{"type", "string"}}}, {"formula", {{"type", "string"}}}}},
                            {"required", {"target", "formula"}}});
    }
    std::string told(const ParameterInfo&, const Shown& shown) const override {
        if (!shown.written || shown.written->empty()) return "no rows yet";
        if (shown.written->size() > 1) return fmt::format("{} rows", shown.written->size());
        const Json& row = shown.written->front();
        return row_text(row, "target") + " ← " + row_text(row, "formula");
    }
    void each_formula(Json& written, const OnFormula& f) const override {
        if (!written.is_array()) return;
        for (Json& row : written)
            if (row.is_object() && row.contains("formula") && row["formula"].is_string())
                f({row["formula"], row["formula"].get_ref<const std::string&>().starts_with('=')});
    }
};

}  // namespace

const Kind& rows() {
    static const RowsKind kind;
    return kind;
}

}  // namespace bricol::kinds
