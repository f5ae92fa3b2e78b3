// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
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
        "+ row");
}

const EditorOf rows_kind(ParameterKind::rows, rows_editor);

}  // namespace

}  // namespace bricol
