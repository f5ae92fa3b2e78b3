// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/time/time_bar.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QSettings>

#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

TimeBar::TimeBar(Session& session, Viewport& viewport, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport) {
    setObjectName("timeBar");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 6, 12, 6);
    row->setSpacing(6);
    const auto number = [&](const char* name, int low, int high, int value, const QString& tip) {
        auto* box = new QSpinBox(this);
        box->setObjectName(name);
        box->setRange(low, high);
        box->setValue(value);
        box->setFixedWidth(64);
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        box->setFont(theme::number_font(9));
        box->setToolTip(tip);
        return box;
    };
    QSettings settings;
    play_ = new QPushButton("Play", this);
    play_->setObjectName("play");
    play_->setFixedWidth(64);
    play_->setToolTip(
        "Plays the frames of the range (Ctrl+Space). Formulas see the frame as “frame”: = frame turns 360° in 360 "
        "frames.");
    row->addWidget(play_);
    now_ = number("frameNow", -100000, 100000, 0, "The frame that is shown; formulas call it “frame”");
    row->addWidget(now_);
    first_ = number("frameFirst", -100000, 100000, settings.value("frameFirst", 0).toInt(), "First frame of the range");
    last_ = number("frameLast", -100000, 100000, settings.value("frameLast", 359).toInt(), "Last frame of the range");
    row->addWidget(first_);
    slider_ = new QSlider(Qt::Horizontal, this);
    slider_->setObjectName("frameSlider");
    slider_->setRange(first_->value(), last_->value());
    slider_->setStyleSheet(QString("QSlider::groove:horizontal{height:4px;border-radius:2px;background:%1;} "
                                   "QSlider::sub-page:horizontal{background:%2;border-radius:2px;}"
                                   "QSlider::handle:horizontal{background:%3;border:1.5px solid "
                                   "%2;width:8px;margin:-6px 0;border-radius:3px;}")
                               .arg(theme::color(theme::Role::line).name(), theme::color(theme::Role::act).name(),
                                    theme::color(theme::Role::card).name()));
    row->addWidget(slider_, 1);
    row->addWidget(last_);
    row->addWidget(new QLabel("a second", this));
    rate_ = number("frameRate", 1, 240, settings.value("frameRate", 24).toInt(), "Frames a second");
    row->addWidget(rate_);
    loop_ = new QCheckBox("Loop", this);
    loop_->setObjectName("frameLoop");
    loop_->setChecked(settings.value("frameLoop", true).toBool());
    loop_->setToolTip("Begins again at the first frame");
    row->addWidget(loop_);
    turntable_ = new QCheckBox("Turntable", this);
    turntable_->setObjectName("turntable");
    turntable_->setToolTip("Turns the view once round over the range");
    row->addWidget(turntable_);
    speed_ = soft_label("", this);
    speed_->setMinimumWidth(70);
    row->addWidget(speed_);
    auto* pictures = new QPushButton("Pictures…", this);
    pictures->setObjectName("framePictures");
    pictures->setToolTip("Writes every frame of the range as a numbered PNG");
    row->addWidget(pictures);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(play_, &QPushButton::clicked, this, [this] { writing_ ? void(writing_ = false) : play(!playing()); });
    connect(slider_, &QSlider::valueChanged, this, &TimeBar::set_frame);
    connect(now_, &QSpinBox::valueChanged, this, &TimeBar::set_frame);
    const auto range = [this] { set_range(first_->value(), last_->value()); };
    connect(first_, &QSpinBox::valueChanged, this, range);
    connect(last_, &QSpinBox::valueChanged, this, range);
    connect(rate_, &QSpinBox::valueChanged, this, [this](int rate) {
        QSettings().setValue("frameRate", rate);
        timer_.setInterval(1000 / rate);
    });
    connect(loop_, &QCheckBox::toggled, this, [](bool on) { QSettings().setValue("frameLoop", on); });
    connect(pictures, &QPushButton::clicked, this, &TimeBar::ask_for_pictures);
    timer_.setInterval(1000 / rate_->value());
    connect(&timer_, &QTimer::timeout, this, [this] {
        if (session_.worker().busy()) return;  // a frame that takes longer than its time is waited for
        if (slider_->value() >= slider_->maximum()) {
            if (!loop_->isChecked()) {
                play(false);
                return;
            }
            slider_->setValue(slider_->minimum());
        } else {
            slider_->setValue(slider_->value() + 1);
        }
        if (++shown_ % 10 == 0)
            speed_->setText(QString("%1 a second").arg(10000.0 / std::max<qint64>(1, clock_.restart()), 0, 'f', 1));
    });
    connect(&session, &Session::madeChanged, this, [this] {
        if (writing_) QMetaObject::invokeMethod(this, &TimeBar::picture_made, Qt::QueuedConnection);
    });
    connect(&session, &Session::fileChanged, this, [this] { play(false); });
}

