// SPDX-License-Identifier: GPL-3.0-or-later
// Takes pictures on a thread of its own that get better while nobody moves; the newest request wins.
#pragma once

#include <QImage>
#include <QObject>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

#include "core/still/refine.h"

namespace bricol {

class StillWorker : public QObject {
    Q_OBJECT
public:
    explicit StillWorker(QObject* parent = nullptr);
    ~StillWorker() override;

    /// `number` comes back with each picture, so that late ones of older requests are told apart.
    void request(StillScene scene, StillOptions options, int number);
    void stop();
    bool busy() const { return busy_; }
    /// Meshes built for the last request.
    std::size_t built() const { return built_; }

signals:
    void refined(const QImage& image, int samples, double noise, int number);
    void failed(const QString& why);

private:
    void run();
    struct Request {
        StillScene scene;
        StillOptions options;
        int number;
    };
    std::mutex mutex_;
    std::condition_variable wake_;
    std::optional<Request> next_;
    bool ending_ = false;
    std::atomic<bool> stop_ = false, busy_ = false;
    std::atomic<std::size_t> built_ = 0;
    StillRefiner refiner_;
    std::thread thread_;
};

/// A picture as the screen shows it.
QImage screen_image(const StillPicture& picture, StillCurve curve);

}  // namespace bricol
