// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct PointsAndFaces {
    std::vector<DVec3> points;
    std::vector<std::vector<int>> faces;
    std::vector<std::vector<int>> edges;
};

void run_points_and_faces(const PointsAndFaces& s, StepRun& run) {
    const auto& points = s.points;
    const auto& faces = s.faces;
    const auto& edges = s.edges;
    Array<Vec3> places;
    for (const DVec3& p : points) places.emplace_back(Vec3(p));
    const auto count = static_cast<int>(places.size());
    Array<Index> offsets, corners;
    std::size_t problems = 0;
    const auto complain = [&](std::string text) {
        if (problems++ < 5) run.tell(Severity::error, "bad-value", std::move(text));
    };
    for (std::size_t f = 0; f < faces.size(); ++f) {
        bool good = true;
        for (std::size_t i = 0; i < faces[f].size(); ++i) {
            if (faces[f][i] < 0 || faces[f][i] >= count) {
                complain(fmt::format("Face {} asks for point {}, but there are points 0 to {} only.", f, faces[f][i],
                                     count - 1));
                good = false;
            }
            for (std::size_t k = 0; k < i; ++k)
                if (faces[f][i] == faces[f][k]) {
                    complain(fmt::format("Face {} has point {} twice.", f, faces[f][i]));
                    good = false;
                }
        }
        if (faces[f].size() < 3) {
            complain(fmt::format("Face {} has {} point{}; a face needs three.", f, faces[f].size(),
                                 faces[f].size() == 1 ? "" : "s"));
            good = false;
        }
        if (!good) continue;
        if (offsets.empty()) offsets.push_back(0);
        for (const int i : faces[f]) corners.push_back(static_cast<Index>(i));
        offsets.push_back(static_cast<Index>(corners.size()));
    }
    std::vector<std::array<Index, 2>> loose;
    for (std::size_t e = 0; e < edges.size(); ++e) {
        if (edges[e].size() != 2 || edges[e][0] == edges[e][1] || edges[e][0] < 0 || edges[e][1] < 0 ||
            edges[e][0] >= count || edges[e][1] >= count) {
            complain(fmt::format("Edge {} needs two different points of 0 to {}.", e, count - 1));
            continue;
        }
        loose.push_back({static_cast<Index>(edges[e][0]), static_cast<Index>(edges[e][1])});
    }
    if (places.empty()) run.tell(Severity::note, "empty", "There are no points yet. Add rows of x, y and z.");
    run.give(Mesh(std::move(places),
                  make_topology(static_cast<Index>(count), std::move(offsets), std::move(corners), loose)));
}

const StepOf<PointsAndFaces> points_and_faces_step(
    StepInfo{
        .key = "points_and_faces",
        .name = "Points and faces",
        .family = Family::make,
        .purpose = "A mesh from listed points and the faces between them.",
        .words = "vertices indices polygon explicit list mesh plane script",
        .help = "Every number can be a formula, so that a few points sized by dials make a plane, a gable or a wedge. "
                "Points are numbered from 0; faces list them anticlockwise seen from outside.",
        .glyph = "M5 18 L12 5 L19 18z M5 18v.01 M3.5 18a1.5 1.5 0 1 0 3 0a1.5 1.5 0 1 0 -3 0z M10.5 5a1.5 1.5 0 1 0 3 "
                 "0a1.5 1.5 0 1 0 -3 0z M17.5 18a1.5 1.5 0 1 0 3 0a1.5 1.5 0 1 0 -3 0z",
        .gives = content_faces,
        .inputs = {},
        .telling = "{points}"},
    {kind_of(&PointsAndFaces::points, ParameterKind::points, "points", "Points", "A row of x, y and z for each point."),
     kind_of(&PointsAndFaces::faces, ParameterKind::lists, "faces", "Faces",
             "The numbers of each face's points, in order."),
     kind_of(&PointsAndFaces::edges, ParameterKind::lists, "edges", "Loose edges",
             "Pairs of points joined by an edge without a face.")},
    run_points_and_faces);

}  // namespace

}  // namespace bricol
