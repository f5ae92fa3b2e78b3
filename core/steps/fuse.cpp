// SPDX-License-Identifier: GPL-3.0-or-later
// Fuse: closed shapes melted into one skin.
#include "core/kernels/fuse.h"

#include <array>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/kernels/measure.h"
#include "core/kernels/real_geometry.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct FuseSettings {
    enum class Kind { join, cut, common };
    enum class Smoothing { none, even, soft, edges };
    Kind kind = Kind::join;
    double cell = 0;
    double offset = 0;
    Smoothing smoothing = Smoothing::none;
    int rounds = 2;
    bool sharp = false;
};

/// The meshes to fuse, in order; empty, and told, when one cannot be.
std::vector<Mesh> sources_of(StepRun& run) {
    std::vector<Mesh> out;
    for (const auto& [key, label] : {std::pair{"shape", "Mesh"}, {"with", "With"}, {"and", "And"}, {"also", "Also"}}) {
        const ShapePtr given = run.input_pointer(key);
        if (!given) continue;
        const ShapePtr real = real_geometry(given);
        if (real->mesh.face_count() == 0) {
            run.tell(
                real->empty() && key != std::string_view("shape") ? Severity::note : Severity::error, "empty-operand",
                fmt::format("“{}” has no faces, so there is nothing of it to fuse. Feed it a closed mesh.", label));
            if (run.failed()) return {};
            continue;
        }
        const Ties& ties = real->mesh.topology->ties();
        if (ties.border_edges > 0) {
            run.tell(Severity::error, "open",
                     fmt::format("“{}” is open ({} border edges), so nobody can say what is inside. Fill its holes or "
                                 "weld it first.",
                                 label, ties.border_edges));
            return {};
        }
        if (ties.non_manifold_edges > 0)
            run.tell(Severity::caution, "many-faces",
                     fmt::format("“{}” has {} with more than two faces; what they close off counts as inside.", label,
                                 counted(ties.non_manifold_edges, "edge")));
        out.push_back(real->mesh);
    }
    return out;
}

/// A hundredth of the longest side, in two digits, so that it does not move with every hair's breadth.
double fitting_cell(const Box& box) {
    const double side = std::max({box.size().x, box.size().y, box.size().z}) / 100;
    if (!(side > 0)) return 0.01;
    const double step = std::pow(10, std::floor(std::log10(side)) - 1);
    return std::round(side / step) * step;
}

/// Of the thinnest wall that the cells cannot hold: the cells it needs, or, where those would not fit, how thick it
/// must be.
void tell_thin_walls(const std::vector<Mesh>& meshes, double area, const FuseOptions& options, double most_memory,
                     StepRun& run) {
    for (const Mesh& mesh : meshes) {
        const ThinnestWall wall = thinnest_wall(mesh);
        if (wall.thickness >= 1.5 * options.cell) continue;
        FuseOptions finer = options;
        finer.cell = wall.thickness / 1.5;
        const FuseCost cost = fuse_cost(area, finer);
        const bool fits = cost.bytes < most_memory && cost.faces < most_faces * run.raise_bounds;
        run.tell(Severity::caution, "too-coarse",
                 fmt::format("A wall is {} thick, less than the cells of {} can hold. {}",
                             rounded_length(wall.thickness), rounded_length(options.cell),
                             fits ? fmt::format("It needs cells of {} or less.", rounded_length(finer.cell, 2))
                                  : fmt::format("Cells that hold it would not fit in memory: make it {} thick there, "
                                                "or leave it out of what is fused.",
                                                rounded_length(1.6 * options.cell, 2))))
            .places.emplace_back(wall.where);
        return;
    }
}

