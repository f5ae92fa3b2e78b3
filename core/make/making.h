// SPDX-License-Identifier: GPL-3.0-or-later
// One making of one recipe. Recipes inside recipes are makings of their own that share the memory.
#pragma once

#include <chrono>
#include <mutex>
#include <unordered_map>

#include "core/catalogue/digest.h"
#include "core/catalogue/step_run.h"
#include "core/make/graph.h"
#include "core/make/make.h"

namespace bricol {

using Clock = std::chrono::steady_clock;
/// Milliseconds that have passed.
double since(Clock::time_point start);

/// What a recipe inside another was given, and which recipes stand round it.
struct Within {
    std::map<std::string, ShapePtr, std::less<>> given;
    std::uint64_t given_hash = 0;
    std::vector<std::string> chain;  ///< names of the kits from the outside in
    std::size_t depth = 0;
};

class Making {
public:
    Making(ResultMemory& memory, const Recipe& recipe, const MakeOptions& options, const Within& within);
    Made run();

private:
    struct Job {
        int node;
        const StepInfo* info;
        StepRun run;
        std::shared_ptr<StepOutcome> outcome;
        bool done = false;
    };
    bool stopped() const { return options_.stop && *options_.stop; }
    /// Makes wave after wave until nothing is ready. Throws Stopped.
    void make_all();
    /// Works out what a ready step depends on: settles it when that is known already, else leaves a job.
    void prepare(int node, std::vector<Job>& jobs);
    /// What a step's shape came out as; it is settled by then, as the graph has it made before whoever asks.
    Result<double> ask(const Part& part, const Step& step, std::string_view path) const;
    void read_settings(const Node& node, const Step& step, Job& job, std::uint64_t inputs_hash, Digest& digest);
    void work(Job& job);
    /// Keeps what the jobs that were done have made.
    void settle(const std::vector<Job>& jobs);
    std::vector<int> after(const std::vector<int>& ready);
    /// Outcomes as they are handed out, those of steps that wait for one another in a circle included.
    void gather(Made& made);
    Result<InnerMade> make_inner(const InnerWanted& inner, const Within& within);

    std::vector<Finding> unread_weights() const;
    /// What is told to a step that never became ready.
    std::string circle_of(int node);

    /// The step goes into the list of those at work, comes further in it, and leaves it.
    void tell_draft(int node, ShapePtr shape);
    void tell_progress(int node, double of_step, bool over = false);
    struct AtWork {
        int node;
        double of_step;
    };
    std::mutex progress_mutex_;
    std::vector<AtWork> at_work_;  ///< in the order in which they began

    std::vector<std::string> circles_;  ///< node → the circle it is in, spelled; looked for when one is met

    ResultMemory& memory_;
    const Recipe& recipe_;
    const MakeOptions& options_;
    const Within& within_;
    Graph graph_;
    Resolver resolver_;
    std::vector<std::shared_ptr<const StepOutcome>> settled_;
    std::atomic<std::size_t> ran_ = 0;
    std::size_t kept_ = 0;
};

/// What is measured and told of a part's result as a whole.
std::shared_ptr<const PartOutcome> finished_part(ResultMemory& memory, const Recipe& recipe, const Part& part,
                                                 const StepOutcome* result, bool thorough);

}  // namespace bricol
