// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>

#include <algorithm>

#include "core/steps/shared/deformer.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Lattice {
    enum class Between { smooth, straight };
    DVec3 counts{2, 2, 2};
    std::vector<Place> points;
    Between between = Between::smooth;
    std::string only;
};

void run_lattice(const Lattice& s, StepRun& run) {
    const auto box = box_of(run.shape());
    if (!box) return;
    const DVec3 counts = s.counts;
    std::array<int, 3> n{};
    for (int i = 0; i < 3; ++i) n[i] = static_cast<int>(std::clamp(std::round(counts[i]), 2.0, 16.0));
    std::vector<DVec3> moves(static_cast<std::size_t>(n[0]) * n[1] * n[2], DVec3(0));
    std::size_t outside = 0;
    for (const Place& place : s.points) {
        std::array<long, 3> at{};
        bool inside = true;
        for (int i = 0; i < 3; ++i) {
            at[i] = std::lround(place.at[i]);
            inside &= at[i] >= 0 && at[i] < n[i];
        }
        if (inside)
            moves[static_cast<std::size_t>((at[2] * n[1] + at[1]) * n[0] + at[0])] += place.move;
        else
            ++outside;
    }
    if (outside > 0)
        run.tell(Severity::caution, "outside-cage",
                 fmt::format("{} moved point{} outside the cage of {} × {} × {} and ignored.", outside,
                             outside == 1 ? " is" : "s are", n[0], n[1], n[2]));
    give_deformed(run, s.only, lattice_map(*box, n, std::move(moves), s.between == Lattice::Between::smooth));
}

const StepOf<Lattice> lattice_step(
    StepInfo{
        .key = "lattice",
        .name = "Lattice",
        .family = Family::bend,
        .purpose = "Deforms a shape with a cage of control points.",
        .words = "cage free form deformation control box",
        .help =
            "The cage surrounds the shape's box. Every control point, counted from 0 along x, y and z, may be moved; "
            "the shape follows smoothly or in straight pieces.",
        .glyph = "M4 6 L12 4 L20 7 M4 12 L12 10 L20 12 M4 18 L12 20 L20 18 M4 6v12 M12 4v16 M20 7v11",
        .gives = 0,
        .inputs = {{"shape", "Shape", deformable, true}},
        .telling = "{counts}"},
    {vector_of(&Lattice::counts, "counts", "Points", Quantity::count, "Control points along x, y and z, 2 to 16."),
     cage_of(&Lattice::points, "points", "Moved points", "counts",
             "Control points and how far each is moved: { \"point\": [i, j, k], \"move\": [x, y, z] }."),
     choice_of(&Lattice::between, "between", "Between",
               {{Lattice::Between::smooth, "smooth", "smooth"}, {Lattice::Between::straight, "straight", "straight"}},
               "How the shape follows."),
     only_of(&Lattice::only, "Moves only the points of this set.")},
    run_lattice);

}  // namespace

}  // namespace bricol
