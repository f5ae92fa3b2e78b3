// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/field_keys.h"

#include <QKeyEvent>
#include <QLineEdit>

namespace bricol {

bool FieldKeys::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride || !qobject_cast<QLineEdit*>(watched)) return false;
    const auto* key = static_cast<QKeyEvent*>(event);
    if (!(key->modifiers() & Qt::ControlModifier) || key->key() < Qt::Key_A || key->key() > Qt::Key_Z) return false;
    for (const auto own : {QKeySequence::Copy, QKeySequence::Cut, QKeySequence::Paste, QKeySequence::SelectAll,
                           QKeySequence::Undo, QKeySequence::Redo})
        if (key->matches(own)) return false;
    event->ignore();
    return true;
}

}  // namespace bricol
