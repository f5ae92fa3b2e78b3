// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/still/still_worker.h"

#include <algorithm>
#include <new>

#include "core/still/picture_file.h"

namespace bricol {

QImage screen_image(const StillPicture& picture, StillCurve curve) {
    const std::vector<std::uint8_t> bytes = screen_bytes(picture, curve);
    QImage image(picture.width, picture.height, picture.clear ? QImage::Format_RGBA8888 : QImage::Format_RGBX8888);
    const std::size_t row = 4 * static_cast<std::size_t>(picture.width);
    for (int y = 0; y < picture.height; ++y)
        std::copy_n(&bytes[static_cast<std::size_t>(y) * row], row, image.scanLine(y));
    return image;
}

StillWorker::StillWorker(QObject* parent) : QObject(parent) {
    thread_ = std::thread([this] { run(); });
}

StillWorker::~StillWorker() {
    {
        const std::scoped_lock lock(mutex_);
        ending_ = true;
        stop_ = true;
    }
    wake_.notify_all();
    thread_.join();
}

void StillWorker::request(StillScene scene, StillOptions options, int number) {
    {
        const std::scoped_lock lock(mutex_);
        next_ = Request{std::move(scene), std::move(options), number};
        stop_ = true;
    }
    wake_.notify_all();
}

void StillWorker::stop() {
    const std::scoped_lock lock(mutex_);
    next_.reset();
    stop_ = true;
}

void StillWorker::run() {
    std::unique_lock lock(mutex_);
    while (true) {
        wake_.wait(lock, [this] { return ending_ || next_; });
        if (ending_) return;
        Request request = std::move(*next_);
        next_.reset();
        stop_ = false;
        busy_ = true;
        lock.unlock();
        try {
            refiner_.run(std::move(request.scene), request.options, &stop_, [&](const StillRun& run) {
                StillPicture picture = run.picture();
                filter_noise(picture);
                built_ = refiner_.built();
                if (!stop_)
                    emit refined(screen_image(picture, StillCurve::filmic), picture.samples, picture.noise,
                                 request.number);
            });
        } catch (const std::bad_alloc&) {
            emit failed("There is not enough memory for a picture of this. Hide parts, or make the window smaller.");
        }
        busy_ = false;
        lock.lock();
    }
}

}  // namespace bricol
