// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/choose.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/formula/elements.h"
#include "core/kernels/edit_faces.h"
#include "core/ground/joined.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

/// Vertices of the connected pieces that the step asks for.
Mask piece_vertices(StepRun& run, const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    Joined pieces(t.vertex_count);
    for (const auto& [a, b] : t.edges) pieces.join(a, b);
    std::vector<std::size_t> size(t.vertex_count, 0);
    std::vector<Index> order;  // pieces in the order of their first vertex
    for (Index v = 0; v < t.vertex_count; ++v) {
        if (pieces.root(v) == v) order.push_back(v);
        ++size[pieces.root(v)];
    }
    std::vector<std::uint8_t> wanted(t.vertex_count, 0);
    const std::string& which = run.word("piece");
    if (which == "largest") {
        Index best = no_index;
        for (const Index v : order)
            if (best == no_index || size[v] > size[best]) best = v;
        if (best != no_index) wanted[best] = 1;
    } else if (which == "number") {
        const auto number = static_cast<std::size_t>(run.integer("first"));
        if (number < order.size()) wanted[order[number]] = 1;
    } else {
        const Mask members = run.chosen(mesh, Domain::vertex, "from");
        for (Index v = 0; v < t.vertex_count; ++v)
            if (members[v]) wanted[pieces.root(v)] = 1;
    }
    Mask mask(t.vertex_count);
    for (Index v = 0; v < t.vertex_count; ++v) mask[v] = wanted[pieces.root(v)];
    return mask;
}

/// The elements the rule picks, on the domain it works on.
Mask picked(StepRun& run, const Mesh& mesh, Domain domain) {
    const std::string& rule = run.word("rule");
    if (rule == "box") {
        const DVec3 a = run.vector("low"), b = run.vector("high");
        return in_box(mesh, domain, {glm::min(a, b), glm::max(a, b)});
    }
    if (rule == "ball") return in_ball(mesh, domain, run.vector("centre"), run.number("radius"));
    if (rule == "facing")
        return turned_over(mesh, facing(mesh, run.vector("direction"), run.number("within")), Domain::face, domain);
    if (rule == "angle") {
        const std::string& turn = run.word("turn");
        return turned_over(mesh,
                           sharp_edges(mesh, run.number("angle"),
                                       turn == "convex"    ? Turn::convex
                                       : turn == "concave" ? Turn::concave
                                                           : Turn::both),
                           Domain::edge, domain);
    }
    if (rule == "open") return turned_over(mesh, open_edges(mesh), Domain::edge, domain);
    if (rule == "nth")
        return every_nth(mesh.domain_sizes()[static_cast<std::size_t>(domain)], run.integer("n"), run.integer("first"));
    if (rule == "material") {
        Mask mask(mesh.face_count(), 0);
        const auto* column = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
        for (std::size_t f = 0; column && f < mask.size(); ++f) {
            const Material* material = find_material(mesh.materials.get(), (*column)[f]);
            mask[f] = material && material->name == run.word("material");
        }
        return turned_over(mesh, mask, Domain::face, domain);
    }
    if (rule == "set") return run.chosen(mesh, domain, "from");
    if (rule == "attribute") {
        const Array<float> values = run.weights(mesh, domain, "attribute");
        const std::string& than = run.word("than");
        const double limit = run.number("limit"), upper = run.number("upper");
        Mask mask(values.size());
        for (std::size_t i = 0; i < mask.size(); ++i) {
            const auto value = static_cast<double>(values[i]);
            mask[i] = than == "above"   ? value > limit
                      : than == "below" ? value < limit
                                        : value >= limit && value <= upper;
        }
        return mask;
    }
    if (rule == "formula") {
        Mask mask(mesh.domain_sizes()[static_cast<std::size_t>(domain)], 0);
        const auto& rows = run.as<std::vector<FormulaRow>>("rows");
        if (rows.empty()) {
            run.tell(Severity::note, "no-formula", "There is no formula yet, so nothing is chosen.");
            return mask;
        }
        std::vector<RowProblem> problems;
        const auto values = values_by_formula(run.shape(), domain, rows.front(), problems);
        run.report(problems, "rows");
        for (std::size_t i = 0; values && i < mask.size(); ++i) mask[i] = (*values)[i] > 0.5f;
        return mask;
    }
    if (rule == "pieces") return turned_over(mesh, piece_vertices(run, mesh), Domain::vertex, domain);
    if (rule == "all") return Mask(mesh.domain_sizes()[static_cast<std::size_t>(domain)], 1);
    // Picked places, and the loops or rings that start at them.
    const std::vector<Place>& places = run.places("places");
    const FoundPlaces found = found_places(mesh, places);
    Mask mask(mesh.domain_sizes()[static_cast<std::size_t>(domain)], 0);
    const auto add = [&](Domain from, Index element) {
        if (from == domain) {
            mask[element] = 1;
            return;
        }
        Mask one(mesh.domain_sizes()[static_cast<std::size_t>(from)], 0);
        one[element] = 1;
        const Mask over = turned_over(mesh, one, from, domain);
        for (std::size_t i = 0; i < mask.size(); ++i) mask[i] |= over[i];
    };
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Index element = found.element[k];
        if (element == no_index) continue;
        if (rule == "places" || places[k].element != Domain::edge)
            add(places[k].element, element);
        else
            for (const Index e : rule == "loops" ? edge_loop(mesh, element) : edge_ring(mesh, element))
                add(Domain::edge, e);
    }
    const auto report = [&](const std::vector<std::size_t>& list, const char* code, const std::string& text) {
        if (list.empty()) return;
        Finding& finding = run.tell(Severity::caution, code, text);
        for (const std::size_t k : list) finding.places.push_back(Vec3(places[k].at));
    };
    report(found.lost, "lost-places",
           fmt::format("{} of {} picked places are no longer there and were left out. Pick them again.",
                       found.lost.size(), places.size()));
    report(found.doubtful, "doubtful-places",
           fmt::format("{} picked places could be either of two elements; the nearer one was taken. Check them.",
                       found.doubtful.size()));
    if (places.empty()) run.tell(Severity::note, "nothing-picked", "Pick elements in the view.");
    return mask;
}

