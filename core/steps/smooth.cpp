// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/smooth.h"

#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_smooth(StepRun& run) {
    Shape shape = run.shape();
    SmoothOptions options;
    options.rounds = run.integer("rounds");
    options.strength = run.number("strength");
    options.keep_volume = run.toggle("keep_volume");
    options.hold_borders = run.toggle("hold_borders");
    options.stop = run.stop;
    Mesh mesh =
        smoothed(shape.mesh, options, run.word("only").empty() ? Mask{} : run.chosen(shape.mesh, Domain::vertex));
    if (run.stopped()) return;
    shape.mesh = std::move(mesh);
    run.give(std::move(shape));
}

const Registered smooth_step(StepInfo{
    .key = "smooth",
    .name = "Smooth",
    .family = Family::faces,
    .purpose = "Evens points out among their neighbours, without new faces.",
    .words = "relax laplacian taubin even soften",
    .help = "Every round moves points towards the middle of their neighbours; keeping the volume pushes them back out "
            "a little after each.",
    .glyph = "M3 14 L8 8 L12 13 L17 7 L21 12 M3 19 C8 14 16 18 21 16",
    .inputs = {{"shape", "Mesh", content_faces | content_edges, true}},
    .parameters = {count_of("rounds", "Rounds", 5, 0, 1000, 50, "How often all points move."),
                   number_of("strength", "Strength", 0.5, 0, 1, "How far a point goes in one round."),
                   toggle_of("keep_volume", "Keep the volume", true, "Without this the shape shrinks."),
                   toggle_of("hold_borders", "Hold borders", true, "Open borders stay where they are."),
                   only_of("Only the points of this set.")},
    .telling = "{rounds} rounds",
    .make = run_smooth});

}  // namespace

}  // namespace bricol
