// SPDX-License-Identifier: GPL-3.0-or-later
#include <QLineEdit>

#include "app/kinds/editor.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor text_editor(const EditorPlace& place) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, place.info);
    auto* field = new QLineEdit(line);
    field->setObjectName("text:" + QString::fromStdString(place.key()));
    field->setFixedSize(112, 24);
    field->setToolTip(text_of(place.info.help));
    field->setPlaceholderText("none");
    QObject::connect(field, &QLineEdit::editingFinished, line, [place, field] {
        const std::string plain = field->text().trimmed().toStdString();
        if (place.step_now() && place.written() != plain && field->isModified()) place.write(plain);
    });
    row->addWidget(field);
    return {line, [field, info = place.info](const Values& values) {
                const auto* value = value_in<std::string>(values, info);
                if (value && !field->hasFocus()) field->setText(QString::fromStdString(*value));
            }};
}

const EditorOf text_kind(ParameterKind::text, text_editor);

}  // namespace

}  // namespace bricol
