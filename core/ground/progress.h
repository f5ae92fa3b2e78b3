// SPDX-License-Identifier: GPL-3.0-or-later
// How far work has come, told from inside it.
#pragma once

#include <functional>

namespace bricol {

/// Who listens to work on this thread while the scope lives. What helping threads tell is not heard: stages are told
/// between the parallel pieces, by the thread that began.
class ProgressScope {
public:
    explicit ProgressScope(std::function<void(double)> heard);
    ~ProgressScope();
    ProgressScope(const ProgressScope&) = delete;
    ProgressScope& operator=(const ProgressScope&) = delete;

private:
    std::function<void(double)> heard_;
    const std::function<void(double)>* before_;
};

/// Tells which share (0..1) of the work is done; nothing happens when nobody listens. For stages of some milliseconds.
void progress_of_work(double share);

}  // namespace bricol
