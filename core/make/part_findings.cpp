// SPDX-License-Identifier: GPL-3.0-or-later
// What is measured and told of a part's result as a whole.
#include <algorithm>
#include <fmt/format.h>

#include "core/kernels/boolean.h"
#include "core/kernels/real_geometry.h"
#include "core/make/making.h"
#include "core/make/overlap_findings.h"
#include "core/ground/disjoint_sets.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

constexpr std::size_t most_faces_looked_through = 60000;

/// Which piece each vertex belongs to, as the number of one of its vertices.
DisjointSets connected(const Mesh& mesh) {
    DisjointSets pieces(mesh.vertex_count());
    for (const auto& [a, b] : mesh.topology->edges) pieces.join(a, b);
    return pieces;
}

using FacePairs = std::vector<std::array<Index, 2>>;

/// Of faces that cross one another those of one piece; pieces may stand in one another as they like.
FacePairs within_pieces(const Mesh& mesh, FacePairs pairs) {
    if (pairs.empty()) return pairs;
    const Topology& t = *mesh.topology;
    DisjointSets pieces = connected(mesh);
    std::erase_if(pairs,
                  [&](const auto& pair) { return pieces.root(t.face(pair[0])[0]) != pieces.root(t.face(pair[1])[0]); });
    return pairs;
}

/// Of the shape's own mesh and, once each, of those that stand in it as copies.
void tell_crossing_faces(PartOutcome& outcome) {
    std::size_t faces = 0, count = 0, in_copies = 0;
    std::vector<Vec3> places;
    for (const PlacedMesh& placed : placed_meshes(outcome.shape)) {
        const Mesh& mesh = placed.shape->mesh;
        if (mesh.face_count() == 0) continue;
        if ((faces += mesh.face_count()) > most_faces_looked_through) {
            outcome.not_looked_for =
                fmt::format("faces that cross one another beyond the first {} faces", most_faces_looked_through);
            break;
        }
        const FacePairs pairs = within_pieces(mesh, crossing_faces(mesh, 20000));
        count += pairs.size();
        if (placed.shape != outcome.shape) in_copies += pairs.size();
        for (std::size_t i = 0; i < pairs.size() && places.size() < 32; ++i) {
            Vec3 middle(0);
            for (const Index v : mesh.topology->face(pairs[i][0])) middle += (*mesh.positions)[v];
            middle /= static_cast<float>(mesh.topology->face(pairs[i][0]).size());
            places.emplace_back(placed.places[0] * Vec4(middle, 1));
        }
    }
    if (count == 0) return;
    outcome.findings.push_back(
        {Severity::caution,
         "crossing-faces",
         fmt::format("{} cross one another{}. Look at the marked places, and at the step whose number is too large for "
                     "them.",
                     counted(count, "pair of faces", "pairs of faces"),
                     in_copies == count ? " in what is copied"
                     : in_copies > 0    ? ", some in what is copied"
                                        : ""),
         {},
         std::move(places)});
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
    if (m.faces > 0 && !thorough)
        outcome->not_looked_for =
            "faces that cross one another, and overlaps (check looks for them, and make "
            "--thorough)";
    if (m.faces > 0 && thorough) {
        tell_crossing_faces(*outcome);
        tell_overlaps(*outcome);
    }
    if (recipe.budget > 0 && m.faces > recipe.budget)
        find(Severity::caution, "over-budget",
             fmt::format("{} faces, {} more than the budget of {}.", m.faces, m.faces - recipe.budget, recipe.budget));
    if (result) memory.keep_part(key, outcome);
    return outcome;
}

}  // namespace bricol
