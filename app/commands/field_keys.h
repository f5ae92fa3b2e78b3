// SPDX-License-Identifier: GPL-3.0-or-later
// The room's keys while a text field has the focus.
#pragma once

#include <QObject>

namespace bricol {

/// Lets Ctrl with a letter through to the commands where a text field would take it for moving or deleting in its line
/// (Ctrl+E, Ctrl+K, …). What fields are known for stays theirs: copy, cut, paste, choose all, undo and redo.
class FieldKeys : public QObject {
    Q_OBJECT
public:
    using QObject::QObject;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace bricol
