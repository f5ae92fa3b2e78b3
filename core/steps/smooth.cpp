// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/smooth.h"

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Smooth {
    int rounds = 5;
    double strength = 0.5;
    bool keep_volume = true;
    bool hold_borders = true;
    std::string only;
};

void run_smooth(const Smooth& s, StepRun& run) {
    Shape shape = run.shape();
    SmoothOptions options;
    options.rounds = s.rounds;
    options.strength = s.strength;
    options.keep_volume = s.keep_volume;
    options.hold_borders = s.hold_borders;
    Mesh mesh = smoothed(shape.mesh, options, run.selected(shape.mesh, Domain::vertex, s.only));
    shape.mesh = std::move(mesh);
    run.give(std::move(shape));
}

const StepOf<Smooth> smooth_step(
    StepInfo{
        .key = "smooth",
        .name = "Smooth",
        .family = Family::faces,
        .purpose = "Evens points out among their neighbours, without new faces.",
        .words = "relax laplacian taubin even soften",
        .help =
            "Every round moves points towards the middle of their neighbours; keeping the volume pushes them back out "
            "a little after each.",
        .glyph = "M3 14 L8 8 L12 13 L17 7 L21 12 M3 19 C8 14 16 18 21 16",
        .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
        .telling = "{rounds} rounds"},
    {count_of(&Smooth::rounds, "rounds", "Rounds", 0, 1000, 50, "How often all points move."),
     number_of(&Smooth::strength, "strength", "Strength", 0, 1, "How far a point goes in one round."),
     toggle_of(&Smooth::keep_volume, "keep_volume", "Keep the volume", "Without this the shape shrinks."),
     toggle_of(&Smooth::hold_borders, "hold_borders", "Hold borders", "Open borders stay where they are."),
     only_of(&Smooth::only, "Only the points of this set.")},
    run_smooth);

}  // namespace

}  // namespace bricol