void TimeBar::set_range(int first, int last) {
    if (last < first) last = first;
    const QSignalBlocker a(first_), b(last_);
    first_->setValue(first);
    last_->setValue(last);
    QSettings settings;
    settings.setValue("frameFirst", first);
    settings.setValue("frameLast", last);
    slider_->setRange(first, last);
}

void TimeBar::set_frame(int frame) {
    const QSignalBlocker a(slider_), b(now_);
    const int before = static_cast<int>(session_.surroundings().frame);
    slider_->setValue(std::clamp(frame, slider_->minimum(), slider_->maximum()));
    now_->setValue(frame);
    if (turntable_->isChecked() && frame != before) {
        const double span = std::max(1, slider_->maximum() - slider_->minimum() + 1);
        viewport_.turn_by((frame - before) * 360.0 / span);
    }
    Surroundings surroundings = session_.surroundings();
    surroundings.frame = frame;
    session_.set_surroundings(surroundings);
}

void TimeBar::play(bool on) {
    if (on == playing()) return;
    play_->setText(on ? "Stop" : "Play");
    speed_->clear();
    shown_ = 0;
    clock_.start();
    on ? timer_.start() : timer_.stop();
}

void TimeBar::ask_for_pictures() {
    const QString stem = session_.path().isEmpty() ? "piece" : QFileInfo(session_.path()).completeBaseName();
    const QString file = QFileDialog::getSaveFileName(this, "Picture sequence", session_.folder() + "/" + stem + ".png",
                                                      "Pictures (*.png)");
    if (file.isEmpty()) return;
    write_pictures(QFileInfo(file).absolutePath(), QFileInfo(file).completeBaseName(), viewport_.size());
}

void TimeBar::write_pictures(const QString& folder, const QString& name, QSize size) {
    play(false);
    folder_ = folder, name_ = name, size_ = size;
    write_at_ = slider_->minimum();
    writing_ = true;
    play_->setText("Stop");
    next_picture();
}

void TimeBar::next_picture() {
    if (!writing_ || write_at_ > slider_->maximum()) {
        const int count = write_at_ - slider_->minimum();
        writing_ = false;
        play_->setText("Play");
        speed_->clear();
        session_.say(QString("Wrote %1 pictures to %2").arg(count).arg(folder_));
        emit picturesDone(count);
        return;
    }
    if (static_cast<int>(session_.surroundings().frame) == write_at_ && !session_.worker().busy()) {
        picture_made();  // already there
        return;
    }
    set_frame(write_at_);
}

void TimeBar::picture_made() {
    if (!writing_ || session_.worker().busy() || static_cast<int>(session_.surroundings().frame) != write_at_) {
        if (writing_)
            QTimer::singleShot(5, this, [this] {
                if (writing_ && !session_.worker().busy()) picture_made();
            });
        return;
    }
    const QString file = QString("%1/%2-%3.png").arg(folder_, name_).arg(write_at_, 4, 10, QChar('0'));
    if (!viewport_.picture(size_).save(file)) {
        writing_ = false;
        play_->setText("Play");
        session_.say(QString("The picture %1 could not be written. Choose a folder that can be written to.").arg(file),
                     true);
        emit picturesDone(write_at_ - slider_->minimum());
        return;
    }
    speed_->setText(
        QString("%1 of %2").arg(write_at_ - slider_->minimum() + 1).arg(slider_->maximum() - slider_->minimum() + 1));
    ++write_at_;
    QTimer::singleShot(0, this, &TimeBar::next_picture);
}

}  // namespace bricol
