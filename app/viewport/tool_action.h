// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done with a tool over the picture, once: its buttons, its keys and the key map are made from it.
#pragma once

#include <QKeyEvent>
#include <QKeySequence>
#include <QString>
#include <span>

namespace bricol {

template <class Tool>
struct ToolAction {
    const char* name;   ///< of its button; none for what has a key alone
    const char* glyph;  ///< as in steps
    const char* words;
    const char* key;  ///< as QKeySequence reads it; none for what has a button alone
    void (*run)(Tool& tool);
    bool (*enabled)(const Tool& tool) = nullptr;  ///< always, when none is given
    bool (*on)(const Tool& tool) = nullptr;       ///< for what is on or off, or one of several
};

/// The key as people read it; empty for none.
inline QString key_text(const char* key) {
    return key && *key ? QKeySequence(key).toString(QKeySequence::NativeText) : QString();
}

/// Shift is left out of account where it only makes the sign, as in `+`.
inline bool key_fits(const char* key, const QKeyEvent& event) {
    if (!key || !*key) return false;
    const QKeyCombination wanted = QKeySequence(key)[0];
    int pressed = event.key();
    if (pressed == Qt::Key_Backspace) pressed = Qt::Key_Delete;
    if (pressed != wanted.key()) return false;
    const bool sign = wanted.key() == Qt::Key_Plus || wanted.key() == Qt::Key_Minus || wanted.key() == Qt::Key_Slash;
    const auto keys = event.modifiers() & ~(sign ? Qt::KeypadModifier | Qt::ShiftModifier : Qt::KeypadModifier);
    return keys == wanted.keyboardModifiers();
}

/// Runs the action whose key was pressed; false when there is none, or it cannot be done now.
template <class Tool>
bool run_by_key(std::span<const ToolAction<Tool>> actions, Tool& tool, const QKeyEvent& event) {
    for (const auto& action : actions) {
        if (!key_fits(action.key, event) || (action.enabled && !action.enabled(tool))) continue;
        action.run(tool);
        return true;
    }
    return false;
}

}  // namespace bricol
