// SPDX-License-Identifier: GPL-3.0-or-later
// Finished pictures and rows of them, taken beside the window.
#pragma once

#include <QImage>
#include <QObject>
#include <atomic>
#include <thread>

#include "core/still/order.h"

namespace bricol {

class PictureJob : public QObject {
    Q_OBJECT
public:
    explicit PictureJob(QObject* parent = nullptr);
    ~PictureJob() override;

    /// One picture to a file, PNG or EXR.
    void take(const Recipe& recipe, const Environment& environment, const StillOrder& order, const QString& file);
    /// A row of them to a folder or a moving picture.
    void take_row(const Recipe& recipe, const Environment& environment, const RowOrder& order, double rate,
                  const QString& out);
    void stop();
    bool busy() const { return busy_; }
    /// Which one is at work; signals of an earlier one that come late have another.
    int number() const { return number_; }

signals:
    /// Share done, and words for it ("noise 3.1 %", "frame 12 of 120").
    void progressed(double share, const QString& words, int number);
    /// What has come of it so far.
    void seen(const QImage& image, int number);
    void finished(const QString& words, bool failed, int number);

private:
    void start(std::function<void(int number)> work);
    int number_ = 0;
    std::atomic<bool> stop_ = false, busy_ = false;
    std::thread thread_;
};

}  // namespace bricol
