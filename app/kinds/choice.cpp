// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"
#include "app/kinds/whole_menu.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

/// One of a few keys: those of the setting itself, or the other parts of the recipe.
Editor combo_of(const EditorPlace& place, const std::vector<std::pair<QString, QString>>& labels_and_keys) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, place.info);
    auto* combo = new Combo(line);
    combo->setObjectName("choice:" + QString::fromStdString(place.key()));
    combo->setFixedSize(112, 24);
    combo->setToolTip(text_of(place.info.help));
    for (const auto& [label, key] : labels_and_keys) {
        combo->addItem(label, key);
        combo->setItemData(combo->count() - 1, label, Qt::ToolTipRole);
    }
    QObject::connect(combo, &QComboBox::activated, line,
                     [place, combo] { place.write(combo->currentData().toString().toStdString()); });
    row->addWidget(combo);
    if (place.info.kind == ParameterKind::choice) add_whole_menu(row, place);
    return {line, [combo, info = place.info](const Values& values) {
                const auto* value = value_in<std::string>(values, info);
                if (!value) return;
                combo->setCurrentIndex(combo->findData(QString::fromStdString(*value)));
                // A long choice is shortened in the narrow field: its whole name is in the tooltip.
                combo->setToolTip(combo->currentText() + "\n" + text_of(info.help));
            }};
}

Editor choice_editor(const EditorPlace& place) {
    std::vector<std::pair<QString, QString>> list;
    for (const Choice& choice : place.info.choices) list.emplace_back(text_of(choice.label), text_of(choice.key));
    return combo_of(place, list);
}

Editor part_editor(const EditorPlace& place) {
    std::vector<std::pair<QString, QString>> list;
    for (const auto& other : place.session->recipe().parts)
        if (other->name != place.part)
            list.emplace_back(QString::fromStdString(other->name), QString::fromStdString(other->name));
    return combo_of(place, list);
}

const EditorOf choice_kind(ParameterKind::choice, choice_editor), part_kind(ParameterKind::part, part_editor);

}  // namespace

}  // namespace bricol