void run_fuse(const FuseSettings& s, StepRun& run) {
    const std::vector<Mesh> meshes = sources_of(run);
    if (run.failed() || meshes.empty()) return;
    if (s.kind != FuseSettings::Kind::join && meshes.size() == 1)
        run.tell(Severity::caution, "one-shape", "There is one shape only, so there is nothing to cut with or share.");
    double area = 0;
    Box box = Box::nothing();
    for (const Mesh& mesh : meshes) {
        Shape one;
        one.mesh = mesh;
        area += measured(one).area;
        const auto own = box_of(one);
        box.low = glm::min(box.low, own->low), box.high = glm::max(box.high, own->high);
    }
    FuseOptions options;
    options.kind = static_cast<FuseKind>(s.kind);
    options.cell = s.cell > 0 ? s.cell : fitting_cell(box);
    options.offset = s.offset;
    options.smoothing = static_cast<FuseSmoothing>(s.smoothing);
    options.rounds = s.rounds;
    options.sharp = s.sharp && options.smoothing == FuseSmoothing::none;
    const FuseCost cost = fuse_cost(area, options);
    const double most_memory = 2e9 * run.raise_bounds;
    if (!(cost.bytes < most_memory) || !(cost.faces < most_faces * run.raise_bounds)) {
        const double larger =
            options.cell * std::sqrt(std::max(cost.bytes / most_memory, cost.faces / (most_faces * run.raise_bounds)));
        run.tell(
            Severity::error, "too-fine",
            fmt::format("Cells of {} would be {:.2g} million in {:.2g} GB and make {:.2g} million faces. Use cells of "
                        "{} or more.",
                        rounded_length(options.cell), cost.cells / 1e6, cost.bytes / 1e9, cost.faces / 1e6,
                        rounded_length(1.02 * larger, 2)));
        return;
    }
    tell_thin_walls(meshes, area, options, most_memory, run);
    FuseResult result = fused(meshes, options);
    if (result.empty) {
        run.tell(Severity::error, "nothing-left",
                 options.kind == FuseKind::join
                     ? "Nothing is left: everything is thinner than the cells, or lies outside the offset."
                     : "Nothing is left of the shapes. Turn them round, or look whether they meet.");
        return;
    }
    run.tell(Severity::note, "cells",
             fmt::format("Cells of {}: {:.2g} million of them, some {:.0f} MB, {}.", rounded_length(options.cell),
                         cost.cells / 1e6, std::max(1.0, cost.bytes / 1e6), counted(result.mesh.face_count(), "face")));
    run.give(std::move(result.mesh));
}

const StepOf<FuseSettings> fuse_step(
    StepInfo{
        .key = "fuse",
        .name = "Fuse",
        .family = Family::faces,
        .purpose = "Melts closed shapes into one skin through a field of small cells.",
        .words = "voxel merge melt blend union volume remesh clay metaball smooth",
        .help = "Pieces may overlap and cross one another however they like. The cells' size says how fine the skin is "
                "and what it costs: half the size is four times the faces. Smoothing rounds off where shapes meet. "
                "Materials and values come from the nearest of the shapes. Follow it with Remesh to make it light.",
        .glyph = "M8 19 A5 5 0 1 1 9 9.2 A4.5 4.5 0 1 1 16.5 12 A4 4 0 1 1 15 19.5 C13 18 11 18 8 19",
        .gives = content_faces,
        .inputs = {{"shape", "Mesh", content_faces | content_instances, true},
                   {"with", "With", content_any, false},
                   {"and", "And", content_any, false},
                   {"also", "Also", content_any, false}},
        .telling = "{cell}"},
    {choice_of(&FuseSettings::kind, "kind", "Kind",
               {{FuseSettings::Kind::join, "join", "join"},
                {FuseSettings::Kind::cut, "cut", "cut the others out"},
                {FuseSettings::Kind::common, "common", "what they share"}},
               "What becomes of the shapes."),
     length_of(&FuseSettings::cell, "cell", "Cell", 0, 0.1,
               "Side of a cell. 0 fits it: a hundredth of the longest side."),
     offset_of(&FuseSettings::offset, "offset", "Offset", "How far out the skin lies; negative for within."),
     choice_of(
         &FuseSettings::smoothing, "smoothing", "Smoothing",
         {{FuseSettings::Smoothing::none, "none", "none"},
          {FuseSettings::Smoothing::even, "even", "even"},
          {FuseSettings::Smoothing::soft, "soft", "soft"},
          {FuseSettings::Smoothing::edges, "edges", "keeping ridges"}},
         "How cells are evened out before the skin is laid: by the mean of their neighbours, the near ones more, or "
         "the middle one in order."),
     when(count_of(&FuseSettings::rounds, "rounds", "Rounds", 1, 20, 6, "How often the cells are evened out."),
          "smoothing=even|soft|edges"),
     when(toggle_of(&FuseSettings::sharp, "sharp", "Keep sharp edges",
                    "Puts corners and ridges of the shapes back where the cells cut them off."),
          "smoothing=none")},
    run_fuse);

}  // namespace

}  // namespace bricol
