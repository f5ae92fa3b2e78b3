// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/choose.h"
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Nudge {
    std::vector<Place> places;
    DVec3 turn{0, 0, 0};
    DVec3 size{1, 1, 1};
    double soft = 0;
};

void run_nudge(const Nudge& s, StepRun& run) {
    Shape shape = run.shape();
    const std::vector<Place>& places = s.places;
    if (places.empty()) {
        run.tell(Severity::note, "nothing-picked", "Pick vertices, edges or faces in the view and pull them.");
        run.give(std::move(shape));
        return;
    }
    const Mesh& mesh = shape.mesh;
    const FoundPlaces found = found_places(mesh, places);
    const auto report = [&](const std::vector<std::size_t>& list, const char* code, const std::string& text) {
        if (list.empty()) return;
        Finding& finding = run.tell(Severity::caution, code, text);
        for (const std::size_t k : list) finding.places.push_back(Vec3(places[k].at));
    };
    report(found.lost, "lost-places",
           fmt::format("{} of {} moved places are no longer there, so their move is left out. Pick them again, or undo "
                       "what took them away.",
                       found.lost.size(), places.size()));
    report(found.doubtful, "doubtful-places",
           fmt::format("{} moved places could be either of two elements; the nearer one was taken. Check them.",
                       found.doubtful.size()));
    const Topology& t = *mesh.topology;
    Array<Vec3> points = *mesh.positions;
    std::vector<DVec3> sum(points.size(), DVec3(0));
    std::vector<DVec3> anchors(points.size());  // pulled vertices: how far each goes
    Mask pulled(points.size(), 0);
    DVec3 centre(0);
    std::size_t n = 0;
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Index element = found.element[k];
        if (element == no_index) continue;
        std::vector<Index> vertices;
        if (places[k].element == Domain::vertex) vertices = {element};
        if (places[k].element == Domain::edge) vertices.assign(t.edges[element].begin(), t.edges[element].end());
        if (places[k].element == Domain::face) vertices.assign(t.face(element).begin(), t.face(element).end());
        for (const Index v : vertices) {
            if (!pulled[v]) centre += DVec3(points[v]), ++n;
            pulled[v] = 1;
            anchors[v] = places[k].move;  // of two that share a vertex the later one holds
        }
    }
    if (n == 0) {
        run.give(std::move(shape));
        return;
    }
    centre /= static_cast<double>(n);
    const glm::dmat4 turn = placement(DVec3(0), s.turn, s.size, centre);
    const double soft = s.soft;
    std::vector<Index> held;
    for (Index v = 0; v < points.size(); ++v)
        if (pulled[v]) {
            anchors[v] += DVec3(turn * glm::dvec4(DVec3(points[v]) + anchors[v], 1)) - (DVec3(points[v]) + anchors[v]);
            held.push_back(v);
        }
    for (Index v = 0; v < points.size(); ++v) {
        if (pulled[v]) {
            sum[v] = anchors[v];
        } else if (soft > 0) {  // the nearest pulled vertex takes it along, less with distance
            double nearest = soft;
            Index by = no_index;
            for (const Index h : held)
                if (const double d = glm::distance(DVec3((*mesh.positions)[h]), DVec3((*mesh.positions)[v]));
                    d < nearest)
                    nearest = d, by = h;
            if (by != no_index) {
                const double u = 1 - nearest / soft;
                sum[v] = anchors[by] * (u * u * (3 - 2 * u));
            }
        }
        points[v] = Vec3(DVec3(points[v]) + sum[v]);
    }
    shape.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
    for (const Domain domain : {Domain::vertex, Domain::corner})
        shape.mesh.attributes.remove(domain, attribute_name::normal);
    run.give(std::move(shape));
}

const StepOf<Nudge> nudge_step(
    StepInfo{
        .key = "nudge",
        .name = "Nudge",
        .family = Family::bend,
        .purpose = "Moves picked points, edges or faces by hand.",
        .words = "move tweak edit sculpt pull vertex soft",
        .help = "Picked places are remembered by where they are, not by number, and found again when the mesh above "
                "changes; what is lost or doubtful is "
                "reported. A soft radius takes the neighbourhood along.",
        .glyph = "M4 18 L9 15 L13 6 L16 15 L20 18 M13 6v-3 M11.5 4.5 L13 3 L14.5 4.5",
        .gives = 0,
        .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
        .telling = "soft {soft}"},
    {places_of(&Nudge::places, "places", "Moved places", "vertices|edges|faces|moved",
               "What was picked, and how far each is moved."),
     vector_of(&Nudge::turn, "turn", "Turn", Quantity::angle, "About the middle of what is picked."),
     vector_of(&Nudge::size, "size", "Size", Quantity::plain, "From the middle of what is picked."),
     length_of(&Nudge::soft, "soft", "Soft radius", 0, 1, "How far around the neighbourhood follows.")},
    run_nudge);

}  // namespace

}  // namespace bricol
