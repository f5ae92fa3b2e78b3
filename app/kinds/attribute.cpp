// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/name_combo.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

namespace {

Editor attribute_editor(const EditorPlace& place) {
    return name_combo(place, "attribute", "none", [place] {
        QStringList names;
        const Shape* before = shape_before(place);
        const Attributes carried = before ? attributes_on(*before) : Attributes();
        for (const Attribute& a : carried.all())
            if (const QString name = QString::fromStdString(a.name); a.domain != Domain::whole && !names.contains(name))
                names << name;
        return names;
    });
}

const EditorOf attribute_kind(ParameterKind::attribute, attribute_editor);

}  // namespace

}  // namespace bricol