void run_choose(StepRun& run) {
    Shape shape = run.shape();
    Mesh& mesh = shape.mesh;
    const std::string& what = run.word("what");
    const Domain domain = domain_of_plural(what);
    const std::string& name = run.word("set");
    if (name.empty()) {
        run.tell(Severity::error, "no-name", "Give the set a name, so that later steps can ask for it.");
        return;
    }
    Mask mask = picked(run, mesh, domain);
    if (const int grow = run.integer("grow"); grow > 0)
        mask = grown(mesh, domain, std::move(mask), grow);
    else if (grow < 0)
        mask = shrunk(mesh, domain, std::move(mask), -grow);
    if (run.toggle("invert"))
        for (std::uint8_t& b : mask) b = !b;
    const std::string& how = run.word("how");
    if (how != "replace") {
        if (const auto before = set_members(mesh, domain, name)) {
            for (std::size_t i = 0; i < mask.size(); ++i)
                mask[i] = how == "add"    ? (*before)[i] | mask[i]
                          : how == "take" ? (*before)[i] & !mask[i]
                                          : (*before)[i] & mask[i];
        } else {
            run.tell(Severity::caution, "unknown-set",
                     fmt::format("There is no set “{}” yet to combine with; it starts here.", name));
        }
    }
    const std::size_t count = count_of(mask);
    run.tell(count == 0 ? Severity::caution : Severity::note, count == 0 ? "empty-set" : "chosen",
             count == 0 ? fmt::format("Nothing meets the rule, so “{}” is empty.", name)
                        : fmt::format("{} of {} {} chosen.", count, mask.size(), what));
    keep_set(mesh, domain, name, std::move(mask));
    run.give(std::move(shape));
}

