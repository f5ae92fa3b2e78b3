// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/inspect/trial.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <mutex>

#include "core/ground/stop.h"
#include "core/inspect/trial_verdicts.h"
#include "core/inspect/variant_plan.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

constexpr std::size_t along = 9;         // settings of a dial alone, its ends among them
constexpr int hues = 6;                  // of a colour, besides black and white
constexpr int halvings = 5;              // of a stretch between two of them: 8 * 32 = 256 places in the range
constexpr std::size_t most_values = 24;  // of a choice or a whole number, tried one by one
constexpr int most_rounds = 6;           // of narrowing

/// The share of its range at which a dial's number stands.
double share_of(const Dial& dial, const Json& written) {
    return dial.high > dial.low ? (written.get<double>() - dial.low) / (dial.high - dial.low) : 0;
}

/// The far ends of a dial; black and white of a colour.
Json end_of(const Dial& dial, double share) {
    return dial.kind == DialKind::colour ? Json::array({share, share, share}) : dial_at(dial, share);
}

class Trying {
public:
    Trying(const Recipe& recipe, const MakeOptions& making, const TrialOrder& order, const TrialProgress& progress)
        : recipe_(recipe), order_(order), progress_(progress), verdicts_(recipe, making, order.cautions) {}

    Trial run() {
        const auto begun = std::chrono::steady_clock::now();
        try {
            try_all();
        } catch (const Stopped&) {
            trial_.stopped = true;
        }
        trial_.made = verdicts_.made();
        trial_.broke = verdicts_.broke();
        trial_.findings = verdicts_.findings(dials_of(recipe_));
        trial_.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
        return std::move(trial_);
    }

private:
    void try_all() {
        for (const Dial& dial : recipe_.dials) {
            DialTrial one;
            one.name = dial.name;
            one.safe_low = dial.low, one.safe_high = dial.high;
            one.turned = dial.kind == DialKind::colour || dial.low < dial.high;
            trial_.dials.push_back(one);
        }
        trial_.base_broken = !verdicts_.of({WrittenDials{}}).front().empty();
        if (trial_.base_broken) return;
        alone();
        corners();
        all_at_once();
        narrow();
    }

    void tell(double share, const std::string& what) const {
        if (progress_) progress_(share, what);
    }

    /// The values a dial is turned to alone, in the order of its range.
    static std::vector<Json> values_alone(const Dial& dial) {
        std::vector<Json> values;
        if (dial.kind == DialKind::colour) {  // its ends, and hues between
            for (int i = 0; i < hues; ++i) values.push_back(dial_at(dial, static_cast<double>(i) / hues));
            values.insert(values.begin(), end_of(dial, 0));
            values.push_back(end_of(dial, 1));
            return values;
        }
        const bool whole = dial.kind != DialKind::number || dial.unit == "count";
        const double places = std::floor(dial.high) - std::ceil(dial.low) + 1;
        const std::size_t count = whole && places <= most_values ? static_cast<std::size_t>(places) : along;
        for (std::size_t i = 0; i < count; ++i) {
            const double share = static_cast<double>(i) / static_cast<double>(count - 1);
            values.push_back(i + 1 == count ? dial_at(dial, 1) : dial_at(dial, share));
        }
        values.erase(std::unique(values.begin(), values.end()), values.end());
        return values;
    }

    void alone() {
        std::vector<WrittenDials> settings;
        std::vector<std::pair<std::size_t, std::vector<Json>>> rows;
        for (std::size_t d = 0; d < recipe_.dials.size(); ++d) {
            if (!trial_.dials[d].turned) continue;
            rows.emplace_back(d, values_alone(recipe_.dials[d]));
            for (const Json& value : rows.back().second) settings.push_back({{recipe_.dials[d].name, value}});
        }
        tell(0, "each dial alone");
        const auto verdicts = verdicts_.of(settings);
        std::size_t at = 0;
        for (const auto& [d, values] : rows) {
            tell(0.2 + 0.2 * static_cast<double>(at) / static_cast<double>(settings.size()),
                 recipe_.dials[d].name + " alone");
            const std::vector<std::string> codes(verdicts.begin() + static_cast<std::ptrdiff_t>(at),
                                                 verdicts.begin() + static_cast<std::ptrdiff_t>(at + values.size()));
            stretch(recipe_.dials[d], values, codes, trial_.dials[d]);
            at += values.size();
        }
    }

    /// Turns rows of held and broken values into stretches, closing in on each border by halving.
    void stretch(const Dial& dial, const std::vector<Json>& values, const std::vector<std::string>& codes,
                 DialTrial& out) {
        const bool numbers = dial.kind == DialKind::number;
        const auto place = [&](std::size_t i) {
            return numbers ? share_of(dial, values[i])
                           : static_cast<double>(i) / static_cast<double>(std::max<std::size_t>(values.size(), 1));
        };
        double from = 0;
        for (std::size_t i = 0; i + 1 < values.size(); ++i) {
            if (codes[i].empty() == codes[i + 1].empty()) continue;
            const double border = numbers ? border_between(dial, place(i), place(i + 1), codes[i].empty())
                                          : static_cast<double>(i + 1) / static_cast<double>(values.size());
            out.stretches.push_back({from, border, codes[i].empty(), codes[i]});
            from = border;
        }
        out.stretches.push_back({from, 1, codes.back().empty(), codes.back()});
        if (!numbers) return;
        // The safe range is the stretch that the saved value lies in.
        const double here = share_of(dial, Json(dial.value));
        for (const DialTrial::Stretch& one : out.stretches)
            if (one.holds && here >= one.from - 1e-9 && here <= one.to + 1e-9) narrow_to(dial, one.from, one.to, out);
    }

