// SPDX-License-Identifier: GPL-3.0-or-later
// Makes recipes on a thread of its own; the newest request wins.
#pragma once

#include <QObject>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

#include "core/make/make.h"

namespace bricol {

class Worker : public QObject {
    Q_OBJECT
public:
    explicit Worker(QObject* parent = nullptr);
    ~Worker() override;

    /// Asks for a recipe to be made. A run that has been going for a while is stopped in favour of the new one; a
    /// short one is let finish, so that a drag shows every picture it can.
    void request(const Recipe& recipe, Environment environment);
    /// Stops the run in hand; what was shown stays.
    void stop();
    bool busy() const { return busy_; }
    /// The hand is at work without another request, the view is being turned, say: what is looked for while it rests
    /// waits, or is left and begun again.
    void hand_moved();
    /// Whether it looks, while the hand rests, for what takes longer to find. A request or a moving hand ends that.
    bool looking_through() const { return looking_through_; }
    /// What it is at now. May be asked as often as a picture of it is drawn.
    MakeProgress progress() const;
    /// What steps in hand have so far, of those that show it.
    std::vector<MakeDraft> drafts() const;
    /// Takes no more requests and stops the run in hand; whether it ended within this time. What does not end can only
    /// be left behind by ending the program.
    bool end_within(std::chrono::milliseconds time);
    /// The same for as long as it takes; nothing is told afterwards.
    void end();
    std::size_t memory() const { return maker_.memory(); }

signals:
    void made(std::shared_ptr<const bricol::Made> made, std::shared_ptr<const bricol::Recipe> recipe);
    void busyChanged(bool busy);
    /// There are other drafts, or none any more.
    void drafted();
    void failed(const QString& why);

private:
    void run();
    struct Request {
        std::shared_ptr<const Recipe> recipe;
        Environment environment;
    };
    /// Waits, under the lock, until the hand has rested; false when there is something to do instead.
    bool hand_rests(std::unique_lock<std::mutex>& lock);
    void keep(const MakeDraft& draft);
    void drop_drafts();
    void tell_drafts(std::unique_lock<std::mutex> told);
    std::shared_ptr<const Made> try_making(const Request& request, const MakeOptions& options);

    std::mutex mutex_;
    std::condition_variable wake_, over_;
    std::optional<Request> next_;
    bool ending_ = false, ended_ = false, moved_ = false;
    std::atomic<bool> stop_ = false, busy_ = false, looking_through_ = false;
    std::chrono::steady_clock::time_point started_;
    mutable std::mutex progress_mutex_;
    MakeProgress progress_;
    std::vector<MakeDraft> drafts_;     ///< the newest of each step
    mutable bool drafts_told_ = false;  ///< and not asked for since
    Maker maker_;
    std::thread thread_;
};

}  // namespace bricol

Q_DECLARE_METATYPE(std::shared_ptr<const bricol::Made>)
Q_DECLARE_METATYPE(std::shared_ptr<const bricol::Recipe>)
