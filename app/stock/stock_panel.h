// SPDX-License-Identifier: GPL-3.0-or-later
// The stock: pictures of the standard parts that come with the program, to look through and to add.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "app/document/session.h"
#include "app/viewport/recipe_pictures.h"
#include "app/viewport/renderer.h"

namespace bricol {

class StockPanel : public QWidget {
    Q_OBJECT
public:
    StockPanel(Session& session, Renderer* renderer, QWidget* parent);
    /// Parts whose picture has come.
    int pictured() const { return pictured_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QWidget* make_side();
    QWidget* make_about();
    void show_found();
    void show_chosen();
    void add_chosen();
    void save_copy();
    std::string chosen() const;

    Session& session_;
    Renderer* renderer_;
    QLineEdit* search_;
    QListWidget *families_, *parts_;
    QLabel *title_, *about_, *numbers_;
    QPushButton *add_, *copy_;
    std::map<std::string, QListWidgetItem*> items_;  ///< by name
    int pictured_ = 0;
    RecipePictures pictures_;
};

}  // namespace bricol
