// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/graph.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/catalogue/step_info.h"

namespace bricol {

Graph::Graph(const Recipe& recipe) {
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        of_step.emplace_back();
        by_id_.emplace_back();
        for (std::size_t s = 0; s < recipe.parts[p]->steps.size(); ++s) {
            of_step[p].push_back(static_cast<int>(nodes.size()));
            by_id_[p].emplace(recipe.parts[p]->steps[s]->id, static_cast<int>(nodes.size()));
            nodes.push_back({p, s, {}, {}, {}, 0});
        }
    }
    for (Node& node : nodes) link(recipe, node);
    for (std::size_t n = 0; n < nodes.size(); ++n)
        for (const auto& [input, source] : nodes[n].sources) {
            nodes[static_cast<std::size_t>(source)].followers.push_back(static_cast<int>(n));
            ++nodes[n].waiting;
        }
}

int Graph::result_of(const Recipe& recipe, const std::string& part) const {
    for (std::size_t p = 0; p < recipe.parts.size(); ++p)
        if (recipe.parts[p]->name == part) {
            const Step* result = result_step(*recipe.parts[p]);
            return result ? by_id_[p].find(result->id)->second : -1;
        }
    return -2;
}

void Graph::connect(const Recipe& recipe, Node& node, const std::string& input, const std::string& source) {
    if (source.empty()) return;
    const auto missing = [&](const char* code, const std::string& what) {
        node.link_findings.push_back({Severity::error, code, what, {}, {}});
    };
    int found = -1;
    if (source.starts_with("part:")) {
        found = result_of(recipe, source.substr(5));
        if (found == -2)
            missing("unknown-part", fmt::format("There is no part “{}” to take {} from.", source.substr(5), input));
    } else if (const auto at = by_id_[node.part].find(source); at != by_id_[node.part].end()) {
        found = at->second;
    } else {
        missing("unknown-step", fmt::format("There is no step “{}” to take {} from.", source, input));
    }
    if (found >= 0) node.sources.emplace_back(input, found);
}

void Graph::link(const Recipe& recipe, Node& node) {
    const Part& part = *recipe.parts[node.part];
    const Step& step = *part.steps[node.step];
    const StepInfo* info = find_step_info(step.type);
    if (!info) {
        connect(recipe, node, "shape", source_of(part, node.step, "shape"));
        return;
    }
    for (const InputInfo& input : info->inputs) {
        const std::string key(input.key);
        connect(recipe, node, key, source_of(part, node.step, key));
    }
    // A parameter that names a part is a link as well.
    for (const ParameterInfo& p : info->parameters) {
        if (p.kind != ParameterKind::part) continue;
        const auto written = step.settings.find(std::string(p.key));
        if (written != step.settings.end() && written->is_string() && *written != "")
            connect(recipe, node, std::string(p.key), "part:" + written->get<std::string>());
    }
}

std::vector<std::vector<bool>> steps_behind(const Recipe& recipe, const std::vector<std::string>& parts) {
    const Graph graph(recipe);
    std::vector<std::vector<bool>> behind;
    for (const auto& part : recipe.parts) behind.emplace_back(part->steps.size(), false);
    std::vector<int> open;
    for (const auto& part : recipe.parts)
        if (parts.empty() ? part->delivered() : std::ranges::find(parts, part->name) != parts.end())
            open.push_back(graph.result_of(recipe, part->name));
    while (!open.empty()) {
        const int n = open.back();
        open.pop_back();
        if (n < 0) continue;
        const Node& node = graph.nodes[static_cast<std::size_t>(n)];
        if (behind[node.part][node.step]) continue;
        behind[node.part][node.step] = true;
        for (const auto& [input, source] : node.sources) open.push_back(source);
    }
    // Numbers and notes feed formulas, not inputs: those of a part that is needed count.
    for (std::size_t p = 0; p < behind.size(); ++p)
        if (std::ranges::find(behind[p], true) != behind[p].end())
            for (std::size_t s = 0; s < behind[p].size(); ++s)
                if (stands_aside(*recipe.parts[p]->steps[s])) behind[p][s] = true;
    return behind;
}

}  // namespace bricol
