// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remesh.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/formula/units.h"
#include "core/ground/words.h"
#include "core/kernels/quads.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Remesh {
    enum class Faces { triangles, quads };
    enum class To { length, share, count };
    Faces faces = Faces::triangles;
    To to = To::length;
    double edge = 0;
    double share = 0.25;
    int count = 2000;
    RemeshSizes::By sizes = RemeshSizes::By::even;
    double range = 2;
    std::string size;
    int rounds = 3;
    bool hold_sharp = true;
    double angle = 60;
    bool hold_borders = false;
    std::string hold;
};

/// What one face of the wanted side covers, in squares of that side: a square, or a triangle of equal sides.
double squares_a_face(const Remesh& s) { return s.faces == Remesh::Faces::quads ? 1 : std::sqrt(3.0) / 4; }

/// The wanted length of edges (metres).
double wanted_edge(const Remesh& s, const RemeshExtent& extent, const Mesh& mesh) {
    if (s.to == Remesh::To::length) return s.edge > 0 ? s.edge : extent.fitting_edge();
    const double count =
        s.to == Remesh::To::count ? s.count : std::max(s.share * static_cast<double>(mesh.face_count()), 1.0);
    return std::sqrt(extent.area / (count * squares_a_face(s)));
}

/// Numbers above 0 for sizes by an attribute; empty, and told, when it has others.
Array<float> given_sizes(const Remesh& s, const Mesh& mesh, StepRun& run) {
    if (s.size.empty()) {
        run.tell(Severity::caution, "no-attribute",
                 "Sizes are to follow an attribute, but none is named; they are even.");
        return {};
    }
    Array<float> sizes = run.weights(mesh, Domain::vertex, s.size);
    const auto none = std::ranges::count_if(sizes, [](float size) { return !(size > 0); });
    if (static_cast<std::size_t>(none) < sizes.size()) {
        if (none > 0)
            run.tell(Severity::caution, "sizes-below-zero",
                     fmt::format("“{}” is 0 or less at {}; faces there are as small as they may be. Give every point a "
                                 "number above 0.",
                                 s.size, counted(static_cast<std::size_t>(none), "point")));
        return sizes;
    }
    run.tell(
        Severity::caution, "no-sizes",
        fmt::format("“{}” is 0 or less everywhere, so sizes are even. Give it numbers above 0: 2 for faces twice as "
                    "wide as where it is 1.",
                    s.size));
    return {};
}

void tell_triangles_left(const QuadResult& made, StepRun& run) {
    if (made.triangles > 0)
        run.tell(Severity::note, "some-triangles",
                 fmt::format("{} and {}: where the lines of faces do not meet, triangles stay.",
                             counted(made.quads, "quad"), counted(made.triangles, "triangle")));
}

void tell_edge_lost(const QuadResult& made, StepRun& run) {
    if (made.worst_edge <= 0.15 * made.cell) return;
    Finding& finding = run.tell(Severity::caution, "edge-not-held",
                                fmt::format("A held edge is bent more than faces of {} can follow: it is left by up to "
                                            "{}. Ask for more faces.",
                                            rounded_length(made.cell, 2), rounded_length(made.worst_edge, 2)));
    finding.places.push_back(Vec3(made.worst_at));
}

void tell_crossing(const QuadResult& made, StepRun& run) {
    if (made.crossing == 0) return;
    run.tell(Severity::caution, "quads-cross",
             fmt::format("{} of the new faces cross one another: the form is finer there than faces of {}, or crosses "
                         "itself. Ask for more faces, or for smaller ones by curvature.",
                         counted(made.crossing, "pair"), rounded_length(made.cell, 2)));
}

Mesh made_quads(const Remesh& s, double edge, double area, std::span<const Index> held, const RemeshSizes& sizes,
                const Mesh& mesh, StepRun& run) {
    QuadOptions options;
    options.faces = area / (edge * edge);
    options.hold_angle = s.hold_sharp ? s.angle : 180;
    options.held_edges = held;
    options.sizes = sizes;
    QuadResult made = quad_remeshed(mesh, options);
    if (made.refused) return {};
    tell_triangles_left(made, run);
    tell_edge_lost(made, run);
    tell_crossing(made, run);
    return std::move(made.mesh);
}

