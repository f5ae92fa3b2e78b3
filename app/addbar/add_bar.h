// SPDX-License-Identifier: GPL-3.0-or-later
// One line that finds a step by name, purpose or the word people use for it, and adds it behind the chosen one.
#pragma once

#include <QLineEdit>
#include <functional>
#include <QListWidget>

#include "app/document/session.h"

namespace bricol {

/// How well a step answers what was typed; 0 for not at all.
int match_score(const StepInfo& info, const QString& typed);

/// Why a step does not fit where it is wanted (empty when it does), and putting it there.
using StepWhyNot = std::function<QString(const StepInfo&)>;
using StepAdder = std::function<void(const StepInfo&)>;

class AddBar : public QLineEdit {
    Q_OBJECT
public:
    AddBar(Session& session, QWidget* overlay_parent, QWidget* parent = nullptr);
    void start();  ///< takes the keyboard and shows everything
    /// The same at a place of the screen, for a step that goes somewhere else than behind the chosen one; hidden again
    /// afterwards.
    void start_at(const QPoint& global, StepWhyNot why, StepAdder add);
    QListWidget* list() { return list_; }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void fill();
    void add_item(QListWidgetItem* item);
    void leave();
    Session& session_;
    QListWidget* list_;
    StepWhyNot why_;
    StepAdder add_;
};

}  // namespace bricol
