// SPDX-License-Identifier: GPL-3.0-or-later
// Rows of text fields for settings that are lists.
#pragma once

#include <QStringList>

#include "app/kinds/editor.h"

class QLineEdit;

namespace bricol {

/// Rows of text fields kept in one JSON list; `read` and `write` turn one row into texts and back; `dress` is given
/// every field.
Editor list_rows(const EditorPlace& place, const QStringList& heads,
                 const std::function<QStringList(const Json&)>& read,
                 const std::function<Json(const QStringList&)>& write, const QString& add_text,
                 const std::function<void(QLineEdit* field, int column)>& dress = {});
/// A number as typed, or a formula.
Json typed_number(const QString& text);
/// The same the other way round.
QString number_as_typed(const Json& json);

}  // namespace bricol
