// SPDX-License-Identifier: GPL-3.0-or-later
#include <QPushButton>

#include "app/kinds/editor.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor places_editor(const EditorPlace& place) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    auto* label = setting_label(place.info, line);
    row->addWidget(label, 1);
    auto* none = new QPushButton("Clear", line);
    none->setObjectName("clear:" + QString::fromStdString(place.key()));
    none->setToolTip("Forget everything that was picked");
    QObject::connect(none, &QPushButton::clicked, line, [place] {
        place.session->edit(set_setting(place.session->recipe(), place.part, place.step, place.key(), Json::array()),
                            "Clear the picks");
    });
    row->addWidget(none);
    return {line, [label, none, place](const Values& values) {
                const auto* value = value_in<std::vector<Place>>(values, place.info);
                if (!value) return;
                label->setText(place.name() + (value->empty() ? ": none yet" : QString(": %1").arg(value->size())));
                none->setEnabled(!value->empty());
            }};
}

const EditorOf places_kind(ParameterKind::places, places_editor);

}  // namespace

}  // namespace bricol
