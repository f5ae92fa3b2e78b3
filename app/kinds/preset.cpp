// SPDX-License-Identifier: GPL-3.0-or-later
// The presets of a recipe that stands in this one, to choose from. Shown while it has some, or while one is named.
#include "app/kinds/editor.h"
#include "app/theme/text.h"
#include "core/files/kits.h"

namespace bricol {

namespace {

constexpr const char* no_preset = "none";

Editor preset_editor(const EditorPlace& place) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* line = new QWidget(box);
    QHBoxLayout* row = labelled_row(line, place.info);
    auto* combo = new Combo(line);
    combo->setObjectName("preset:" + QString::fromStdString(place.key()));
    combo->setFixedSize(112, 24);
    combo->setToolTip(text_of(place.info.help));
    row->addWidget(combo);
    column->addWidget(line);
    QObject::connect(combo, &QComboBox::activated, line, [place, combo](int chosen) {
        const std::string name = chosen == 0 ? std::string() : combo->currentText().toStdString();
        if (place.step_now() && place.written() != name) place.write(name);
    });
    return {box, [combo, line, place](const Values& values) {
                const auto* value = value_in<std::string>(values, place.info);
                const auto inner =
                    recipe_inside(place.session->recipe(), place.part, place.step,
                                  place.session->environment().find_kit, place.session->folder().toStdString());
                QStringList names{no_preset};
                if (inner)
                    for (const Preset& preset : inner->presets) names << QString::fromStdString(preset.name);
                const QString now = value && !value->empty() ? QString::fromStdString(*value) : QString(no_preset);
                if (!names.contains(now)) names << now;  // gone from the recipe: seen, and told by the step
                line->setVisible(names.size() > 1);
                combo->clear();
                combo->addItems(names);
                combo->setCurrentIndex(static_cast<int>(names.indexOf(now)));
            }};
}

const EditorOf preset_kind(ParameterKind::preset, preset_editor);

}  // namespace

}  // namespace bricol
