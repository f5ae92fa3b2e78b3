// SPDX-License-Identifier: GPL-3.0-or-later
#include <QDir>
#include <QFileDialog>
#include <QLineEdit>
#include <QToolButton>

#include "app/kinds/editor.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor file_editor(const EditorPlace& place) {
    const ParameterInfo& p = place.info;
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    row->addWidget(setting_label(p, line));
    auto* field = new QLineEdit(line);
    field->setObjectName("kit:" + QString::fromStdString(place.key()));
    field->setFixedHeight(24);
    field->setToolTip(text_of(p.help));
    const bool kit = p.kind == ParameterKind::kit;
    field->setPlaceholderText("a file beside this one");
    row->addWidget(field, 1);
    auto* choose = new QToolButton(line);
    choose->setText("…");
    choose->setFixedSize(24, 24);
    choose->setToolTip(kit ? "Choose a kit recipe's file" : "Choose a file");
    row->addWidget(choose);
    QObject::connect(field, &QLineEdit::editingFinished, line, [place, field] {
        if (field->isModified() && !field->isReadOnly()) place.write(field->text().trimmed().toStdString());
    });
    const QString endings = kit ? QString("Bricol recipes (*.bricol)") : text_of(p.file_filter);
    QObject::connect(choose, &QToolButton::clicked, line, [place, line, kit, endings] {
        const QString file =
            QFileDialog::getOpenFileName(line, kit ? "Kit recipe" : "File", place.session->folder(), endings);
        if (!file.isEmpty()) place.write(QDir(place.session->folder()).relativeFilePath(file).toStdString());
    });
    const auto refresh = [field, place](const Values&) {
        const Json written = place.written();
        field->setReadOnly(written.is_object());
        if (!field->hasFocus())
            field->setText(written.is_object()   ? "packed steps"
                           : written.is_string() ? QString::fromStdString(written.get<std::string>())
                                                 : QString());
    };
    return {line, refresh};
}

const EditorOf file_kind(ParameterKind::file, file_editor), kit_kind(ParameterKind::kit, file_editor);

}  // namespace

}  // namespace bricol
