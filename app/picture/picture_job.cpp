// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/picture/picture_job.h"

#include <QFileInfo>
#include <chrono>
#include <new>

#include "app/still/still_worker.h"
#include "core/still/picture_file.h"

namespace bricol {

PictureJob::PictureJob(QObject* parent) : QObject(parent) {}

PictureJob::~PictureJob() {
    stop();
    if (thread_.joinable()) thread_.join();
}

void PictureJob::stop() { stop_ = true; }

void PictureJob::start(std::function<void(int number)> work) {
    stop();
    if (thread_.joinable()) thread_.join();
    stop_ = false;
    busy_ = true;
    thread_ = std::thread([this, number = ++number_, work = std::move(work)] {
        try {
            work(number);
        } catch (const std::bad_alloc&) {
            busy_ = false;
            emit finished("There is not enough memory for this picture. Take a smaller one.", true, number);
        }
        busy_ = false;
    });
}

void PictureJob::take(const Recipe& recipe, const Environment& environment, const StillOrder& order,
                      const QString& file) {
    start([this, recipe, environment, order, file](int number) {
        MakeOptions making;
        making.environment = environment;
        making.stop = &stop_;
        const auto end = [this, number](const QString& words, bool failed) {
            busy_ = false;
            emit finished(words, failed, number);
        };
        const Made made = Maker().make(recipe, making);
        if (made.stopped) return end("Stopped. No picture was written.", false);
        auto still = ordered_still(order, recipe, made);
        if (!still) return end(QString::fromStdString(still.problem().text()), true);
        emit progressed(0, QString("about %1 MB of memory").arg(still->memory / 1e6, 0, 'f', 0), number);
        StillPicture picture;
        const bool whole =
            StillRefiner().run(std::move(still->scene), still->options, &stop_, [&](const StillRun& run) {
                picture = run.picture();
                emit progressed(static_cast<double>(run.samples()) / order.samples,
                                QString("noise %1 %").arg(picture.noise * 100, 0, 'f', 1), number);
                emit seen(screen_image(picture, order.curve), number);
            });
        if (!whole) return end("Stopped. No picture was written.", false);
        if (!order.raw) filter_noise(picture);
        emit seen(screen_image(picture, order.curve), number);
        if (const auto problem = write_picture(picture, file.toStdString(), order.curve))
            return end(QString::fromStdString(problem->text()), true);
        const QString errors =
            made.has_errors(recipe, order.parts) ? " The recipe has errors; look at the findings." : "";
        end(QString("Wrote %1: %2 × %3 pixels, noise %4 % before the filter.%5")
                .arg(QFileInfo(file).fileName())
                .arg(picture.width)
                .arg(picture.height)
                .arg(picture.noise * 100, 0, 'f', 1)
                .arg(errors),
            !errors.isEmpty());
    });
}

void PictureJob::take_row(const Recipe& recipe, const Environment& environment, const RowOrder& order, double rate,
                          const QString& out) {
    start([this, recipe, environment, order, rate, out](int number) {
        MakeOptions making;
        making.environment = environment;
        making.stop = &stop_;
        FrameTaker taker(recipe, making, order);
        const auto begun = std::chrono::steady_clock::now();
        FrameRow row;
        row.frames = order.frames, row.rate = rate, row.out = out.toStdString();
        row.made_of = row_note(order, recipe, environment.surroundings);
        row.curve = order.still.curve;
        row.take = [&](int frame) {
            auto picture = taker.take(frame);
            if (picture && !picture->stopped) emit seen(screen_image(*picture, order.still.curve), number);
            return picture;
        };
        row.progress = [&](int done, int kept) {
            const double taken = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
            QString words = QString("frame %1 of %2").arg(done).arg(order.frames);
            if (done > kept)
                words += QString(", %1 s left").arg(taken / (done - kept) * (order.frames - done), 0, 'f', 0);
            emit progressed(static_cast<double>(done) / order.frames, words, number);
        };
        Result<FrameRowDone> done = FrameRowDone{};
        const bool whole = stopped_by(&stop_, [&] { done = take_frames(row); });
        busy_ = false;
        if (!done) {
            emit finished(QString::fromStdString(done.problem().text()), true, number);
        } else if (!whole || done->stopped) {
            emit finished("Stopped. The frames that are there stay, and the same row goes on from them.", false,
                          number);
        } else {
            const bool errors = taker.with_errors() != nullptr;
            emit finished(
                QString("Wrote %1 frames: %2%3")
                    .arg(order.frames)
                    .arg(QFileInfo(out).fileName(), errors ? ". The recipe has errors; look at the findings." : ""),
                errors, number);
        }
    });
}

}  // namespace bricol
