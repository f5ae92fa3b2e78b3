// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <fmt/format.h>
#include <optional>
#include <unordered_set>

#include "core/catalogue/settings.h"
#include "core/ground/words.h"
#include "core/kernels/polygon_faults.h"

namespace bricol {

namespace {

struct PointsAndFaces {
    std::vector<DVec3> points;
    std::vector<std::vector<int>> faces;
    std::vector<std::vector<int>> edges;
};

/// What is wrong with a face that is made of points there are; empty when nothing is.
std::string fault_of(const std::vector<int>& face, const std::vector<DVec3>& points) {
    std::vector<DVec3> polygon;
    for (const int i : face) polygon.push_back(points[static_cast<std::size_t>(i)]);
    for (std::size_t i = 0; i < face.size(); ++i) {
        const std::size_t next = (i + 1) % face.size();
        if (glm::distance(polygon[i], polygon[next]) < 1e-9)
            return fmt::format("goes from point {} to point {} in the same place", face[i], face[next]);
    }
    const auto normal = square_to(polygon);
    if (!normal) return "has no area: its points lie in one line";
    if (sides_cross(polygon, *normal)) return "crosses itself: put its points in the order they go round";
    return {};
}

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
        std::unordered_set<int> seen;
        for (std::size_t i = 0; i < faces[f].size(); ++i) {
            if (faces[f][i] == no_number) {  // told where it was read
                good = false;
                continue;
            }
            if (faces[f][i] < 0 || faces[f][i] >= count) {
                complain(fmt::format("Face {} asks for point {}, but there are points 0 to {} only.", f, faces[f][i],
                                     count - 1));
                good = false;
            }
            if (!seen.insert(faces[f][i]).second) {
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
        if (const std::string fault = fault_of(faces[f], points); !fault.empty()) {
            complain(fmt::format("Face {} {}.", f, fault));
            continue;
        }
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
    std::vector<std::uint8_t> used(points.size(), faces.empty() && edges.empty());
    for (const auto* lists : {&faces, &edges})
        for (const auto& list : *lists)
            for (const int i : list)
                if (i >= 0 && i < count) used[static_cast<std::size_t>(i)] = 1;
    if (const auto idle = std::ranges::count(used, 0); idle > 0 && !run.failed()) {
        Finding& finding =
            run.tell(Severity::caution, "loose-points",
                     fmt::format("{} to no face and no edge; the first is point {}.",
                                 counted(static_cast<std::size_t>(idle), "point belongs", "points belong"),
                                 std::ranges::find(used, 0) - used.begin()));
        for (std::size_t i = 0; i < used.size(); ++i)
            if (!used[i]) finding.places.emplace_back(points[i]);
    }
    if (problems > 5) run.tell(Severity::error, "bad-value", fmt::format("{} more like these.", problems - 5));
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
