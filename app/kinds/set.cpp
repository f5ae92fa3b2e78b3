// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/name_combo.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

namespace {

Editor set_editor(const EditorPlace& place) {
    return name_combo(place, "set", "everything", [place] {
        QStringList names;
        if (const Shape* before = shape_before(place))
            for (const SetInfo& set : sets_on(*before))
                if (const QString name = QString::fromStdString(set.name); !names.contains(name)) names << name;
        return names;
    });
}

const EditorOf set_kind(ParameterKind::set, set_editor);

}  // namespace

}  // namespace bricol
