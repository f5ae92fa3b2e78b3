// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/compare_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr int margin = 8, words_below = 22;

}  // namespace

CompareView::CompareView(Renderer* renderer, QWidget* parent) : QWidget(parent), renderer_(renderer) {
    setObjectName("compareView");
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag turns all of them, the wheel comes nearer, Esc goes back to the sheet");
}

void CompareView::show_shapes(std::vector<Shown> shown) {
    shown_ = std::move(shown);
    camera_ = Camera();
    frame();
    draw();
    setFocus();
}

QRect CompareView::place(std::size_t i) const {
    const int count = std::max<int>(1, static_cast<int>(shown_.size()));
    const int across = (width() - margin * (count + 1)) / count;
    return {margin + static_cast<int>(i) * (across + margin), margin, across, height() - 2 * margin - words_below};
}

/// All of them fit, so that their sizes can be told apart.
void CompareView::frame() {
    std::optional<Box> all;
    for (const Shown& one : shown_) {
        const auto box = box_of_shapes(one.shapes);
        if (!box) continue;
        if (!all) all = box;
        all->low = glm::min(all->low, box->low), all->high = glm::max(all->high, box->high);
    }
    if (all && place(0).height() > 0) camera_.frame(*all, static_cast<double>(place(0).width()) / place(0).height());
}

void CompareView::draw() {
    pictures_.clear();
    if (!renderer_) return;
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        const QSize pixels = (QSizeF(place(i).size()) * devicePixelRatioF()).toSize();
        if (pixels.width() < 8 || pixels.height() < 8) return;
        pictures_.push_back(picture_of_shapes(*renderer_, shown_[i].shapes, pixels, &camera_));
    }
    update();
}

void CompareView::resizeEvent(QResizeEvent*) {
    frame();
    draw();
}

void CompareView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme::color(theme::Role::panel));
    painter.setFont(theme::number_font(8.5));
    for (std::size_t i = 0; i < shown_.size(); ++i) {
        const QRect at = place(i);
        if (i < pictures_.size()) painter.drawImage(at, pictures_[i]);
        painter.setPen(theme::color(theme::Role::line));
        painter.drawRect(at);
        painter.setPen(theme::color(theme::Role::ink));
        painter.drawText(QRect(at.left(), at.bottom() + 3, at.width(), words_below), Qt::AlignLeft | Qt::AlignVCenter,
                         QFontMetrics(painter.font()).elidedText(shown_[i].words, Qt::ElideRight, at.width()));
    }
}

void CompareView::mousePressEvent(QMouseEvent* event) { last_ = event->pos(); }

void CompareView::mouseMoveEvent(QMouseEvent* event) {
    const QPoint by = event->pos() - last_;
    last_ = event->pos();
    camera_.turn(-by.x() * 0.5, by.y() * 0.5);
    draw();
}

void CompareView::wheelEvent(QWheelEvent* event) {
    camera_.zoom(std::pow(0.9, event->angleDelta().y() / 120.0), 0, 0);
    draw();
}

void CompareView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        emit left();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace bricol