    /// The last share that holds between one that does and one that does not.
    double border_between(const Dial& dial, double first, double second, bool first_holds) {
        double good = first_holds ? first : second, bad = first_holds ? second : first;
        for (int round = 0; round < halvings; ++round) {
            const double middle = (good + bad) / 2;
            const Json value = value_at(dial, middle);
            if (dial.unit == "count" && (value == value_at(dial, good) || value == value_at(dial, bad))) break;
            (holds({{dial.name, value}}) ? good : bad) = middle;
        }
        return good;
    }

    /// A number at a share of its range, whole numbers at the nearest.
    static Json value_at(const Dial& dial, double share) {
        if (dial.unit != "count") return dial_at(dial, share);
        return std::round(dial.low + (dial.high - dial.low) * share);
    }

    void narrow_to(const Dial& dial, double from, double to, DialTrial& out) const {
        const double low = dial.low + (dial.high - dial.low) * from, high = dial.low + (dial.high - dial.low) * to;
        if (low > out.safe_low + 1e-12) out.safe_low = rounded(dial, low, true), out.narrowed = true;
        if (high < out.safe_high - 1e-12) out.safe_high = rounded(dial, high, false), out.narrowed = true;
    }

    /// Towards the inside, to a thousandth of the range.
    static double rounded(const Dial& dial, double value, bool up) {
        if (dial.unit == "count") return up ? std::ceil(value - 1e-9) : std::floor(value + 1e-9);
        const double unit = std::pow(10, std::floor(std::log10((dial.high - dial.low) / 1000)));
        const double turns = value / unit;
        const double whole = up ? std::ceil(turns - 1e-9) : std::floor(turns + 1e-9);
        return std::clamp(whole * unit, dial.low, dial.high);
    }

    bool holds(const WrittenDials& setting) { return verdicts_.of({setting}).front().empty(); }

    /// The ends a dial can be sent to with the others: those that hold alone.
    std::vector<Json> ends(std::size_t d) const {
        const Dial& dial = recipe_.dials[d];
        std::vector<Json> out;
        for (const double share : {0.0, 1.0}) {
            const Json value = end_of(dial, share);
            if (verdicts_.known({{dial.name, value}}) == "") out.push_back(value);
        }
        return out;
    }

    void corners() {
        std::vector<WrittenDials> settings;
        for (std::size_t a = 0; a < recipe_.dials.size(); ++a)
            for (std::size_t b = a + 1; b < recipe_.dials.size(); ++b) {
                if (!trial_.dials[a].turned || !trial_.dials[b].turned) continue;
                for (const Json& x : ends(a))
                    for (const Json& y : ends(b))
                        settings.push_back({{recipe_.dials[a].name, x}, {recipe_.dials[b].name, y}});
            }
        tell(0.4, "two dials at a time");
        const auto verdicts = verdicts_.of(settings);
        for (std::size_t i = 0; i < settings.size(); ++i)
            if (!verdicts[i].empty()) blame(settings[i], verdicts[i]);
    }

    void all_at_once() {
        const VariantPlan plan = even_plan(recipe_, turned_dials(), order_.samples, order_.seed);
        std::vector<WrittenDials> settings;
        for (std::size_t i = 0; i < plan.count; ++i) settings.push_back(plan.at(i));
        // In pieces, so that progress is told and a stop is met.
        for (std::size_t at = 0; at < settings.size(); at += 50) {
            tell(0.55 + 0.25 * static_cast<double>(at) / static_cast<double>(settings.size()), "all dials at once");
            const std::size_t end = std::min(at + 50, settings.size());
            const std::vector<WrittenDials> piece(settings.begin() + static_cast<std::ptrdiff_t>(at),
                                                  settings.begin() + static_cast<std::ptrdiff_t>(end));
            const auto verdicts = verdicts_.of(piece);
            for (std::size_t i = 0; i < piece.size(); ++i)
                if (!verdicts[i].empty()) blame(piece[i], verdicts[i]);
        }
    }

    std::vector<std::string> turned_dials() const {
        std::vector<std::string> names;
        for (const DialTrial& dial : trial_.dials)
            if (dial.turned) names.push_back(dial.name);
        return names;
    }

    /// The fewest dials that still break it, the others as saved.
    WrittenDials fewest(WrittenDials setting) {
        for (const Dial& dial : recipe_.dials) {
            if (setting.size() < 2 || !setting.contains(dial.name)) continue;
            WrittenDials less = setting;
            less.erase(dial.name);
            if (!holds(less)) setting = std::move(less);
        }
        return setting;
    }

