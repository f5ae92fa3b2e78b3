// SPDX-License-Identifier: GPL-3.0-or-later
// The band below the picture: its panels as tabs.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QStackedWidget>
#include <QTabBar>
#include <QVBoxLayout>

#include "app/panels/panel.h"

namespace bricol {

class Band : public QFrame {
    Q_OBJECT
public:
    Band(Session& session, Viewport& viewport, QWidget* parent);
    void show_panel(std::string_view id);
    std::string_view panel() const { return infos_[static_cast<std::size_t>(tabs_->currentIndex())]->id; }
    /// What stands at the right end of the tabs.
    void set_note(const QString& text) { note_->setText(text); }
    /// A widget under all panels.
    void add_below(QWidget* widget);

signals:
    void heightWanted(bool tall);

private:
    QTabBar* tabs_;
    QStackedWidget* pages_;
    QLabel* note_;
    QVBoxLayout* column_;
    std::vector<const PanelInfo*> infos_;
};

}  // namespace bricol
