// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/noise.h"
#include "core/kernels/normals.h"
#include "core/steps/shared/point_shares.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Roughen {
    enum class Way { x, y, z, normals, space };
    double height = 0.05;
    double size = 0.5;
    int octaves = 4;
    double roughness = 0.5;
    int seed = 1;
    Way way = Way::normals;
    bool outwards = false;
    DVec3 offset{0, 0, 0};
    std::string weight;
    std::string only;
};

void run_roughen(const Roughen& s, StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    const Array<Vec3>& p = *mesh.positions;
    const Array<float> share = point_shares(run, run.shape(), s.weight, s.only).vertices;
    NoiseOptions options;
    options.size = s.size;
    options.octaves = s.octaves;
    options.roughness = s.roughness;
    options.seed = static_cast<std::uint32_t>(s.seed);
    options.offset = s.offset;
    const auto height = static_cast<float>(s.height);
    Array<Vec3> points = p;
    std::vector<float> noise(p.size());
    if (s.way == Roughen::Way::space) {
        for (int axis = 0; axis < 3; ++axis) {
            NoiseOptions own = options;
            own.seed = options.seed * 3 + static_cast<std::uint32_t>(axis) + 1000003u;
            fractal_noise(p, own, noise, Instructions::widest);
            for (std::size_t i = 0; i < p.size(); ++i) points[i][axis] += noise[i] * height * share[i];
        }
    } else {
        fractal_noise(p, options, noise, Instructions::widest);
        const bool normals = s.way == Roughen::Way::normals;
        const Array<Vec3> ways = normals ? vertex_normals(mesh) : Array<Vec3>{};
        Vec3 fixed(0);
        if (!normals) fixed[static_cast<int>(s.way)] = 1;
        const bool out_only = s.outwards;
        for (std::size_t i = 0; i < p.size(); ++i)
            points[i] += (normals ? ways[i] : fixed) * ((out_only ? std::abs(noise[i]) : noise[i]) * height * share[i]);
    }
    Shape shape = run.shape();
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

const StepOf<Roughen> roughen_step(
    StepInfo{
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
        .telling = "{height}"},
    {length_of(&Roughen::height, "height", "Height", 0, 1, "How far points move at most."),
     length_of(&Roughen::size, "size", "Size", 1e-4, 5, "Width of the coarsest bumps."),
     count_of(&Roughen::octaves, "octaves", "Layers", 1, 12, 8, "How many, each half as large."),
     number_of(&Roughen::roughness, "roughness", "Roughness", 0, 1, "Strength of each layer beside the one before."),
     seed_of(&Roughen::seed),
     choice_of(&Roughen::way, "way", "Along",
               {{Roughen::Way::normals, "normals", "their normals"},
                {Roughen::Way::x, "x", "x"},
                {Roughen::Way::y, "y", "y"},
                {Roughen::Way::z, "z", "z"},
                {Roughen::Way::space, "space", "every way"}},
               "The direction of the bumps."),
     toggle_of(&Roughen::outwards, "outwards", "Outwards only", "Bumps without hollows, except every way."),
     vector_of(&Roughen::offset, "offset", "Offset", Quantity::length,
               "Slides the pattern, for instance by the frame."),
     attribute_of(&Roughen::weight, "weight", "By weight", "An attribute that says how much, from 0 to 1."),
     only_of(&Roughen::only, "Only the points of this set.")},
    run_roughen);

}  // namespace

}  // namespace bricol
