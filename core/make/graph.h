// SPDX-License-Identifier: GPL-3.0-or-later
// All steps of all parts of a recipe as one graph of what feeds what.
#pragma once

#include <unordered_map>

#include "core/catalogue/finding.h"
#include "core/recipe/recipe.h"

namespace bricol {

/// One step of one part as a node of the whole recipe's graph.
struct Node {
    std::size_t part, step;
    std::vector<std::pair<std::string, int>> sources;  ///< input → node
    std::vector<int> measured;                         ///< nodes whose shapes its formulas ask for numbers of
    std::vector<Finding> link_findings;                ///< links that lead nowhere
    std::vector<int> followers;
    int waiting = 0;  ///< sources and measured nodes that are not settled yet

    /// Everything that has to be made before it.
    void each_before(const auto& f) const {
        for (const auto& [input, source] : sources) f(source);
        for (const int node : measured) f(node);
    }
};

struct Graph {
    explicit Graph(const Recipe& recipe);

    std::vector<Node> nodes;
    std::vector<std::vector<int>> of_step;  ///< part → step → node

    /// The node of a part's result; -1 when it has no steps, -2 when there is no such part.
    int result_of(const Recipe& recipe, const std::string& part) const;

private:
    void link(const Recipe& recipe, Node& node);
    void look_for_measured(const Recipe& recipe);
    void connect(const Recipe& recipe, Node& node, const std::string& input, const std::string& source);
    std::vector<std::unordered_map<std::string, int>> by_id_;
};

/// Which steps the results of these parts come from, other parts' included; as part → step. No part named means all
/// parts that are shown.
std::vector<std::vector<bool>> steps_behind(const Recipe& recipe, const std::vector<std::string>& parts);

}  // namespace bricol
