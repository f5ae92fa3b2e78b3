// SPDX-License-Identifier: GPL-3.0-or-later
// One line that finds a step by name, purpose or the word people use for it, and adds it behind the chosen one.
#pragma once

#include <QLineEdit>
#include <QListWidget>

#include "app/document/session.h"

namespace bricol {

/// How well a step answers what was typed; 0 for not at all.
int match_score(const StepInfo& info, const QString& typed);

class AddBar : public QLineEdit {
    Q_OBJECT
public:
    AddBar(Session& session, QWidget* overlay_parent, QWidget* parent = nullptr);
    void start();  ///< takes the keyboard and shows everything
    QListWidget* list() { return list_; }

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void fill();
    void add_item(QListWidgetItem* item);
    Session& session_;
    QListWidget* list_;
};

}  // namespace bricol
