// SPDX-License-Identifier: GPL-3.0-or-later
// Two or three variants side by side under one camera that turns with a drag.
#pragma once

#include <QWidget>

#include "app/viewport/shape_picture.h"

namespace bricol {

class CompareView : public QWidget {
    Q_OBJECT
public:
    struct Shown {
        QString words;
        PartShapes shapes;
    };
    CompareView(Renderer* renderer, QWidget* parent);
    void show_shapes(std::vector<Shown> shown);
    const Camera& camera() const { return camera_; }

signals:
    void left();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void draw();
    void frame();
    QRect place(std::size_t i) const;

    Renderer* renderer_;
    std::vector<Shown> shown_;
    std::vector<QImage> pictures_;
    Camera camera_;
    QPoint last_;
};

}  // namespace bricol
