// SPDX-License-Identifier: GPL-3.0-or-later
// Whether a recipe breaks under dial settings, each made once and remembered.
#pragma once

#include <map>
#include <mutex>

#include "core/inspect/trial.h"

namespace bricol {

class Verdicts {
public:
    Verdicts(const Recipe& recipe, const MakeOptions& making, bool cautions);

    /// For each setting the code of what breaks it (the first in the recipe's order), or an empty text. Those not known
    /// yet are made, several at once. Throws Stopped.
    std::vector<std::string> of(const std::vector<WrittenDials>& settings);
    /// The same for one that was made already; a dash for one that was not.
    std::string known(const WrittenDials& setting) const;

    std::size_t made() const { return known_.size(); }
    std::size_t broke() const;
    /// Every finding that was met, worst first, then most often first; `base` is the recipe's own setting.
    std::vector<TrialFinding> findings(const WrittenDials& base) const;

private:
    struct Seen {
        TrialFinding finding;
        std::size_t first = 0;  ///< number of the setting that showed it first
    };
    WrittenDials whole(const WrittenDials& setting) const;
    void take(std::size_t number, const std::string& key, const Recipe& turned, const Result<Made>& made);
    bool breaks(Severity severity) const {
        return severity == Severity::error || (cautions_ && severity == Severity::caution);
    }

    const Recipe& recipe_;
    MakeOptions making_;
    bool cautions_;
    Tries tries_;
    WrittenDials base_;
    std::mutex mutex_;
    std::map<std::string, std::string> known_;  ///< whole setting as text → code
    std::map<std::string, Seen> seen_;          ///< part, step and code → the finding
    std::size_t asked_ = 0;
};

}  // namespace bricol
