// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/trial_verdicts.h"

#include <algorithm>

#include "core/ground/stop.h"
#include "core/inspect/told.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

std::string key_of(const WrittenDials& whole) { return json_text(Json(whole)); }

}  // namespace

Verdicts::Verdicts(const Recipe& recipe, const MakeOptions& making, bool cautions)
    : recipe_(recipe), making_(making), cautions_(cautions), base_(dials_of(recipe)) {
    making_.progress = nullptr;
}

WrittenDials Verdicts::whole(const WrittenDials& setting) const {
    WrittenDials out = base_;
    for (const auto& [name, written] : setting) out[name] = written;
    return out;
}

std::vector<std::string> Verdicts::of(const std::vector<WrittenDials>& settings) {
    std::vector<WrittenDials> wanted;
    std::vector<std::string> keys, wanted_keys;
    std::map<std::string, std::size_t> listed;
    for (const WrittenDials& setting : settings) {
        WrittenDials all = whole(setting);
        keys.push_back(key_of(all));
        if (known_.contains(keys.back()) || !listed.emplace(keys.back(), wanted.size()).second) continue;
        wanted.push_back(std::move(all));
        wanted_keys.push_back(keys.back());
    }
    const std::size_t before = asked_;
    TriesOrder order{recipe_,
                     making_,
                     wanted.size(),
                     [&](std::size_t n) { return wanted[n]; },
                     {},
                     [&](std::size_t n, const Recipe& turned, const Result<Made>& made) {
                         take(before + n, wanted_keys[n], turned, made);
                     }};
    tries_.run(order);
    asked_ += wanted.size();
    if (making_.stop && *making_.stop) throw Stopped{};
    std::vector<std::string> out;
    for (const std::string& key : keys) out.push_back(known_.at(key));
    return out;
}

std::string Verdicts::known(const WrittenDials& setting) const {
    const auto found = known_.find(key_of(whole(setting)));
    return found == known_.end() ? "-" : found->second;
}

std::size_t Verdicts::broke() const {
    return static_cast<std::size_t>(std::ranges::count_if(known_, [](const auto& one) { return !one.second.empty(); }));
}

void Verdicts::take(std::size_t number, const std::string& key, const Recipe& turned, const Result<Made>& made) {
    const std::lock_guard lock(mutex_);
    std::string& code = known_[key];
    if (!made) {
        code = "dial";
        return;
    }
    each_told(
        turned, *made, [&](const std::string& part, const std::string& step, const std::vector<Finding>& findings) {
            std::map<std::string, bool> counted;  // a step may tell one thing several times
            for (const Finding& finding : findings) {
                if (finding.severity == Severity::note) continue;
                if (breaks(finding.severity) && code.empty()) code = finding.code;
                const std::string where = part + "\n" + step + "\n" + finding.code;
                Seen& seen = seen_[where];
                if (std::exchange(counted[finding.code], true)) continue;
                ++seen.finding.times;
                if (seen.finding.times > 1 && seen.first <= number) continue;
                const std::size_t times = seen.finding.times;
                seen = {{finding.severity, finding.code, finding.text, part, step, dials_of(turned), times}, number};
            }
        });
}

std::vector<TrialFinding> Verdicts::findings(const WrittenDials& base) const {
    std::vector<TrialFinding> out;
    for (const auto& [where, seen] : seen_) {
        out.push_back(seen.finding);
        out.back().as_saved = seen.first == 0 && seen.finding.dials == base;
    }
    std::ranges::stable_sort(out, [](const TrialFinding& a, const TrialFinding& b) {
        return a.severity != b.severity ? a.severity > b.severity : a.times > b.times;
    });
    return out;
}

}  // namespace bricol
