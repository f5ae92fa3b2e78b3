// SPDX-License-Identifier: GPL-3.0-or-later
// The first start: the demo kit, and three steps to make something of one's own.
#pragma once

#include <QFrame>
#include <QLabel>

#include "app/viewport/recipe_pictures.h"
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

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QWidget* recovery_row(const QString& autosave);
    QWidget* kit_area();
    QWidget* demo_card(const QString& path);
    QWidget* own_card();
    Renderer* renderer_;
    std::vector<std::pair<QLabel*, QString>> cards_;  ///< where a picture goes, and the recipe it is of
    RecipePictures pictures_;
};

}  // namespace bricol
