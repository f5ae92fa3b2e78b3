// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/make/graph.h"

#include <algorithm>
#include <fmt/format.h>
#include <map>
#include <set>

#include "core/catalogue/step_info.h"
#include "core/recipe/resolve.h"
#include "core/recipe/settings.h"

namespace bricol {

Graph::Graph(const Recipe& recipe) {
    for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
        of_step.emplace_back();
        by_id_.emplace_back();
        for (std::size_t s = 0; s < recipe.parts[p]->steps.size(); ++s) {
            of_step[p].push_back(static_cast<int>(nodes.size()));
            by_id_[p].emplace(recipe.parts[p]->steps[s]->id, static_cast<int>(nodes.size()));
            nodes.push_back({p, s, {}, {}, {}, {}, 0});
        }
    }
    for (Node& node : nodes) link(recipe, node);
    look_for_measured(recipe);
    for (std::size_t n = 0; n < nodes.size(); ++n)
        nodes[n].each_before([&](int source) {
            nodes[static_cast<std::size_t>(source)].followers.push_back(static_cast<int>(n));
            ++nodes[n].waiting;
        });
}

namespace {

/// Whether any text in there could ask what was made.
bool speaks_of_made(const Json& written) {
    if (written.is_string()) return written.get_ref<const std::string&>().find(".made.") != std::string::npos;
    return written.is_structured() && std::ranges::any_of(written, speaks_of_made);
}

/// Names in the formulas of a step; of one setting when its key is given.
std::vector<std::string> names_of(const Step& step, const std::string& key) {
    Step copy = step;
    if (!key.empty()) {
        copy.settings = Json::object();
        if (const auto found = step.settings.find(key); found != step.settings.end()) copy.settings[key] = *found;
    }
    std::vector<std::string> names;
    each_formula(copy, [&](WrittenFormula formula) {
        if (!formula.text.is_string()) return;
        for (std::string& name : names_in(without_sign(formula.text.get<std::string>())))
            names.push_back(std::move(name));
    });
    return names;
}

}  // namespace

/// A formula may ask what was made itself, or ask a number whose own formula does: names are followed to their ends.
void Graph::look_for_measured(const Recipe& recipe) {
    const bool any = std::ranges::any_of(recipe.parts, [](const auto& part) {
        return std::ranges::any_of(part->steps, [](const auto& step) { return speaks_of_made(step->settings); });
    });
    if (!any) return;
    Resolver resolver(recipe);
    const auto node_of = [&](const Part& part, const Step& step) {
        for (std::size_t p = 0; p < recipe.parts.size(); ++p)
            if (recipe.parts[p].get() == &part) return by_id_[p].find(step.id)->second;
        return -1;
    };
    std::map<std::pair<const Step*, std::string>, std::vector<std::string>> written;  // step and setting → names in it
    for (Node& node : nodes) {
        const Part& own = *recipe.parts[node.part];
        std::set<std::pair<std::string, std::string>> seen;  // part it is seen from, and name
        std::vector<std::pair<std::string, std::string>> open;
        for (std::string& name : names_of(*own.steps[node.step], "")) open.emplace_back(own.name, std::move(name));
        std::set<int> measured;
        while (!open.empty()) {
            const auto [from, name] = std::move(open.back());
            open.pop_back();
            if (name.find('.') == std::string::npos || !seen.emplace(from, name).second) continue;
            const auto meant = resolver.meant(from, name);
            if (!meant) continue;
            if (meant->is_made()) {
                measured.insert(node_of(*meant->part, *meant->step));
                continue;
            }
            std::string key = meant->path.substr(0, meant->path.find('.'));
            if (!meant->step->settings.contains(key)) key.clear();  // a number worked out from all of them
            auto [known, fresh] = written.try_emplace({meant->step, key});
            if (fresh) known->second = names_of(*meant->step, key);
            for (const std::string& behind : known->second) open.emplace_back(meant->part->name, behind);
        }
        node.measured.assign(measured.begin(), measured.end());
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
        node.each_before([&](int source) { open.push_back(source); });
    }
    // Numbers and notes feed formulas, not inputs: those of a part that is needed count.
    for (std::size_t p = 0; p < behind.size(); ++p)
        if (std::ranges::find(behind[p], true) != behind[p].end())
            for (std::size_t s = 0; s < behind[p].size(); ++s)
                if (stands_aside(*recipe.parts[p]->steps[s])) behind[p][s] = true;
    return behind;
}

}  // namespace bricol
