// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/sheet_layout.h"

#include <QRectF>
#include <algorithm>
#include <deque>
#include <set>

#include "core/formula/formula.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

constexpr double column_width = 170, down = 96;

/// Steps that feed a step through its inputs, main input first.
std::vector<std::size_t> feeders(const Part& part, std::size_t s) {
    std::vector<std::size_t> list;
    const auto add = [&](const std::string& id) {
        const std::size_t i = step_index(part, id);
        if (i < part.steps.size() && i != s && std::ranges::find(list, i) == list.end()) list.push_back(i);
    };
    add(source_of(part, s, "shape"));
    if (const StepInfo* info = find_step_info(part.steps[s]->type))
        for (const InputInfo& input : info->inputs) add(source_of(part, s, std::string(input.key)));
    return list;
}

struct Columns {
    std::vector<int> depth;  ///< longest way to the result; -1 when not on any
    std::vector<int> state;
};

void deepen(const Part& part, std::size_t s, int depth, Columns& columns) {
    if (columns.state[s] == 1 || depth <= columns.depth[s]) return;  // a circle, or already as far
    columns.state[s] = 1;
    columns.depth[s] = depth;
    for (const std::size_t f : feeders(part, s)) deepen(part, f, depth + 1, columns);
    columns.state[s] = 0;
}

}  // namespace

double sheet_card_height_of(const Step& step) {
    const StepInfo* info = find_step_info(step.type);
    return info ? std::max(sheet_card_height, 14.0 + 13.0 * static_cast<double>(info->inputs.size()))
                : sheet_card_height;
}

namespace {

/// Lays every chain of a part in a lane of its own, its columns by how far its end is away.
class Lanes {
public:
    explicit Lanes(const Part& part)
        : part_(part),
          n_(part.steps.size()),
          columns_{std::vector<int>(n_, -1), std::vector<int>(n_, 0)},
          lane_(n_, -1) {
        for (const std::size_t end : ends()) deepen(part_, end, 0, columns_);
        for (const int depth : columns_.depth) deepest_ = std::max(deepest_, depth);
        for (const std::size_t end : ends())
            if (lane_[end] < 0) lay_from(end);
    }

    std::map<std::string, QPointF> places() const {
        std::map<std::string, QPointF> places;
        // Blocks of numbers and notes below everything, in the order they were made.
        int aside_at = 0, aside_lane = next_block_;
        for (std::size_t s = 0; s < n_; ++s) {
            if (lane_[s] >= 0) {
                places[part_.steps[s]->id] = QPointF(column(s) * column_width, lane_[s] * down);
                continue;
            }
            places[part_.steps[s]->id] = QPointF(aside_at++ * column_width, aside_lane * down + 20);
            if (aside_at > std::max(4, deepest_)) aside_at = 0, ++aside_lane;
        }
        return places;
    }
    /// Steps far from the end first.
    std::vector<std::size_t> order() const {
        std::vector<std::size_t> order(n_);
        for (std::size_t s = 0; s < n_; ++s) order[s] = s;
        std::ranges::stable_sort(order,
                                 [&](std::size_t a, std::size_t b) { return columns_.depth[a] > columns_.depth[b]; });
        return order;
    }

private:
    int column(std::size_t s) const { return deepest_ - columns_.depth[s]; }

    /// The result first, then whatever else leads nowhere.
    std::vector<std::size_t> ends() const {
        std::vector<std::size_t> ends;
        std::vector<std::uint8_t> feeds(n_, 0);
        for (std::size_t s = 0; s < n_; ++s)
            for (const std::size_t f : feeders(part_, s)) feeds[f] = 1;
        if (const Step* result = result_step(part_)) ends.push_back(step_index(part_, result->id));
        for (std::size_t s = n_; s-- > 0;)
            if (!feeds[s] && !stands_aside(*part_.steps[s]) && (ends.empty() || ends[0] != s)) ends.push_back(s);
        return ends;
    }

    /// Walks a chain to its start, then the branches that come in along it.
    void lay_from(std::size_t end) {
        std::deque<std::pair<std::size_t, int>> waiting{{end, next_block_}};  // a step, and the first lane to try
        while (!waiting.empty()) {
            const auto [step, from] = waiting.front();
            waiting.pop_front();
            if (lane_[step] >= 0) continue;
            const std::vector<std::size_t> chain = chain_to(step);
            const int at = free_lane(column(chain.back()), column(chain.front()), from);
            for (const std::size_t s : chain) lane_[s] = at;
            for (const std::size_t s : chain)
                for (const std::size_t f : feeders(part_, s))
                    if (lane_[f] < 0) waiting.emplace_back(f, at + 1);
            next_block_ = std::max(next_block_, at + 1);
        }
    }
    /// From a step back to where its chain begins.
    std::vector<std::size_t> chain_to(std::size_t step) const {
        std::vector<std::size_t> chain;
        for (std::size_t s = step; s < n_ && lane_[s] < 0 && std::ranges::find(chain, s) == chain.end();) {
            chain.push_back(s);
            const std::size_t before = step_index(part_, source_of(part_, s, "shape"));
            if (before >= n_) break;
            s = before;
        }
        return chain;
    }
    /// Takes the first lane that is free over those columns.
    int free_lane(int left, int right, int at) {
        const auto free = [&](int lane) {
            for (int c = left; c <= right; ++c)
                if (taken_.contains({c, lane})) return false;
            return true;
        };
        while (!free(at)) ++at;
        for (int c = left; c <= right; ++c) taken_.insert({c, at});
        return at;
    }

    const Part& part_;
    const std::size_t n_;
    Columns columns_;
    std::vector<int> lane_;
    std::set<std::pair<int, int>> taken_;  ///< column, lane
    int deepest_ = 0, next_block_ = 0;
};

/// Cards that have places keep them; new ones start from the card they follow, and make room for one another.
void place_new_cards(const Part& part, const Lanes& lanes, std::map<std::string, QPointF>& places) {
    std::vector<QRectF> solid;
    for (const auto& step : part.steps)
        if (step->at) solid.emplace_back(places[step->id], QSizeF(sheet_card_width, sheet_card_height_of(*step)));
    for (const std::size_t s : lanes.order()) {
        const Step& step = *part.steps[s];
        if (step.at) continue;
        QPointF& at = places[step.id];
        const std::size_t before = step_index(part, source_of(part, s, "shape"));
        if (before < part.steps.size()) at = places[part.steps[before]->id] + QPointF(column_width, 0);
        const auto hits = [&] {
            const QRectF mine(at, QSizeF(sheet_card_width, sheet_card_height_of(step)));
            return std::ranges::any_of(
                solid, [&](const QRectF& other) { return mine.adjusted(-8, -8, 8, 8).intersects(other); });
        };
        for (int tries = 0; tries < 200 && hits(); ++tries) at += QPointF(0, down / 2);
        solid.emplace_back(at, QSizeF(sheet_card_width, sheet_card_height_of(step)));
    }
}

}  // namespace

std::map<std::string, QPointF> sheet_layout(const Part& part) {
    if (part.steps.empty()) return {};
    const Lanes lanes(part);
    auto places = lanes.places();
    bool any_placed = false;
    for (const auto& step : part.steps)
        if (step->at) places[step->id] = QPointF((*step->at)[0], (*step->at)[1]), any_placed = true;
    if (any_placed) place_new_cards(part, lanes, places);
    return places;
}

}  // namespace bricol
