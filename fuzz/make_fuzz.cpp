// SPDX-License-Identifier: GPL-3.0-or-later
// Any text as a recipe that is made, with a stop after two seconds.
#include <atomic>
#include <condition_variable>
#include <string_view>
#include <thread>

#include "core/make/make.h"
#include "core/recipe/recipe_json.h"

namespace {

/// Raises a flag when a making lasts too long.
class Watch {
public:
    Watch() : thread_([this] { wait(); }) {}
    ~Watch() {
        {
            const std::scoped_lock lock(mutex_);
            done_ = true;
        }
        ended_.notify_one();
        thread_.join();
    }
    std::atomic<bool> late = false;

private:
    void wait() {
        std::unique_lock lock(mutex_);
        if (!ended_.wait_for(lock, std::chrono::seconds(2), [this] { return done_; })) late = true;
    }
    std::mutex mutex_;
    std::condition_variable ended_;
    bool done_ = false;
    std::thread thread_;
};

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace bricol;
    const auto recipe = recipe_from_text(std::string_view(reinterpret_cast<const char*>(data), size));
    if (!recipe) return 0;
    Watch watch;
    Maker maker(std::size_t(64) << 20);
    MakeOptions options;
    options.stop = &watch.late;
    (void)maker.make(*recipe, options);
    return 0;
}