    /// Remembers which dials break together; what breaks by one dial alone is in its stretches.
    void blame(const WrittenDials& setting, const std::string& code) {
        const WrittenDials few = fewest(setting);
        culprits_.push_back(few);
        if (few.size() < 2) return;
        TrialPair pair{{}, code, dials_of(*with_dials(recipe_, few, Outside::held))};
        for (const Dial& dial : recipe_.dials)
            if (few.contains(dial.name)) pair.dials.push_back(dial.name);
        const auto same = [&](const TrialPair& other) { return other.dials == pair.dials && other.code == code; };
        if (std::ranges::none_of(trial_.pairs, same)) trial_.pairs.push_back(std::move(pair));
    }

    DialTrial& trial_of(const std::string& name) { return *std::ranges::find(trial_.dials, name, &DialTrial::name); }

    bool inside(const WrittenDials& setting) {
        return std::ranges::all_of(setting, [&](const auto& one) {
            const Dial& dial = *recipe_.dial(one.first);
            if (dial.kind != DialKind::number) return true;
            const DialTrial& trial = trial_of(one.first);
            const double value = one.second.template get<double>();
            return value >= trial.safe_low - 1e-12 && value <= trial.safe_high + 1e-12;
        });
    }

    /// Narrows ranges until settings inside them hold: each that breaks is left out by the one dial whose range loses
    /// least.
    void narrow() {
        const std::size_t count = std::max<std::size_t>(order_.samples / 2, 32);
        for (int round = 0; round < most_rounds; ++round) {
            tell(0.8 + 0.2 * round / most_rounds, "inside what holds");
            for (const WrittenDials& setting : culprits_)
                if (inside(setting)) leave_out(setting);
            culprits_.clear();
            const Recipe less = narrowed(recipe_, trial_);
            const VariantPlan plan =
                even_plan(less, turned_dials(), count, order_.seed + 1 + static_cast<std::uint64_t>(round));
            std::vector<WrittenDials> settings;
            for (std::size_t i = 0; i < plan.count; ++i) settings.push_back(plan.at(i));
            const auto verdicts = verdicts_.of(settings);
            trial_.safe_tried = settings.size();
            trial_.safe_broke = static_cast<std::size_t>(
                std::ranges::count_if(verdicts, [](const std::string& code) { return !code.empty(); }));
            if (trial_.safe_broke == 0) return;
            for (std::size_t i = 0; i < settings.size(); ++i)
                if (!verdicts[i].empty()) culprits_.push_back(fewest(settings[i]));
        }
    }

    void leave_out(const WrittenDials& setting) {
        DialTrial* cheapest = nullptr;
        double least = 2, low = 0, high = 0;
        for (const auto& [name, written] : setting) {
            const Dial& dial = *recipe_.dial(name);
            DialTrial& trial = trial_of(name);
            if (dial.kind != DialKind::number) continue;
            const double value = written.get<double>(), whole = trial.safe_high - trial.safe_low;
            if (value == dial.value || whole <= 0) continue;
            const double border = border_with(dial, setting);
            const double loss =
                value > dial.value ? (trial.safe_high - border) / whole : (border - trial.safe_low) / whole;
            if (loss >= least) continue;
            least = loss;
            cheapest = &trial;
            low = value > dial.value ? trial.safe_low : rounded(dial, border, true);
            high = value > dial.value ? rounded(dial, border, false) : trial.safe_high;
        }
        if (!cheapest) return;
        cheapest->safe_low = low, cheapest->safe_high = high;
        cheapest->narrowed = true;
    }

    /// Where, between the saved value and that of a setting that breaks, it begins to hold.
    double border_with(const Dial& dial, const WrittenDials& setting) {
        double good = share_of(dial, Json(dial.value)), bad = share_of(dial, setting.find(dial.name)->second);
        for (int round = 0; round < halvings + 3; ++round) {
            const double middle = (good + bad) / 2;
            WrittenDials nearer = setting;
            nearer[dial.name] = value_at(dial, middle);
            (holds(nearer) ? good : bad) = middle;
        }
        return dial.low + (dial.high - dial.low) * good;
    }

    const Recipe& recipe_;
    const TrialOrder& order_;
    const TrialProgress& progress_;
    Verdicts verdicts_;
    Trial trial_;
    std::vector<WrittenDials> culprits_;  ///< the fewest dials of each setting that broke
};

}  // namespace

Trial try_dials(const Recipe& recipe, const MakeOptions& making, const TrialOrder& order,
                const TrialProgress& progress) {
    return Trying(recipe, making, order, progress).run();
}

Recipe narrowed(const Recipe& recipe, const Trial& trial, const std::string& only_dial) {
    Recipe out = recipe;
    for (Dial& dial : out.dials) {
        const auto one = std::ranges::find(trial.dials, dial.name, &DialTrial::name);
        if (one == trial.dials.end() || !one->narrowed || dial.kind != DialKind::number) continue;
        if (!only_dial.empty() && dial.name != only_dial) continue;
        dial.low = one->safe_low, dial.high = one->safe_high;
        dial = tidy_dial(dial);
    }
    return out;
}

}  // namespace bricol
