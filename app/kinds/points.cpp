// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/formula_offers.h"
#include "app/kinds/list_rows.h"

namespace bricol {

namespace {

Editor points_editor(const EditorPlace& place) {
    return list_rows(
        place, {"x", "y", "z"},
        [](const Json& row) {
            QStringList texts;
            for (std::size_t i = 0; i < 3; ++i)
                texts << (row.is_array() && i < row.size() ? number_as_typed(row[i]) : QString());
            return texts;
        },
        [](const QStringList& texts) {
            return Json::array(
                {typed_number(texts.value(0)), typed_number(texts.value(1)), typed_number(texts.value(2))});
        },
        "+ point",
        [place](QLineEdit* field, int) {
            new FormulaOffers(field, [place] { return formula_offers(*place.session, place.part, place.step); });
        });
}

const EditorOf points_kind(ParameterKind::points, points_editor);

}  // namespace

}  // namespace bricol
