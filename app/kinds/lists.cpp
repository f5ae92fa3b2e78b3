// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/list_rows.h"

namespace bricol {

namespace {

Editor lists_editor(const EditorPlace& place) {
    return list_rows(
        place, {"0, 1, 2 …"},
        [](const Json& row) {
            QStringList parts;
            if (row.is_array())
                for (const auto& item : row) parts << number_as_typed(item);
            return QStringList{parts.join(", ")};
        },
        [](const QStringList& texts) {
            Json list = Json::array();
            for (const QString& one : texts.value(0).split(',', Qt::SkipEmptyParts))
                list.push_back(typed_number(one.trimmed()));
            return list;
        },
        "+ list");
}

const EditorOf lists_kind(ParameterKind::lists, lists_editor);

}  // namespace

}  // namespace bricol
