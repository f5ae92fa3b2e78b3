// SPDX-License-Identifier: GPL-3.0-or-later
// What is measured and told of a part's result as a whole.
#include <algorithm>
#include <fmt/format.h>
#include <set>

#include "core/kernels/boolean.h"
#include "core/kernels/pieces.h"
#include "core/make/making.h"
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

/// Closed pieces that lie wholly inside another: they are seen by nobody, and the volume counts them twice.
void tell_nested(PartOutcome& outcome) {
    const Mesh& mesh = outcome.shape->mesh;
    const std::vector<MeshPiece> pieces = pieces_of(mesh);
    if (pieces.size() > 3000) return;  // every one with every other
    std::size_t nested = 0, looked_at = 0;
    constexpr std::size_t most = 20'000'000;  // faces times points, some seconds
    Vec3 where(0);
    for (const MeshPiece& inner : pieces)
        for (const MeshPiece& outer : pieces) {
            if (&inner == &outer || inner.volume <= 0 || outer.volume <= inner.volume) continue;
            if (!glm::all(glm::lessThanEqual(outer.box.low, inner.box.low)) ||
                !glm::all(glm::lessThanEqual(inner.box.high, outer.box.high)))
                continue;
            // Every point must be inside: of one that only crosses the wall some are not.
            std::vector<Index> corners;
            for (const Index f : inner.faces) corners.push_back(mesh.topology->face(f)[0]);
            if ((looked_at += corners.size() * outer.faces.size()) > most) continue;
            if (std::ranges::all_of(corners, [&](Index v) {
                    return winding_number(mesh, outer.faces, DVec3((*mesh.positions)[v])) > 0.75;
                })) {
                where = (*mesh.positions)[corners[0]];
                ++nested;
                break;
            }
        }
    if (nested > 0)
        outcome.findings.push_back(
            {Severity::note,
             "nested",
             fmt::format("{} wholly inside another, unseen; the volume counts {} twice.",
                         counted(nested, "closed piece lies", "closed pieces lie"), nested == 1 ? "it" : "them"),
             {},
             {where}});
}

/// Closed pieces that stand in one another: what lies in both is counted twice by the volume.
void look_for_overlap(PartOutcome& outcome, const FacePairs& pairs) {
    const Mesh& mesh = outcome.shape->mesh;
    const Topology& t = *mesh.topology;
    if (!outcome.measures.closed || outcome.measures.pieces < 2) return;
    tell_nested(outcome);
    if (pairs.empty()) return;
    DisjointSets pieces = connected(mesh);
    const auto piece = [&](Index f) { return pieces.root(t.face(f)[0]); };
    std::set<std::array<Index, 2>> overlapping;
    Vec3 where(0);
    for (const auto& [a, b] : pairs)
        if (piece(a) != piece(b)) {
            overlapping.insert({std::min(piece(a), piece(b)), std::max(piece(a), piece(b))});
            where = (*mesh.positions)[t.face(a)[0]];
        }
    if (overlapping.empty()) return;
    outcome.findings.push_back(
        {Severity::note,
         "overlap",
         fmt::format(
             "{} of closed pieces cross one another; what lies in two is counted twice in the volume. A Boolean "
             "makes one piece of them.",
             counted(overlapping.size(), "pair")),
         {},
         {where}});
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
    if (m.faces > 0 && !thorough) {
        outcome->not_looked_for = "faces that cross one another (check looks for them, and make --thorough)";
    } else if (mesh.face_count() > most_faces_looked_through) {
        outcome->not_looked_for =
            fmt::format("faces that cross one another: the shape has more than {} faces", most_faces_looked_through);
    } else if (mesh.face_count() > 0) {
        const FacePairs crossing = crossing_faces(mesh, 20000);
        look_for_overlap(*outcome, crossing);
        if (const auto pairs = within_pieces(mesh, crossing); !pairs.empty()) {
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
    }
    if (thorough && m.instances > 0 && outcome->not_looked_for.empty())
        outcome->not_looked_for = "faces that cross one another in copies (Real geometry makes faces of them)";
    if (recipe.budget > 0 && m.faces > recipe.budget)
        find(Severity::caution, "over-budget",
             fmt::format("{} faces, {} more than the budget of {}.", m.faces, m.faces - recipe.budget, recipe.budget));
    if (result) memory.keep_part(key, outcome);
    return outcome;
}

}  // namespace bricol
