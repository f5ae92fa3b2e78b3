// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/point_shares.h"

#include <fmt/format.h>

#include "core/kernels/numbers_on.h"
#include "core/kernels/stand_ins.h"
#include "core/shape/sets.h"

namespace bricol {

namespace {

/// One kind of point that a shape has, as points.
struct PointKind {
    Mesh points;
    Domain on;
};

/// Those the shape has, vertices first.
std::vector<PointKind> kinds_of(const Shape& shape) {
    std::vector<PointKind> out;
    if (!shape.mesh.empty()) out.push_back({shape.mesh, Domain::vertex});
    if (!shape.curves.empty()) out.push_back({points_of_knots(shape.curves), Domain::knot});
    if (!shape.instances.empty()) out.push_back({points_of_copies(shape.instances), Domain::instance});
    return out;
}

void tell_staying(StepRun& run, Domain on, const std::string& name) {
    const bool mesh = on == Domain::vertex;
    run.tell(Severity::note,
             mesh                 ? "mesh-stays"
             : on == Domain::knot ? "knots-stay"
                                  : "copies-stay",
             fmt::format("{} no “{}” here: {}.",
                         mesh                 ? "The mesh carries"
                         : on == Domain::knot ? "Knots carry"
                                              : "Copies carry",
                         name, mesh ? "it stays" : "they stay"));
}

/// The members by kind; nothing for a kind that carries no such set.
std::vector<std::optional<Mask>> members_of(StepRun& run, const std::vector<PointKind>& kinds, const std::string& set) {
    std::vector<std::optional<Mask>> out;
    std::size_t carrier = kinds.size(), members = 0;
    for (std::size_t k = 0; k < kinds.size(); ++k) {
        out.push_back(set_members(kinds[k].points, Domain::vertex, set));
        if (!out[k]) continue;
        carrier = std::min(carrier, k);
        members += count_of(*out[k]);
    }
    if (kinds.empty()) return out;
    const bool unknown = carrier == kinds.size();
    if (unknown || members == 0) {
        const PointKind& first = kinds[unknown ? 0 : carrier];
        run.chosen(first.points, Domain::vertex, set, first.on);  // tells
    } else {
        for (std::size_t k = 0; k < kinds.size(); ++k)
            if (!out[k]) tell_staying(run, kinds[k].on, set);
    }
    return out;
}

}  // namespace

ChosenPoints chosen_points(StepRun& run, const Shape& shape, const std::string& only) {
    ChosenPoints out;
    if (only.empty()) return out;
    const std::vector<PointKind> kinds = kinds_of(shape);
    std::vector<std::optional<Mask>> members = members_of(run, kinds, only);
    for (std::size_t k = 0; k < kinds.size(); ++k)
        (kinds[k].on == Domain::vertex ? out.vertices
         : kinds[k].on == Domain::knot ? out.knots
                                       : out.copies) =
            members[k] ? Selection(std::move(*members[k])) : Selection::none();
    return out;
}

PointShares point_shares(StepRun& run, const Shape& shape, const std::string& weight, const std::string& only) {
    Shape points = shape;
    points.instances.clear();
    const std::vector<PointKind> kinds = kinds_of(points);
    const std::vector<std::optional<Mask>> members =
        only.empty() ? std::vector<std::optional<Mask>>(kinds.size()) : members_of(run, kinds, only);
    std::vector<std::optional<Array<float>>> values;
    for (const PointKind& kind : kinds)
        values.push_back(weight.empty() ? Array<float>(kind.points.vertex_count(), 1.0f)
                                        : numbers_on(kind.points, Domain::vertex, weight));
    const bool unknown = std::ranges::none_of(values, [](const auto& found) { return found.has_value(); });
    if (unknown && !kinds.empty()) run.weights(kinds.front().points, Domain::vertex, weight);  // tells
    PointShares out;
    for (std::size_t k = 0; k < kinds.size(); ++k) {
        Array<float>& share = kinds[k].on == Domain::vertex ? out.vertices : out.knots;
        share.assign(kinds[k].points.vertex_count(), 0.0f);
        if (!values[k] && !unknown) tell_staying(run, kinds[k].on, weight);
        if (!values[k] || (!only.empty() && !members[k])) continue;
        for (std::size_t i = 0; i < share.size(); ++i)
            if (!members[k] || (*members[k])[i]) share[i] = (*values[k])[i];
    }
    return out;
}

}  // namespace bricol