void run_remesh(const Remesh& s, StepRun& run) {
    Shape shape = run.shape();
    const Mesh& mesh = shape.mesh;
    const RemeshExtent extent = remesh_extent(mesh);
    if (!(extent.area > 1e-12 * extent.thinnest * extent.thinnest) || extent.longest.front() <= 0) {
        run.tell(Severity::error, "no-area",
                 "The faces have no area, so there is nothing to lay even ones on. Look for a size of zero above.");
        return;
    }
    const bool quads = s.faces == Remesh::Faces::quads;
    const double edge = wanted_edge(s, extent, mesh);
    // Quads stand on triangles some fifteen times as many.
    if (run.too_many(quads ? extent.faces(edge / quad_fineness) : extent.faces(edge), quads ? 6e6 : 2e6,
                     quads ? "triangles below the quads" : "faces", "Use longer edges, or fewer faces."))
        return;
    std::vector<Index> held;
    if (!s.hold.empty()) {
        const Mask mask = run.chosen(mesh, Domain::edge, s.hold);
        for (Index e = 0; e < mask.size(); ++e)
            if (mask[e]) held.push_back(e);
    }
    RemeshSizes sizes{s.sizes, s.range, {}};
    Array<float> given;
    if (s.sizes == RemeshSizes::By::given) {
        given = given_sizes(s, mesh, run);
        if (given.empty()) sizes.by = RemeshSizes::By::even;
        sizes.given = given;
    }
    RemeshOptions options;
    options.edge = edge;
    options.rounds = s.rounds;
    options.hold_angle = s.hold_sharp ? s.angle : 180;
    options.hold_borders = s.hold_borders;
    bool refused = false;
    Mesh made;
    if (quads) {
        made = made_quads(s, edge, extent.area, held, sizes, mesh, run);
        refused = made.face_count() == 0;
    } else {
        RemeshResult result = remeshed(mesh, options, held, sizes);
        refused = result.refused;
        made = std::move(result.mesh);
    }
    if (refused) {
        run.tell(Severity::error, "not-manifold",
                 "Some edges have more than two faces or faces that point opposite ways, so the mesh cannot be "
                 "remeshed. Join it by a Boolean or take the inner faces away first.");
        return;
    }
    if (made.face_count() == 0) {
        run.tell(Severity::error, "edges-too-long",
                 "The edges are longer than the shape, so nothing would be left. Use shorter ones.");
        return;
    }
    if (s.to == Remesh::To::length && s.edge == 0)
        run.tell(
            Severity::note, "fitted-length",
            fmt::format("Edges of {} were fitted to the shape and make {}.", format_value(edge, Quantity::length, "m"),
                        counted(made.face_count(), quads ? "face" : "triangle")));
    shape.mesh = std::move(made);
    run.give(std::move(shape));
}

const StepOf<Remesh> remesh_step(
    StepInfo{
        .key = "remesh",
        .name = "Remesh",
        .family = Family::faces,
        .purpose = "Even triangles or quads over the same form.",
        .words = "retopology isotropic uniform triangulate regular resample quads quadrangulate",
        .help =
            "After booleans, cuts or a fuse. Triangles: long edges are split, short ones joined, and points spread "
            "evenly on the old surface. Quads: their edges follow the curvature, sharp edges, borders and the edges "
            "of a set; a few triangles may stay. Closed shapes stay closed. Values on points and faces are taken "
            "over from the nearest place.",
        .glyph =
            "M3 6 L9 4 L15 6 L21 4 M3 6 L6 12 L9 4 M6 12 L12 12 L15 6 L9 4 L12 12 M12 12 L18 12 L21 4 L15 6 L18 12 M6 "
            "12 L9 20 L12 12 L15 20 L18 12 M9 20h6",
        .gives = content_faces,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{faces}"},
    {choice_of(&Remesh::faces, "faces", "Faces",
               {{Remesh::Faces::triangles, "triangles", "triangles"}, {Remesh::Faces::quads, "quads", "quads"}},
               "What the form is covered with."),
     choice_of(&Remesh::to, "to", "To",
               {{Remesh::To::length, "length", "an edge length"},
                {Remesh::To::share, "share", "a share"},
                {Remesh::To::count, "count", "a count"}},
               "What says how large faces are. Shares and counts are met nearly."),
     when(length_of(&Remesh::edge, "edge", "Edge length", 0, 1,
                    "What every edge comes near to. 0 fits it to the shape: some 4 000 triangles."),
          "to=length"),
     when(number_of(&Remesh::share, "share", "Share", 0, 1, "Of the faces there are."), "to=share"),
     when(count_of(&Remesh::count, "count", "Faces", 4, 2000000, 20000, "About how many there will be."), "to=count"),
     choice_of(&Remesh::sizes, "sizes", "Sizes",
               {{RemeshSizes::By::even, "even", "even"},
                {RemeshSizes::By::curvature, "curvature", "by curvature"},
                {RemeshSizes::By::given, "attribute", "by an attribute"}},
               "Whether faces are alike, smaller where the form bends, or as wide as an attribute says."),
     when(number_of(&Remesh::range, "range", "Smaller by", 1, 8,
                    "How many times smaller faces get in the tightest bends."),
          "sizes=curvature"),
     when(attribute_of(&Remesh::size, "size", "Size", "A number per point: 2 is twice as wide as 1."),
          "sizes=attribute"),
     when(count_of(&Remesh::rounds, "rounds", "Rounds", 1, 50, 10, "More give evener triangles."), "faces=triangles"),
     toggle_of(&Remesh::hold_sharp, "hold_sharp", "Hold sharp edges", "Ridges stay where they are."),
     when(angle_of(&Remesh::angle, "angle", "Sharper than", 1, 180, "How far the two faces of an edge turn."),
          "hold_sharp"),
     set_of(&Remesh::hold, "hold", "Hold edges", "The edges of this set stay in place, however flat they are."),
     when(toggle_of(&Remesh::hold_borders, "hold_borders", "Hold borders",
                    "Points of open borders stay as they are; otherwise borders are cut evenly too."),
          "faces=triangles")},
    run_remesh);

}  // namespace

}  // namespace bricol
