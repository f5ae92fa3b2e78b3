// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/simplify.h"

#include <cmath>
#include <fmt/format.h>

#include "core/kernels/triangulate.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Simplify {
    enum class To { share, count };
    To to = To::share;
    double share = 0.5;
    int count = 1000;
    double error = 0.05;
    bool even = false;
    bool hold_borders = true;
    std::string hold;
};

void run_simplify(const Simplify& s, StepRun& run) {
    Shape shape = run.shape();
    SimplifyOptions options;
    const std::size_t before = triangulated(shape.mesh).count();
    options.triangles = s.to == Simplify::To::share
                            ? static_cast<std::size_t>(std::llround(static_cast<double>(before) * s.share))
                            : static_cast<std::size_t>(s.count);
    options.error = s.error;
    options.hold_borders = s.hold_borders;
    options.even = s.even;
    const Ties& ties = shape.mesh.topology->ties();
    if (s.even && ties.non_manifold_edges + ties.turned_edges > 0)
        run.tell(Severity::caution, "not-even",
                 "Some edges have more than two faces, or faces that point opposite ways: there triangles cannot be "
                 "spread evenly, and are not. Join the mesh by a Boolean, or take the inner faces away first.");
    const Selection held = s.hold.empty() ? Selection::none() : Selection(run.chosen(shape.mesh, Domain::face, s.hold));
    shape.mesh = simplified(shape.mesh, options, held);
    if (shape.mesh.face_count() == 0) {
        run.tell(Severity::error, "nothing-left", "Nothing would be left. Keep more faces, or allow less deviation.");
        return;
    }
    if (shape.mesh.face_count() > options.triangles + options.triangles / 50 + 1)
        run.tell(Severity::note, "held-by-error",
                 fmt::format("{} triangles are left instead of {}: fewer would leave the form by more than the "
                             "deviation allows, or held borders stop it.",
                             shape.mesh.face_count(), options.triangles));
    run.give(std::move(shape));
}

const StepOf<Simplify> simplify_step(
    StepInfo{
        .key = "simplify",
        .name = "Simplify",
        .family = Family::faces,
        .purpose = "Fewer faces for nearly the same form.",
        .words = "decimate reduce lod polygon count budget optimise",
        .help =
            "Edges are collapsed where the form loses least, down to a share or a count of triangles. Borders and the "
            "faces of a set can be held as they are.",
        .glyph =
            "M3 5 L8 3 L11 8z M8 3 L14 5 L11 8 M3 5 L5 12 L11 8 M5 12 L12 14 L11 8 M14 5 L12 14 M14 10 L21 8 L16 20z",
        .gives = content_faces,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{to}"},
    {choice_of(&Simplify::to, "to", "To",
               {{Simplify::To::share, "share", "a share"}, {Simplify::To::count, "count", "a count"}},
               "What says how many triangles stay."),
     when(number_of(&Simplify::share, "share", "Share", 0, 1, "Of the triangles there are."), "to=share"),
     when(count_of(&Simplify::count, "count", "Triangles", 1, 20000000, 10000, "How many stay."), "to=count"),
     number_of(&Simplify::error, "error", "Deviation", 0, 1, "How far the form may change, as a share of its size."),
     toggle_of(&Simplify::even, "even", "Spread evenly",
               "Short edges go first, so that triangles stay alike; otherwise flat places lose most."),
     toggle_of(&Simplify::hold_borders, "hold_borders", "Hold borders", "Open borders keep every point."),
     set_of(&Simplify::hold, "hold", "Hold faces", "The faces of this set stay as they are.")},
    run_simplify);

}  // namespace

}  // namespace bricol