const Registered choose_step(StepInfo{
    .key = "choose",
    .name = "Choose",
    .family = Family::sets,
    .purpose = "Names a set of faces, edges or vertices by a rule.",
    .words = "select selection group set pick filter loop ring",
    .help = "Rules are looked at again whenever the mesh above changes; picked places are found again by where they "
            "are. A set can be added to, taken from, or cut down to what it shares with an existing one.",
    .glyph = "M4 4h6v6h-6z M14 4h6v6h-6z M4 14h6v6h-6z M14 17 L16 19.5 L20.5 14",
    .gives = 0,
    .inputs = {{"shape", "Mesh", content_faces | content_edges | content_points, true}},
    .parameters =
        {new_set_of("set", "Name", "chosen", "What later steps call the set."),
         choice_of("what", "Chooses", {{"faces", "faces"}, {"edges", "edges"}, {"vertices", "vertices"}},
                   "The kind of element."),
         choice_of("rule", "Rule",
                   {{"places", "picked places"},
                    {"box", "in a box"},
                    {"ball", "in a ball"},
                    {"facing", "facing a way"},
                    {"angle", "edge angle"},
                    {"open", "open edges"},
                    {"nth", "every n-th"},
                    {"material", "material"},
                    {"loops", "loops from picks"},
                    {"rings", "rings from picks"},
                    {"set", "another set"},
                    {"attribute", "an attribute"},
                    {"formula", "a formula"},
                    {"pieces", "connected pieces"},
                    {"all", "all"}},
                   "What decides."),
         when(places_of("places", "Picked places", "vertices|edges|faces", "What was picked in the view."),
              "rule=places|loops|rings"),
         when(pulled(vector_of("low", "Low corner", Quantity::length, {-1, -1, 0}, "Of the box."), HandleKind::point),
              "rule=box"),
         when(pulled(vector_of("high", "High corner", Quantity::length, {1, 1, 1}, "Of the box."), HandleKind::point),
              "rule=box"),
         when(pulled(vector_of("centre", "Centre", Quantity::length, {0, 0, 0}, "Of the ball."), HandleKind::point),
              "rule=ball"),
         when(pulled(length_of("radius", "Radius", 0.5, 0, 5, "Of the ball."), HandleKind::reach, "x", "centre"),
              "rule=ball"),
         when(vector_of("direction", "Direction", Quantity::plain, {0, 0, 1}, "The way the faces look."),
              "rule=facing"),
         when(angle_of("within", "Within", 30, 0, 180, "How far they may look aside."), "rule=facing"),
         when(angle_of("angle", "Sharper than", 30, 0, 180, "How far the two faces of an edge turn."), "rule=angle"),
         when(choice_of("turn", "Turning", {{"both", "either way"}, {"convex", "outwards"}, {"concave", "inwards"}},
                        "Ridges, grooves or both."),
              "rule=angle"),
         when(count_of("n", "Every", 2, 1, 1000000, 16, "One in so many."), "rule=nth"),
         when(count_of("first", "Starting at", 0, 0, 1000000, 16, "Counted from 0."), "rule=nth|pieces"),
         when(new_set_of("material", "Material", "", "The name of the material."), "rule=material"),
         when(set_of("from", "Set", "The set to take."), "rule=set|pieces"),
         when(attribute_of("attribute", "Attribute", "weight", "The value that decides."), "rule=attribute"),
         when(choice_of("than", "Is", {{"above", "above"}, {"below", "below"}, {"between", "between"}},
                        "How the value is compared."),
              "rule=attribute"),
         when(number_of("limit", "Limit", 0.5, -1e6, 1e6, "The value to compare with, or the lower one."),
              "rule=attribute"),
         when(number_of("upper", "Upper limit", 1, -1e6, 1e6, "The higher value."), "than=between"),
         when(kind_of(ParameterKind::rows, "rows", "Formula", "Chosen where the first row's formula is more than 0.5."),
              "rule=formula"),
         when(choice_of("piece", "Piece",
                        {{"largest", "the largest"}, {"number", "by number"}, {"holding", "all that hold the set"}},
                        "Which pieces are taken."),
              "rule=pieces"),
         count_of("grow", "Grow or shrink", 0, -1000, 1000, 8, "Rounds over neighbours; negative shrinks."),
         toggle_of("invert", "Everything else", false, "Turns the choice round."),
         choice_of("how", "With the set so far",
                   {{"replace", "replace it"},
                    {"add", "add to it"},
                    {"take", "take from it"},
                    {"common", "keep what both have"}},
                   "How it is combined with a set of that name.")},
    .telling = "{set}",
    .make = run_choose});

}  // namespace

}  // namespace bricol
