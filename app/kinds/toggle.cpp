// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>

#include "app/kinds/editor.h"
#include "app/kinds/whole_menu.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor toggle_editor(const EditorPlace& place) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* box = new QCheckBox(place.name(), line);
    box->setObjectName("toggle:" + QString::fromStdString(place.key()));
    box->setToolTip(text_of(place.info.help));
    QObject::connect(box, &QCheckBox::clicked, box, [place](bool on) { place.write(on); });
    row->addWidget(box, 1);
    add_whole_menu(row, place);
    return {line, [box, info = place.info](const Values& values) {
                if (const auto* value = value_in<bool>(values, info)) box->setChecked(*value);
            }};
}

const EditorOf toggle_kind(ParameterKind::toggle, toggle_editor);

}  // namespace

}  // namespace bricol
