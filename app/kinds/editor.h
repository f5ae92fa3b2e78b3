// SPDX-License-Identifier: GPL-3.0-or-later
// Editors of settings in the details, one file per kind of setting; each registers itself.
#pragma once

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <functional>

#include "app/document/session.h"
#include "core/catalogue/step_info.h"

namespace bricol {

/// The setting that an editor is for, and what it needs to read and write it.
struct EditorPlace {
    Session* session;
    std::string part, step;
    ParameterInfo info;
    std::function<void(const std::string& step)> open_blocks;  ///< shows the sheet of a step's own blocks

    std::string key() const { return std::string(info.key); }
    QString name() const;
    const Step* step_now() const;
    /// The setting as it is written; null when it is not.
    Json written() const;
    /// Edits in a row under one `merge` are undone in one go.
    void write(const Json& value, const QString& merge = {}) const;
};

/// What stands in the details for a setting. `refresh` shows it anew, with all settings of the step worked out.
struct Editor {
    QWidget* widget = nullptr;
    std::function<void(const Values&)> refresh;
};

/// Registers the editor of a kind of setting: one at file level, in the kind's file.
class EditorOf {
public:
    EditorOf(ParameterKind kind, Editor (*make)(const EditorPlace& place));
};

/// The editor for the setting at `place`; without a widget when its kind has none.
Editor editor_for(const EditorPlace& place);

// ---- What several editors are made of ----

/// A combo that leaves the wheel to the panel while it is not in hand, and shortens a choice too long for it with “…”.
class Combo : public QComboBox {
public:
    using QComboBox::QComboBox;
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    /// Where the choice in hand is written.
    QRect words_room() const;
};

QLabel* setting_label(const ParameterInfo& info, QWidget* parent);
/// A line with the setting's label, for its field to follow.
QHBoxLayout* labelled_row(QWidget* line, const ParameterInfo& info);
/// Takes everything out of a layout.
void empty_layout(QLayout* layout);
/// The value of the setting, when it was worked out.
template <class T>
const T* value_in(const Values& values, const ParameterInfo& info) {
    const auto found = values.find(info.key);
    return found == values.end() ? nullptr : std::get_if<T>(&found->second);
}

}  // namespace bricol
