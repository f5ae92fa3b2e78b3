// SPDX-License-Identifier: GPL-3.0-or-later
#include <QColorDialog>
#include <QPushButton>

#include "app/kinds/editor.h"
#include "app/kinds/screen_colour.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

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
    auto now = std::make_shared<DVec3>(place.info.standard_vector);
    QObject::connect(button, &QPushButton::clicked, line, [place, now, button] {
        const QColor picked = QColorDialog::getColor(screen_colour(*now), button, place.name());
        if (!picked.isValid()) return;
        const DVec3 c = linear_colour(picked);
        place.write(Json::array({c.x, c.y, c.z}));
    });
    return {line, [button, now, info = place.info](const Values& values) {
                const auto* value = value_in<DVec3>(values, info);
                if (!value) return;
                *now = *value;
                const QColor c = screen_colour(*now);
                button->setText(c.name());
                button->setStyleSheet(QString("background:%1;color:%2;border:1px solid %3;border-radius:3px;")
                                          .arg(c.name(), c.lightnessF() > 0.5f ? "#22303C" : "#FBF9F4",
                                               theme::color(theme::Role::line).name()));
            }};
}

const EditorOf colour_kind(ParameterKind::colour, colour_editor);

}  // namespace

}  // namespace bricol
