// SPDX-License-Identifier: GPL-3.0-or-later
// What there is: the recipe's parts and its reference pictures.
#pragma once

#include <QFrame>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/document/session.h"

namespace bricol {

class PartsPanel : public QFrame {
    Q_OBJECT
public:
    explicit PartsPanel(Session& session, QWidget* parent = nullptr);
    /// Puts a picture on the front plane, as high as the shape or one metre.
    void add_picture(const QString& file);

signals:
    void pictureWanted();

private:
    void refresh();
    void refresh_pictures();
    void part_menu(const QPoint& at);
    void set_picture(std::size_t index, const Picture& picture, const QString& name, const QString& merge = {});

    Session& session_;
    QListWidget* list_;
    QVBoxLayout* pictures_;
    std::vector<Picture> shown_pictures_;
    int open_picture_ = -1;
    bool filling_ = false;
};

}  // namespace bricol
