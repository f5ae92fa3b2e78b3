// SPDX-License-Identifier: GPL-3.0-or-later
// Frame and time: a bar that plays the frames of a range, and writes them as numbered pictures.
#pragma once

#include <QCheckBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>
#include <QTimer>
#include <QWidget>

#include "app/document/session.h"
#include "app/viewport/viewport.h"

namespace bricol {

class TimeBar : public QWidget {
    Q_OBJECT
public:
    TimeBar(Session& session, Viewport& viewport, QWidget* parent = nullptr);

    int frame() const { return slider_->value(); }
    void set_frame(int frame);
    void set_range(int first, int last);
    bool playing() const { return timer_.isActive(); }
    void play(bool on);
    /// Writes every frame of the range as name-0001.png and so on into a folder; one picture each time the shape is
    /// made.
    void write_pictures(const QString& folder, const QString& name, QSize size);

signals:
    void picturesDone(int count);

private:
    void next_picture();
    void picture_made();
    void ask_for_pictures();
    Session& session_;
    Viewport& viewport_;
    QPushButton* play_;
    QSlider* slider_;
    QSpinBox *now_, *first_, *last_, *rate_;
    QCheckBox *loop_, *turntable_;
    QLabel* speed_;
    QTimer timer_;
    QElapsedTimer clock_;
    int shown_ = 0;
    bool writing_ = false;
    QString folder_, name_;
    QSize size_;
    int write_at_ = 0;
};

}  // namespace bricol
