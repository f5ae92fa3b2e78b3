// SPDX-License-Identifier: GPL-3.0-or-later
// What is measured and told of a part's result as a whole.
#include <fmt/format.h>

#include "core/kernels/boolean.h"
#include "core/make/making.h"
#include "core/ground/disjoint_sets.h"

namespace bricol {

namespace {

constexpr std::size_t most_faces_looked_through = 60000;

/// Faces of one piece that cross one another; pieces may stand in one another as they like.
std::vector<std::array<Index, 2>> crossings_within_pieces(const Mesh& mesh) {
    std::vector<std::array<Index, 2>> pairs = crossing_faces(mesh, 20000);
    if (pairs.empty()) return pairs;
    const Topology& t = *mesh.topology;
    DisjointSets pieces(t.vertex_count);
    for (const auto& [a, b] : t.edges) pieces.join(a, b);
    std::erase_if(pairs,
                  [&](const auto& pair) { return pieces.root(t.face(pair[0])[0]) != pieces.root(t.face(pair[1])[0]); });
    return pairs;
}

}  // namespace

std::shared_ptr<const PartOutcome> finished_part(ResultMemory& memory, const Recipe& recipe, const Part& part,
                                                 const StepOutcome* result, bool thorough) {
    const std::uint64_t key = result ? (result->hash ^ (recipe.budget * 0x9e3779b97f4a7c15ull)) + thorough : 0;
    if (result)
        if (auto known = memory.recall_part(key, result->shape)) return known;
    auto outcome = std::make_shared<PartOutcome>();
    outcome->shape = result ? result->shape : std::make_shared<const Shape>();
    if (const Step* step = result_step(part)) outcome->result_step = step->id;
    outcome->measures = measured(*outcome->shape);
    const Measures& m = outcome->measures;
    const auto find = [&](Severity severity, const char* code, std::string text) -> Finding& {
        outcome->findings.push_back({severity, code, std::move(text), {}, {}});
        return outcome->findings.back();
    };
    if (m.faces > 0 && !m.closed && m.border_edges > 0)
        find(Severity::note, "open",
             fmt::format("The shape is open: {} border edge{}. Fine for a sheet; a solid needs its borders closed.",
                         m.border_edges, m.border_edges == 1 ? "" : "s"));
    if (m.volume && *m.volume < 0) {
        find(Severity::caution, "inside-out", "The shape is inside out: its faces point inwards.").remedy =
            Remedy{"Turn the faces out", {}, "flip"};
    }
    if (m.non_manifold_edges > 0)
        find(Severity::caution, "non-manifold",
             fmt::format("{} edge{} shared by more than two faces.", m.non_manifold_edges,
                         m.non_manifold_edges == 1 ? " is" : "s are"));
    if (m.turned_edges > 0)
        find(Severity::caution, "turned-faces",
             fmt::format("Neighbouring faces point opposite ways along {} edges.", m.turned_edges));
    const Mesh& mesh = outcome->shape->mesh;
    if (thorough && mesh.face_count() <= most_faces_looked_through)
        if (const auto pairs = crossings_within_pieces(mesh); !pairs.empty()) {
            Finding& finding = find(Severity::caution, "crossing-faces",
                                    fmt::format("{} pair{} of faces cross one another. Look at the marked places, and "
                                                "at the step whose number is too large for them.",
                                                pairs.size(), pairs.size() == 1 ? "" : "s"));
            for (std::size_t i = 0; i < pairs.size() && i < 32; ++i) {
                Vec3 middle(0);
                for (const Index v : mesh.topology->face(pairs[i][0])) middle += (*mesh.positions)[v];
                finding.places.push_back(middle / static_cast<float>(mesh.topology->face(pairs[i][0]).size()));
            }
        }
    if (recipe.budget > 0 && m.faces > recipe.budget)
        find(Severity::caution, "over-budget",
             fmt::format("{} faces, {} more than the budget of {}.", m.faces, m.faces - recipe.budget, recipe.budget));
    if (result) memory.keep_part(key, outcome);
    return outcome;
}

}  // namespace bricol
