// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/editor.h"

#include <QStylePainter>
#include <QWheelEvent>
#include <map>

#include "app/theme/text.h"

namespace bricol {

namespace {

using EditorMaker = Editor (*)(const EditorPlace&);

std::map<ParameterKind, EditorMaker>& editors() {
    static std::map<ParameterKind, EditorMaker> all;
    return all;
}

}  // namespace

EditorOf::EditorOf(ParameterKind kind, EditorMaker make) { editors()[kind] = make; }

Editor editor_for(const EditorPlace& place) {
    const auto found = editors().find(place.info.kind);
    return found == editors().end() ? Editor{} : found->second(place);
}

QString EditorPlace::name() const { return text_of(info.label); }

const Step* EditorPlace::step_now() const {
    const Part* holder = session->recipe().part(part);
    return holder ? find_step(*holder, step) : nullptr;
}

Json EditorPlace::written() const {
    const Step* one = step_now();
    return one && one->settings.contains(key()) ? one->settings[key()] : Json();
}

void EditorPlace::write(const Json& value, const QString& merge) const {
    session->edit(set_setting(session->recipe(), part, step, key(), value), "Change " + name().toLower(), merge);
}

void Combo::wheelEvent(QWheelEvent* event) { hasFocus() ? QComboBox::wheelEvent(event) : event->ignore(); }

QRect Combo::words_room() const {
    QStyleOptionComboBox option;
    initStyleOption(&option);
    // A pixel on either side stays free: styles begin to write inside of the field.
    return style()
        ->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this)
        .adjusted(1, 0, -1, 0);
}

void Combo::paintEvent(QPaintEvent* event) {
    if (isEditable() || currentIndex() < 0) return QComboBox::paintEvent(event);
    QStylePainter painter(this);
    QStyleOptionComboBox option;
    initStyleOption(&option);
    painter.drawComplexControl(QStyle::CC_ComboBox, option);
    option.currentText = fontMetrics().elidedText(option.currentText, Qt::ElideRight, words_room().width());
    painter.drawControl(QStyle::CE_ComboBoxLabel, option);
}

QLabel* setting_label(const ParameterInfo& info, QWidget* parent) {
    auto* label = new QLabel(text_of(info.label), parent);
    label->setToolTip(text_of(info.help));
    return label;
}

QHBoxLayout* labelled_row(QWidget* line, const ParameterInfo& info) {
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    row->addWidget(setting_label(info, line), 1);
    return row;
}

void empty_layout(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        if (item->layout()) empty_layout(item->layout());
        delete item;
    }
}

}  // namespace bricol
