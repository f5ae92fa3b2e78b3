// SPDX-License-Identifier: GPL-3.0-or-later
// Making one recipe under many dial settings: several makings at once, each with a memory of its own.
#pragma once

#include <functional>

#include "core/make/make.h"

namespace bricol {

struct TriesOrder {
    const Recipe& recipe;
    /// How each is made; its `stop` ends all of them. `progress` is not called.
    MakeOptions making;
    std::size_t count = 0;
    std::function<WrittenDials(std::size_t)> at;
    /// Asked before each: no more are begun once it says so.
    std::function<bool()> enough;
    /// Called with each that was made, from several threads at once, in no order; a stopped one is left out. Settings
    /// that cannot be turned to come as a problem.
    std::function<void(std::size_t number, const Recipe& turned, const Result<Made>& made)> done;
};

/// Makings that are kept ready, so that what one try shares with the last is not made again.
class Tries {
public:
    /// `at_once` makings, 0 for as many as there are threads; each remembers up to `memory_bound` bytes.
    explicit Tries(std::size_t at_once = 0, std::size_t memory_bound = std::size_t(256) << 20);
    ~Tries();
    /// Returns when all are made or stopped. Neighbouring numbers go to the same making.
    void run(const TriesOrder& order);

private:
    std::vector<std::unique_ptr<Maker>> makers_;
};

}  // namespace bricol
