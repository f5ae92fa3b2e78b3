// SPDX-License-Identifier: GPL-3.0-or-later
// Turns a recipe into shapes: in order, in parallel, only what changed, stoppable, the same on every run.
#pragma once

#include <atomic>
#include <functional>
#include <list>
#include <mutex>
#include <unordered_map>

#include "core/inspect/measure.h"
#include "core/make/resolve.h"
#include "core/steps/step.h"

namespace bricol {

struct StepOutcome {
    ShapePtr shape;  ///< never null
    std::vector<Finding> findings;
    Values values;            ///< parameters worked out
    double milliseconds = 0;  ///< time of the run that made it
    std::uint64_t hash = 0;   ///< of everything the shape depends on
    bool kept = false;        ///< taken from memory, not made again
    bool failed = false;      ///< an error finding; the shape is the input passed through
};

struct PartOutcome {
    ShapePtr shape;  ///< result of the part; never null
    std::string result_step;
    Measures measures;
    std::vector<Finding> findings;  ///< about the finished part (open, inside out, over budget …)
};

struct Made {
    /// In the order of recipe.parts and part.steps.
    std::vector<std::vector<std::shared_ptr<const StepOutcome>>> steps;
    std::vector<std::shared_ptr<const PartOutcome>> parts;
    std::vector<Finding> findings;  ///< about the recipe as a whole
    double milliseconds = 0;
    std::size_t made = 0, kept = 0;  ///< steps run and steps taken from memory
    bool stopped = false;            ///< asked to stop; outcomes may be missing

    const StepOutcome* step(const Recipe& recipe, const std::string& part, const std::string& id) const;
    const PartOutcome* part(const Recipe& recipe, const std::string& name) const;
    bool has_errors() const;
    std::size_t faces(const Recipe& recipe) const;  ///< of all parts that are shown
};

/// A recipe found for a recipe step.
struct Kit {
    std::shared_ptr<const Recipe> recipe;
    std::string folder;         ///< where its own kits are looked for
    std::string name;           ///< file, or empty for one kept inside the step
    std::uint64_t content = 0;  ///< hash of its text
};
/// Finds the recipes of recipe steps. `written` is a file name, relative to `folder`, or the recipe itself.
using FindKit = std::function<Result<Kit>(const Json& written, const std::string& folder)>;

/// Reads a file that a step names, relative to `folder`; kept until it changes. May be called from any thread.
using ReadFile =
    std::function<Result<std::shared_ptr<const std::string>>(const std::string& name, const std::string& folder)>;

struct MakeOptions {
    Surroundings surroundings;
    bool for_export = false;  ///< export levels instead of screen levels
    /// Also looks for faces that cross one another, which takes longer than most makings; parts of up to 60 000 faces.
    bool thorough = false;
    const std::atomic<bool>* stop = nullptr;
    FindKit find_kit;    ///< none: recipe steps report that they cannot find theirs
    ReadFile read_file;  ///< none: steps that read files report that they cannot
    std::string folder;  ///< where the recipe lies; kits are found beside it
    /// Called between steps with the share done (0..1) and the name of the step that just ended; from any thread.
    std::function<void(double, const std::string&)> progress;
};

/// Makes recipes and remembers results by content. One maker may be used from one thread at a time; the steps inside
/// run on as many threads as TBB is allowed.
class Maker {
public:
    explicit Maker(std::size_t memory_bound = std::size_t(1) << 30) : bound_(memory_bound) {}

    Made make(const Recipe& recipe, const MakeOptions& options = {});

    std::size_t memory() const { return bytes_; }
    std::size_t memory_bound() const { return bound_; }
    void forget();

private:
    /// What a recipe inside another was given, and which recipes stand round it.
    struct Within {
        std::map<std::string, ShapePtr, std::less<>> given;
        std::uint64_t given_hash = 0;
        std::vector<std::string> chain;  ///< names of the kits from the outside in
        std::size_t depth = 0;
    };
    Made make_within(const Recipe& recipe, const MakeOptions& options, const Within& within);
    Result<InnerMade> make_inner(const Json& written, const std::string& part, const Json& dials,
                                 const MakeOptions& options, const Within& within);
    struct Kept {
        std::shared_ptr<const StepOutcome> outcome;
        std::list<std::uint64_t>::iterator place;
        std::size_t bytes = 0;
    };
    std::shared_ptr<const StepOutcome> recall(std::uint64_t hash);
    void keep(const std::shared_ptr<const StepOutcome>& outcome);
    std::shared_ptr<const PartOutcome> finish_part(const Recipe& recipe, const Part& part, const StepOutcome* result,
                                                   bool thorough);

    std::mutex mutex_;
    std::size_t bound_, bytes_ = 0;
    std::unordered_map<std::uint64_t, Kept> kept_;
    std::list<std::uint64_t> order_;  // newest first
    std::unordered_map<std::uint64_t, std::shared_ptr<const PartOutcome>> finished_;
};

/// The recipe with a finding's remedy carried out.
Result<Recipe> with_remedy(const Recipe& recipe, const std::string& part, const std::string& step,
                           const Remedy& remedy);

}  // namespace bricol
