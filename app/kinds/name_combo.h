// SPDX-License-Identifier: GPL-3.0-or-later
// A field for a name that may be chosen from those that exist or typed: the thing may be made later.
#pragma once

#include <QStringList>

#include "app/kinds/editor.h"

namespace bricol {

/// `object` names the field for tests and style; `none` stands there when nothing is written; `names` gives those that
/// exist now.
Editor name_combo(const EditorPlace& place, const QString& object, const QString& none,
                  const std::function<QStringList()>& names);
/// The shape that flows into the step of a setting, as it was last made; null when there is none.
const Shape* shape_before(const EditorPlace& place);

}  // namespace bricol
