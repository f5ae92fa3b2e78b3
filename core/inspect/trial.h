// SPDX-License-Identifier: GPL-3.0-or-later
// Where a recipe breaks when its dials are turned, and within which ranges it holds.
#pragma once

#include <atomic>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/inspect/tries.h"

namespace bricol {

struct TrialOrder {
    std::size_t samples = 200;  ///< settings of all dials at once, spread evenly
    std::uint64_t seed = 0;
    bool cautions = false;  ///< counts cautions as breaking too, besides errors
};

/// One thing that was found, and the first setting that shows it.
struct TrialFinding {
    Severity severity{};
    std::string code, text, part, step;
    WrittenDials dials;     ///< the whole setting; turning the recipe to it shows the finding
    std::size_t times = 0;  ///< settings that showed it
    bool as_saved = false;  ///< shown by the recipe as it stands: no dial is to blame
};

/// A dial turned alone, the others as saved.
struct DialTrial {
    std::string name;
    /// Stretches of its range that hold, as shares of it (0..1); for words and toggles, each value one stretch; for
    /// colours, from black over six hues to white.
    struct Stretch {
        double from = 0, to = 0;
        bool holds = true;
        std::string code;  ///< of what breaks there
    };
    std::vector<Stretch> stretches;
    /// Within which nothing broke, together with the other dials inside theirs; as written. Equal to the dial's own
    /// range when nothing has to be narrowed. Numbers only.
    double safe_low = 0, safe_high = 0;
    bool narrowed = false;
    bool turned = false;  ///< dials of one value are not
};

/// Dials that break together though each holds alone.
struct TrialPair {
    std::vector<std::string> dials;  ///< two; more where no two of them break
    std::string code;
    WrittenDials setting;  ///< the whole setting
};

struct Trial {
    bool stopped = false;
    bool base_broken = false;  ///< broken as saved: nothing else can be learnt before that is mended
    std::size_t made = 0, broke = 0;
    std::vector<DialTrial> dials;
    std::vector<TrialPair> pairs;
    std::vector<TrialFinding> findings;  ///< worst first, then by how often
    /// Settings tried inside all safe ranges at the end, and how many of them broke all the same.
    std::size_t safe_tried = 0, safe_broke = 0;
    double seconds = 0;

    bool holds() const { return !stopped && broke == 0; }
};

/// How far it has come and what it does ("girth alone", "two at a time", "all at once").
using TrialProgress = std::function<void(double share, const std::string& what)>;

/// Turns each dial alone through its range and closes in by halving on the borders of what breaks (to 1/256 of the
/// range); tries the corners of every two dials; tries settings of all; names the fewest dials that break each setting
/// (their others put back as saved, one at a time: Zeller and Hildebrandt, "Simplifying and Isolating Failure-Inducing
/// Input", 2002, in its simplest form); narrows ranges until settings inside them hold. The same result at any number
/// of threads.
Trial try_dials(const Recipe& recipe, const MakeOptions& making, const TrialOrder& order,
                const TrialProgress& progress = {});

/// The recipe with each number's range narrowed to its safe one; values outside are held.
Recipe narrowed(const Recipe& recipe, const Trial& trial, const std::string& only_dial = {});

}  // namespace bricol
