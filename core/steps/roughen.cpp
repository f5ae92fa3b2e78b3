// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/noise.h"
#include "core/steps/displace.h"

namespace bricol {

namespace {

void run_roughen(StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const Array<Vec3>& p = *mesh.positions;
    const Array<float> share = shares(run);
    NoiseOptions options;
    options.size = run.number("size");
    options.octaves = run.integer("octaves");
    options.roughness = run.number("roughness");
    options.seed = static_cast<std::uint32_t>(run.integer("seed"));
    options.offset = run.vector("offset");
    const auto height = run.real("height");
    Array<Vec3> points = p;
    std::vector<float> noise(p.size());
    if (run.word("way") == "space") {
        for (int axis = 0; axis < 3; ++axis) {
            NoiseOptions own = options;
            own.seed = options.seed * 3 + static_cast<std::uint32_t>(axis) + 1000003u;
            fractal_noise(p, own, noise, Instructions::widest, run.stop);
            for (std::size_t i = 0; i < p.size(); ++i) points[i][axis] += noise[i] * height * share[i];
        }
    } else {
        fractal_noise(p, options, noise, Instructions::widest, run.stop);
        const bool normals = run.word("way") == "normals";
        const Array<Vec3> ways = normals ? vertex_normals(mesh) : Array<Vec3>{};
        Vec3 fixed(0);
        if (!normals) fixed[run.axis("way")] = 1;
        const bool out_only = run.toggle("outwards");
        for (std::size_t i = 0; i < p.size(); ++i)
            points[i] += (normals ? ways[i] : fixed) * ((out_only ? std::abs(noise[i]) : noise[i]) * height * share[i]);
    }
    if (run.stopped()) return;
    give_moved(run, std::move(points));
}

const Registered roughen_step(StepInfo{
    .key = "roughen",
    .name = "Roughen",
    .family = Family::bend,
    .purpose = "Moves points by smooth noise, in layers from coarse to fine.",
    .words = "noise displace rough fractal perlin terrain rock bumps erode",
    .help = "The same seed gives the same bumps at the same place in space. Each layer is half as large as the one "
            "before and weaker by the roughness.",
    .glyph = "M3 15 L6 11 L8 14 L11 8 L13 13 L16 6 L18 12 L21 9 M3 19h18",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
    .parameters = {length_of("height", "Height", 0.05, 0, 1, "How far points move at most."),
                   length_of("size", "Size", 0.5, 1e-4, 5, "Width of the coarsest bumps."),
                   count_of("octaves", "Layers", 4, 1, 12, 8, "How many, each half as large."),
                   number_of("roughness", "Roughness", 0.5, 0, 1, "Strength of each layer beside the one before."),
                   seed_of(),
                   choice_of("way", "Along",
                             {{"normals", "their normals"}, {"x", "x"}, {"y", "y"}, {"z", "z"}, {"space", "every way"}},
                             "The direction of the bumps."),
                   toggle_of("outwards", "Outwards only", false, "Bumps without hollows, except every way."),
                   vector_of("offset", "Offset", Quantity::length, {0, 0, 0},
                             "Slides the pattern, for instance by the frame."),
                   attribute_of("weight", "By weight", "", "An attribute that says how much, from 0 to 1."),
                   only_of("Only the points of this set.")},
    .telling = "{height}",
    .make = run_roughen});

}  // namespace

}  // namespace bricol
