// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/document/worker.h"

#include <algorithm>

#include "core/kernels/fuse.h"

namespace bricol {

using namespace std::chrono_literals;

Worker::Worker(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const Made>>();
    qRegisterMetaType<std::shared_ptr<const Recipe>>();
    thread_ = std::thread([this] {
        run();
        const std::scoped_lock lock(mutex_);
        ended_ = true;
        over_.notify_all();
    });
}

bool Worker::end_within(std::chrono::milliseconds time) {
    std::unique_lock lock(mutex_);
    ending_ = true;
    stop_ = true;
    wake_.notify_all();
    return over_.wait_for(lock, time, [this] { return ended_; });
}

void Worker::end() {
    end_within(0ms);
    if (thread_.joinable()) thread_.join();
}

Worker::~Worker() { end(); }

void Worker::request(const Recipe& recipe, Environment environment) {
    {
        const std::scoped_lock lock(mutex_);
        next_ = Request{std::make_shared<const Recipe>(recipe), std::move(environment)};
        // Nobody waits for what is looked for while the hand rests.
        if (looking_through_ || (busy_ && std::chrono::steady_clock::now() - started_ > 150ms)) stop_ = true;
    }
    wake_.notify_all();
}

void Worker::hand_moved() {
    {
        const std::scoped_lock lock(mutex_);
        moved_ = true;
        if (looking_through_) stop_ = true;
    }
    wake_.notify_all();
}

bool Worker::hand_rests(std::unique_lock<std::mutex>& lock) {
    do moved_ = false;
    while (wake_.wait_for(lock, 1200ms, [this] { return ending_ || next_ || moved_; }) && !ending_ && !next_);
    return !ending_ && !next_;
}

MakeProgress Worker::progress() const {
    const std::scoped_lock lock(progress_mutex_);
    return progress_;
}

std::vector<MakeDraft> Worker::drafts() const {
    const std::scoped_lock lock(progress_mutex_);
    drafts_told_ = false;
    return drafts_;
}

void Worker::keep(const MakeDraft& draft) {
    std::unique_lock lock(progress_mutex_);
    const auto same = std::ranges::find_if(
        drafts_, [&](const MakeDraft& one) { return one.part == draft.part && one.step == draft.step; });
    if (same == drafts_.end())
        drafts_.push_back(draft);
    else
        *same = draft;
    tell_drafts(std::move(lock));
}

void Worker::drop_drafts() {
    std::unique_lock lock(progress_mutex_);
    if (drafts_.empty()) return;
    drafts_.clear();
    tell_drafts(std::move(lock));
}

/// Who is slower than drafts come is told once, and then gets the newest.
void Worker::tell_drafts(std::unique_lock<std::mutex> told) {
    const bool waiting = std::exchange(drafts_told_, true);
    told.unlock();
    if (!waiting) emit drafted();
}

void Worker::stop() {
    const std::scoped_lock lock(mutex_);
    next_.reset();
    stop_ = true;
}

/// Steps catch their own want of memory; here it ends what is done between them. Then it counts as stopped.
std::shared_ptr<const Made> Worker::try_making(const Request& request, const MakeOptions& options) {
    try {
        return std::make_shared<const Made>(maker_.make(*request.recipe, options));
    } catch (const std::bad_alloc&) {
        maker_.forget();
        forget_fields();
        emit failed("There is not enough memory to make this. Use smaller counts; nothing of the recipe is lost.");
        auto nothing = std::make_shared<Made>();
        nothing->stopped = true;
        return nothing;
    }
}

void Worker::run() {
    std::unique_lock lock(mutex_);
    while (true) {
        wake_.wait(lock, [this] { return ending_ || next_; });
        if (ending_) return;
        const Request request = *next_;
        next_.reset();
        stop_ = ending_;
        started_ = std::chrono::steady_clock::now();
        busy_ = true;
        lock.unlock();
        {
            const std::scoped_lock told(progress_mutex_);
            progress_ = {};
        }
        emit busyChanged(true);
        MakeOptions options;
        options.stop = &stop_;
        options.environment = request.environment;
        options.progress = [this](const MakeProgress& at) {
            const std::scoped_lock told(progress_mutex_);
            progress_ = at;
        };
        options.draft = [this](const MakeDraft& draft) { keep(draft); };
        const auto result = try_making(request, options);
        busy_ = false;
        drop_drafts();
        if (!result->stopped) emit made(result, request.recipe);
        lock.lock();
        const bool more = next_.has_value();
        lock.unlock();
        if (!more) emit busyChanged(false);
        lock.lock();
        // When the hand rests the shapes are looked through for what takes longer to find.
        options.thorough = true;
        options.progress = {};
        options.draft = {};
        bool to_look = !result->stopped;
        while (to_look && hand_rests(lock)) {
            stop_ = false;
            looking_through_ = true;
            lock.unlock();
            Made looked_through = *try_making(request, options);
            looked_through.milliseconds = result->milliseconds;  // what the artist waits for, not what is looked for
            looking_through_ = false;
            const bool news =
                !looked_through.stopped &&
                (looked_through.findings != result->findings ||
                 !std::ranges::equal(looked_through.parts, result->parts, [](const auto& a, const auto& b) {
                     return a == b || (a && b && a->findings == b->findings);
                 }));
            to_look = looked_through.stopped;
            if (news) emit made(std::make_shared<const Made>(std::move(looked_through)), request.recipe);
            lock.lock();
            to_look &= moved_;  // stopped by hand it is not begun again
        }
    }
}

}  // namespace bricol
