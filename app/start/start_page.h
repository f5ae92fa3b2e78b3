// SPDX-License-Identifier: GPL-3.0-or-later
// The first start: the demo kit, and three steps to make something of one's own.
#pragma once

#include <QFrame>
#include <QLabel>

#include "app/viewport/renderer.h"

namespace bricol {

/// Folder of the demo recipes: beside the sources, or where they were installed. Empty when neither is there.
QString demo_folder();

class StartPage : public QFrame {
    Q_OBJECT
public:
    StartPage(Renderer* renderer, QWidget* parent = nullptr);

signals:
    void openWanted(const QString& path);
    void newWanted();
    void recoverWanted(const QString& autosave);

private:
    QWidget* recovery_row(const QString& autosave);
    QWidget* kit_area();
    QWidget* demo_card(const QString& path);
    QWidget* own_card();
    void next_picture();
    Renderer* renderer_;
    std::vector<std::pair<QLabel*, QString>> waiting_;  ///< pictures still to be made
    std::size_t shown_ = 0;
};

}  // namespace bricol
