// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/remove_elements.h"
#include "core/kernels/bridge.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Bridge {
    int segments = 1;
    int turn = 0;
    std::string only;
    std::string set;
};

void run_bridge(const Bridge& s, StepRun& run) {
    Shape shape = run.shape();
    Mesh mesh = shape.mesh;
    Mask edges;
    const std::string& name = s.only;
    const bool faces = !name.empty() && mesh.attributes.values<std::uint8_t>(Domain::face, name) != nullptr;
    if (faces) {  // two faces (or patches) are opened and their rims joined
        const Mask patch = run.chosen(mesh, Domain::face, s.only);
        Mask rim(mesh.edge_count(), 0);
        const Adjacency& near = mesh.topology->adjacency();
        for (Index e = 0; e < rim.size(); ++e) {
            std::size_t inside = 0;
            for (const Index f : near.faces_of_edge(e)) inside += patch[f];
            rim[e] = inside == 1;
        }
        keep_set(mesh, Domain::edge, "\x01rim", std::move(rim));
        mesh = without_faces(mesh, patch);
        edges = *set_members(mesh, Domain::edge, "\x01rim");
        mesh.attributes.remove(Domain::edge, "\x01rim");
    } else {
        edges = run.chosen(mesh, Domain::edge, s.only);
    }
    BridgeResult result = bridged(mesh, edges, s.segments, s.turn);
    if (!result.refused.empty()) {
        run.tell(Severity::error, "no-bridge",
                 "Nothing can be bridged: " + result.refused +
                     ". Choose exactly two borders, or the two faces between which the bridge goes.");
        return;
    }
    for (const Domain domain : {Domain::vertex, Domain::corner})
        result.mesh.attributes.remove(domain, attribute_name::normal);
    run.name_set(result.mesh, Domain::face, s.set, result.made);
    shape.mesh = std::move(result.mesh);
    run.give(std::move(shape));
}

const StepOf<Bridge> bridge_step(
    StepInfo{
        .key = "bridge",
        .name = "Bridge",
        .family = Family::faces,
        .purpose = "Joins two borders, or opens two faces and joins them.",
        .words = "connect tunnel loft join stitch gap",
        .help = "Works on two open borders of a set of edges, or on two faces of a set of faces, which are taken away "
                "first. The match is the one with "
                "the shortest connections; Turn shifts it.",
        .glyph = "M4 4v16 M20 4v16 M4 6h16 M4 12h16 M4 18h16",
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{segments} segments"},
    {count_of(&Bridge::segments, "segments", "Segments", 1, 1000, 16,
              "Rows of faces, when both borders have as many points."),
     count_of(&Bridge::turn, "turn", "Turn", -10000, 10000, 16, "Shifts the match by points."),
     only_of(&Bridge::only, "The edges of two borders, or two faces."),
     new_set_of(&Bridge::set, "set", "As set", "A name for the new faces.")},
    run_bridge);

}  // namespace

}  // namespace bricol
