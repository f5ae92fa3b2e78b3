// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/sheet_layout.h"

#include <QRectF>
#include <algorithm>
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

std::map<std::string, QPointF> sheet_layout(const Part& part) {
    std::map<std::string, QPointF> places;
    const std::size_t n = part.steps.size();
    if (n == 0) return places;
    Columns columns{std::vector<int>(n, -1), std::vector<int>(n, 0)};
    std::vector<std::size_t> ends;  // the result first, then whatever else leads nowhere
    std::vector<std::uint8_t> feeds(n, 0);
    for (std::size_t s = 0; s < n; ++s)
        for (const std::size_t f : feeders(part, s)) feeds[f] = 1;
    if (const Step* result = result_step(part)) ends.push_back(step_index(part, result->id));
    for (std::size_t s = n; s-- > 0;)
        if (!feeds[s] && !stands_aside(*part.steps[s]) && (ends.empty() || ends[0] != s)) ends.push_back(s);
    int deepest = 0;
    for (const std::size_t end : ends) deepen(part, end, 0, columns);
    for (std::size_t s = 0; s < n; ++s) deepest = std::max(deepest, columns.depth[s]);

    std::set<std::pair<int, int>> taken;  // column, lane
    std::vector<int> lane(n, -1);
    const auto column = [&](std::size_t s) { return deepest - columns.depth[s]; };
    // Walks a chain to its start, then the branches that come in along it.
    struct Visit {
        std::size_t step;
        int from_lane;
    };
    int next_block = 0;
    for (const std::size_t end : ends) {
        if (lane[end] >= 0) continue;
        std::vector<Visit> waiting{{end, next_block}};
        while (!waiting.empty()) {
            const Visit visit = waiting.front();
            waiting.erase(waiting.begin());
            if (lane[visit.step] >= 0) continue;
            std::vector<std::size_t> chain;
            for (std::size_t s = visit.step; s < n && lane[s] < 0 && std::ranges::find(chain, s) == chain.end();) {
                chain.push_back(s);
                const std::size_t before = step_index(part, source_of(part, s, "shape"));
                if (before >= n) break;
                s = before;
            }
            const int left = column(chain.back()), right = column(chain.front());
            int at = visit.from_lane;
            const auto free = [&](int l) {
                for (int c = left; c <= right; ++c)
                    if (taken.contains({c, l})) return false;
                return true;
            };
            while (!free(at)) ++at;
            for (const std::size_t s : chain) lane[s] = at;
            for (int c = left; c <= right; ++c) taken.insert({c, at});
            for (const std::size_t s : chain)
                for (const std::size_t f : feeders(part, s))
                    if (lane[f] < 0) waiting.push_back({f, at + 1});
            next_block = std::max(next_block, at + 1);
        }
    }
    // Blocks of numbers and notes below everything, in the order they were made.
    int aside_at = 0, aside_lane = next_block;
    for (std::size_t s = 0; s < n; ++s) {
        if (lane[s] >= 0) {
            places[part.steps[s]->id] = QPointF(column(s) * column_width, lane[s] * down);
            continue;
        }
        places[part.steps[s]->id] = QPointF(aside_at++ * column_width, aside_lane * down + 20);
        if (aside_at > std::max(4, deepest)) aside_at = 0, ++aside_lane;
    }
    bool any_placed = false;
    for (const auto& step : part.steps)
        if (step->at) places[step->id] = QPointF((*step->at)[0], (*step->at)[1]), any_placed = true;
    if (!any_placed) return places;
    // New cards start from the one they follow, and make room for one another.
    std::vector<QRectF> solid;
    for (const auto& step : part.steps)
        if (step->at) solid.emplace_back(places[step->id], QSizeF(sheet_card_width, sheet_card_height_of(*step)));
    std::vector<std::size_t> order(n);
    for (std::size_t s = 0; s < n; ++s) order[s] = s;
    std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) { return columns.depth[a] > columns.depth[b]; });
    for (const std::size_t s : order) {
        const Step& step = *part.steps[s];
        if (step.at) continue;
        QPointF& at = places[step.id];
        const std::size_t before = step_index(part, source_of(part, s, "shape"));
        if (before < n) at = places[part.steps[before]->id] + QPointF(column_width, 0);
        const auto hits = [&] {
            const QRectF mine(at, QSizeF(sheet_card_width, sheet_card_height_of(step)));
            return std::ranges::any_of(
                solid, [&](const QRectF& other) { return mine.adjusted(-8, -8, 8, 8).intersects(other); });
        };
        for (int tries = 0; tries < 200 && hits(); ++tries) at += QPointF(0, down / 2);
        solid.emplace_back(at, QSizeF(sheet_card_width, sheet_card_height_of(step)));
    }
    return places;
}

}  // namespace bricol
