// SPDX-License-Identifier: GPL-3.0-or-later
// Turns a recipe into shapes: in order, in parallel, only what changed, stoppable, the same on every run.
#pragma once

#include "core/make/environment.h"
#include "core/make/memory.h"

namespace bricol {

class StopArena;

/// What is being made, of several steps at once the one that began first.
struct MakeProgress {
    double share = 0;        ///< of all the steps, 0..1
    std::string part, step;  ///< names; empty between steps
    std::string what;        ///< its title, or the kind of step it is
    double of_step = -1;     ///< how far this one has come, 0..1; negative where it does not say
};

/// What a step at work has so far, to be looked at.
struct MakeDraft {
    std::string part, step;
    ShapePtr shape;
};

struct MakeOptions {
    Environment environment;
    bool for_export = false;  ///< export levels instead of screen levels
    /// Also looks for faces that cross one another, which takes longer than most makings; parts of up to 60 000 faces.
    bool thorough = false;
    const std::atomic<bool>* stop = nullptr;
    /// Called when a step begins, comes further and ends; from any thread, one call at a time.
    std::function<void(const MakeProgress&)> progress;
    /// Called now and then by steps that show how far they are; from any thread.
    std::function<void(const MakeDraft&)> draft;
};

/// Makes recipes and remembers results by content. One maker may be used from one thread at a time; the steps inside
/// run on as many threads as TBB is allowed.
class Maker {
public:
    explicit Maker(std::size_t memory_bound = std::size_t(1) << 30);
    ~Maker();

    Made make(const Recipe& recipe, const MakeOptions& options = {});

    /// Bytes held by remembered results; may be asked from any thread.
    std::size_t memory() const { return memory_.bytes(); }
    std::size_t memory_bound() const { return memory_.bound(); }
    void forget() { memory_.forget(); }

private:
    ResultMemory memory_;
    std::unique_ptr<StopArena> arena_;
};

}  // namespace bricol
