// SPDX-License-Identifier: GPL-3.0-or-later
#include <QColorDialog>
#include <QPushButton>

#include "app/kinds/editor.h"
#include "app/kinds/screen_colour.h"
#include "app/kinds/whole_menu.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor colour_editor(const EditorPlace& place) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, place.info);
    auto* button = new QPushButton(line);
    button->setObjectName("colour:" + QString::fromStdString(place.key()));
    button->setFixedSize(112, 24);
    button->setToolTip(text_of(place.info.help));
    row->addWidget(button);
    add_whole_menu(row, place);
    auto now = std::make_shared<DVec3>(place.info.standard_vector);
    QObject::connect(button, &QPushButton::clicked, line, [place, now, button] {
        const QColor picked = QColorDialog::getColor(colour_in(place.info, *now), button, place.name());
        if (!picked.isValid()) return;
        place.write(colour_for(place.info, picked));
    });
    return {line, [button, now, info = place.info](const Values& values) {
                const auto* value = value_in<DVec3>(values, info);
                if (!value) return;
                *now = *value;
                show_swatch(*button, colour_in(info, *now));
            }};
}

const EditorOf colour_kind(ParameterKind::colour, colour_editor);

}  // namespace

}  // namespace bricol
