// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>

#include "app/kinds/editor.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor toggle_editor(const EditorPlace& place) {
    auto* box = new QCheckBox(place.name());
    box->setObjectName("toggle:" + QString::fromStdString(place.key()));
    box->setToolTip(text_of(place.info.help));
    QObject::connect(box, &QCheckBox::clicked, box, [place](bool on) { place.write(on); });
    return {box, [box, info = place.info](const Values& values) {
                if (const auto* value = value_in<bool>(values, info)) box->setChecked(*value);
            }};
}

const EditorOf toggle_kind(ParameterKind::toggle, toggle_editor);

}  // namespace

}  // namespace bricol
