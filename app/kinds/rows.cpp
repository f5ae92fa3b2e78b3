// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/formula_offers.h"
#include "app/kinds/list_rows.h"

namespace bricol {

namespace {

Editor rows_editor(const EditorPlace& place) {
    const auto text = [](const Json& row, const char* key) {
        return row.is_object() && row.contains(key) && row[key].is_string()
                   ? QString::fromStdString(row[key].get<std::string>())
                   : QString();
    };
    return list_rows(
        place, {"target", "formula"},
        [text](const Json& row) {
            return QStringList{text(row, "target"), text(row, "formula")};
        },
        [](const QStringList& texts) {
            return Json{{"target", texts.value(0).isEmpty() ? "z" : texts.value(0).toStdString()},
                        {"formula", texts.value(1).isEmpty() ? "z" : texts.value(1).toStdString()}};
        },
        "+ row",
        [place](QLineEdit* field, int column) {
            if (column != 1) return;
            new FormulaOffers(
                field,
                [place] {
                    const Step* step = place.step_now();
                    const auto on = step ? step->settings.find("on") : Json::const_iterator{};
                    const bool said = step && on != step->settings.end() && on->is_string();
                    return formula_offers(*place.session, place.part, place.step,
                                          said ? domain_of_plural(on->get<std::string>()) : Domain::vertex);
                },
                true);
        });
}

const EditorOf rows_kind(ParameterKind::rows, rows_editor);

}  // namespace

}  // namespace bricol
