// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/name_combo.h"

#include <QLineEdit>

#include "app/theme/text.h"

namespace bricol {

Editor name_combo(const EditorPlace& place, const QString& object, const QString& none,
                  const std::function<QStringList()>& names) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, place.info);
    auto* combo = new Combo(line);
    combo->setObjectName(object + ":" + QString::fromStdString(place.key()));
    combo->setEditable(true);
    combo->setInsertPolicy(QComboBox::NoInsert);
    combo->setFixedSize(112, 24);
    combo->setToolTip(text_of(place.info.help));
    combo->lineEdit()->setPlaceholderText(none);
    const auto write = [place](const QString& text) {
        const std::string plain = text.trimmed().toStdString();
        if (place.step_now() && place.written() != plain) place.write(plain);
    };
    QObject::connect(combo, &QComboBox::activated, line, [write, combo] { write(combo->currentData().toString()); });
    QObject::connect(combo->lineEdit(), &QLineEdit::editingFinished, line, [write, combo] {
        if (combo->lineEdit()->isModified()) write(combo->lineEdit()->text());
    });
    row->addWidget(combo);
    return {line, [combo, none, names, place](const Values& values) {
                const auto* value = value_in<std::string>(values, place.info);
                if (!value || combo->lineEdit()->hasFocus()) return;
                const QSignalBlocker quiet(combo);
                combo->clear();
                combo->addItem(none, QString());
                for (const QString& name : names()) combo->addItem(name, name);
                combo->setCurrentIndex(-1);
                const Json written = place.written();  // a formula stays one
                combo->setEditText(QString::fromStdString(written.is_string() ? written.get<std::string>() : *value));
            }};
}

const Shape* shape_before(const EditorPlace& place) {
    const Part* part = place.session->recipe().part(place.part);
    const StepOutcome* before =
        part ? place.session->outcome(place.part, source_of(*part, step_index(*part, place.step), "shape")) : nullptr;
    return before ? before->shape.get() : nullptr;
}

}  // namespace bricol
