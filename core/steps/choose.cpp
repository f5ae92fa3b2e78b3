// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/choose.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/formula/elements.h"
#include "core/kernels/choose_pieces.h"
#include "core/kernels/cut_loops.h"
#include "core/catalogue/settings.h"
#include "core/ground/words.h"
#include "core/steps/shared/marked.h"

namespace bricol {

namespace {

struct ChooseSettings {
    enum class Rule {
        places,
        box,
        ball,
        facing,
        angle,
        open,
        nth,
        material,
        loops,
        rings,
        set,
        attribute,
        formula,
        pieces,
        farthest,
        all
    };
    enum class TurnChoice { both, convex, concave };
    enum class Than { above, below, between };
    enum class Piece { largest, bulkiest, above, number, holding };
    enum class How { replace, add, take, common };
    std::string set = "chosen";
    Domain what = Domain::face;
    Rule rule = Rule::places;
    std::vector<Place> places;
    DVec3 low{-1, -1, 0};
    DVec3 high{1, 1, 1};
    DVec3 centre{0, 0, 0};
    double radius = 0.5;
    DVec3 direction{0, 0, 1};
    double within = 30;
    double near = 0.001;
    double angle = 30;
    TurnChoice turn = TurnChoice::both;
    int n = 2;
    int first = 0;
    std::string material;
    std::string from;
    std::string attribute = "weight";
    Than than = Than::above;
    double limit = 0.5;
    double upper = 1;
    std::vector<FormulaRow> rows;
    Piece piece = Piece::largest;
    double least = 0.1;
    int grow = 0;
    bool invert = false;
    How how = How::replace;
};

/// Vertices of the connected pieces that the step asks for.
Mask piece_vertices(const ChooseSettings& s, StepRun& run, const Mesh& mesh) {
    using Piece = ChooseSettings::Piece;
    const VertexPieces pieces(mesh);
    switch (s.piece) {
        case Piece::largest:
            return pieces.with_most();
        case Piece::bulkiest:
            return pieces.of_size(1);
        case Piece::above:
            return pieces.of_size(s.least);
        case Piece::number:
            return pieces.nth(static_cast<std::size_t>(s.first));
        case Piece::holding:
            break;
    }
    return pieces.holding(run.chosen(mesh, Domain::vertex, s.from));
}

/// The elements the rule picks, on the domain it works on.
std::size_t count_on(const Mesh& mesh, Domain domain) { return mesh.domain_sizes()[static_cast<std::size_t>(domain)]; }

Mask of_material(const Mesh& mesh, const std::string& name) {
    Mask mask(mesh.face_count(), 0);
    const auto* column = mesh.attributes.values<std::int32_t>(Domain::face, attribute_name::material);
    for (std::size_t f = 0; column && f < mask.size(); ++f) {
        const Material* material = find_material(mesh.materials.get(), (*column)[f]);
        mask[f] = material && material->name == name;
    }
    return mask;
}

Mask by_attribute(const ChooseSettings& s, StepRun& run, const Mesh& mesh, Domain domain) {
    using Than = ChooseSettings::Than;
    const Array<float> values = run.weights(mesh, domain, s.attribute);
    Mask mask(values.size());
    for (std::size_t i = 0; i < mask.size(); ++i) {
        const auto value = static_cast<double>(values[i]);
        mask[i] = s.than == Than::above   ? value > s.limit
                  : s.than == Than::below ? value < s.limit
                                          : value >= s.limit && value <= s.upper;
    }
    return mask;
}

Mask by_formula(const ChooseSettings& s, StepRun& run, const Mesh& mesh, Domain domain) {
    Mask mask(count_on(mesh, domain), 0);
    if (s.rows.empty()) {
        run.tell(Severity::note, "no-formula", "There is no formula yet, so nothing is chosen.");
        return mask;
    }
    std::vector<RowProblem> problems;
    const auto values = values_by_formula(run.shape(), s.what, s.rows.front(), problems);
    run.report(problems, s.rows);
    for (std::size_t i = 0; values && i < mask.size(); ++i) mask[i] = (*values)[i] > 0.5f;
    return mask;
}

/// Picked places, and the loops or rings that start at them.
Mask by_places(const ChooseSettings& s, StepRun& run, const Mesh& mesh, Domain domain) {
    using Rule = ChooseSettings::Rule;
    const std::vector<Place>& places = s.places;
    const FoundPlaces found = found_places(mesh, places);
    Mask mask(count_on(mesh, domain), 0);
    const auto add = [&](Domain from, Index element) {
        if (from == domain) {
            mask[element] = 1;
            return;
        }
        Mask one(count_on(mesh, from), 0);
        one[element] = 1;
        const Mask over = turned_over(mesh, one, from, domain);
        for (std::size_t i = 0; i < mask.size(); ++i) mask[i] |= over[i];
    };
    for (std::size_t k = 0; k < places.size(); ++k) {
        const Index element = found.element[k];
        if (element == no_index) continue;
        if (s.rule == Rule::places || places[k].element != Domain::edge)
            add(places[k].element, element);
        else
            for (const Index e : s.rule == Rule::loops ? edge_loop(mesh, element) : edge_ring(mesh, element))
                add(Domain::edge, e);
    }
    const auto report = [&](const std::vector<std::size_t>& list, const char* code, const std::string& text) {
        if (list.empty()) return;
        Finding& finding = run.tell(Severity::caution, code, text);
        for (const std::size_t k : list) finding.places.push_back(Vec3(places[k].at));
    };
    report(found.lost, "lost-places",
           fmt::format("{} of {} no longer there and left out. Pick again.", found.lost.size(),
                       counted(places.size(), "picked place is", "picked places are")));
    report(found.doubtful, "doubtful-places",
           fmt::format("{} be either of two elements; the nearer one was taken. Check.",
                       counted(found.doubtful.size(), "picked place could", "picked places could")));
    if (places.empty()) run.tell(Severity::note, "nothing-picked", "Pick elements in the view.");
    return mask;
}

Mask picked(const ChooseSettings& s, StepRun& run, const Mesh& mesh, Domain domain) {
    using Rule = ChooseSettings::Rule;
    switch (s.rule) {
        case Rule::box:
            return in_box(mesh, domain, {glm::min(s.low, s.high), glm::max(s.low, s.high)});
        case Rule::ball:
            return in_ball(mesh, domain, s.centre, s.radius);
        case Rule::facing:
            return turned_over(mesh, facing(mesh, s.direction, s.within), Domain::face, domain);
        case Rule::angle:
            return turned_over(mesh,
                               sharp_edges(mesh, s.angle,
                                           s.turn == ChooseSettings::TurnChoice::convex    ? Turn::convex
                                           : s.turn == ChooseSettings::TurnChoice::concave ? Turn::concave
                                                                                           : Turn::both),
                               Domain::edge, domain);
        case Rule::open:
            return turned_over(mesh, open_edges(mesh), Domain::edge, domain);
        case Rule::nth:
            return every_nth(count_on(mesh, domain), s.n, s.first);
        case Rule::material:
            return turned_over(mesh, of_material(mesh, s.material), Domain::face, domain);
        case Rule::set:
            return run.chosen(mesh, domain, s.from, s.what);
        case Rule::attribute:
            return by_attribute(s, run, mesh, domain);
        case Rule::formula:
            return by_formula(s, run, mesh, domain);
        case Rule::pieces:
            return turned_over(mesh, piece_vertices(s, run, mesh), Domain::vertex, domain);
        case Rule::farthest:
            return farthest_along(mesh, domain, s.direction, s.near);
        case Rule::all:
            return Mask(count_on(mesh, domain), 1);
        case Rule::places:
        case Rule::loops:
        case Rule::rings:
            break;
    }
    return by_places(s, run, mesh, domain);
}

/// Whether the rule can tell copies, or knots, from one another.
bool fits_stand_ins(const ChooseSettings& s, StepRun& run) {
    const bool knots = s.what == Domain::knot;
    using Rule = ChooseSettings::Rule;
    constexpr std::array fit = {Rule::places,    Rule::box,     Rule::ball,     Rule::nth, Rule::set,
                                Rule::attribute, Rule::formula, Rule::farthest, Rule::all};
    if (s.grow != 0 && !knots) {
        run.tell(
            Severity::error, "unfit-rule",
            "Copies have no neighbours to grow or shrink over. Set “grow” to 0, and choose them by place or value.");
        return false;
    }
    if (std::ranges::find(fit, s.rule) != fit.end()) return true;
    run.tell(Severity::error, "unfit-rule",
             knots
                 ? "Knots have no faces for this rule. Choose them by place, number, value or formula, or make edges "
                   "or faces of the curves first."
                 : "Copies have no faces and edges of their own for this rule. Choose them by place, number, value or "
                   "formula, or put Real geometry before this step.");
    return false;
}

void run_choose(const ChooseSettings& s, StepRun& run) {
    Shape shape = run.shape();
    MarkedElements marked(run, shape, s.what);
    Mesh& mesh = marked.mesh();
    const Domain domain = marked.domain();
    const std::string& name = s.set;
    if (!marked.there() || (marked.stand_ins() && !fits_stand_ins(s, run))) return;
    if (name.empty()) {
        run.tell(Severity::error, "no-name", "Give the set a name, so that later steps can ask for it.");
        return;
    }
    Mask mask = picked(s, run, mesh, domain);
    if (const int grow = s.grow; grow > 0)
        mask = grown(mesh, domain, std::move(mask), grow);
    else if (grow < 0)
        mask = shrunk(mesh, domain, std::move(mask), -grow);
    if (s.invert)
        for (std::uint8_t& b : mask) b = !b;
    const ChooseSettings::How how = s.how;
    if (how != ChooseSettings::How::replace) {
        if (const auto before = set_members(mesh, domain, name)) {
            for (std::size_t i = 0; i < mask.size(); ++i)
                mask[i] = how == ChooseSettings::How::add    ? (*before)[i] | mask[i]
                          : how == ChooseSettings::How::take ? (*before)[i] & !mask[i]
                                                             : (*before)[i] & mask[i];
        } else {
            run.tell(Severity::caution, "unknown-set",
                     fmt::format("There is no set “{}” yet to combine with; it starts here.", name));
        }
    }
    const std::size_t count = count_of(mask);
    run.tell(count == 0 ? Severity::caution : Severity::note, count == 0 ? "empty-set" : "chosen",
             mask.empty() ? fmt::format("There are no {} here, so “{}” is empty.", plural_name(s.what), name)
             : count == 0 ? fmt::format("Nothing meets the rule, so “{}” is empty.", name)
                          : fmt::format("{} of {} {} chosen.", count, mask.size(), plural_name(s.what)));
    keep_set(mesh, domain, name, std::move(mask));
    marked.keep(name);
    run.give(std::move(shape));
}

const StepOf<ChooseSettings> choose_step(
    StepInfo{
        .key = "choose",
        .name = "Choose",
        .family = Family::sets,
        .purpose = "Names a set of faces, edges, vertices, knots or copies by a rule.",
        .words = "select selection group set pick filter loop ring",
        .help =
            "Rules are looked at again whenever the mesh above changes; picked places are found again by where they "
            "are. A set can be added to, taken from, or cut down to what it shares with an existing one.",
        .glyph = "M4 4h6v6h-6z M14 4h6v6h-6z M4 14h6v6h-6z M14 17 L16 19.5 L20.5 14",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{set}"},
    {new_set_of(&ChooseSettings::set, "set", "Name", "What later steps call the set."),
     choice_of(&ChooseSettings::what, "what", "Chooses",
               {{Domain::face, "faces", "faces"},
                {Domain::edge, "edges", "edges"},
                {Domain::vertex, "vertices", "vertices"},
                {Domain::instance, "instances", "copies"},
                {Domain::knot, "knots", "knots"}},
               "The kind of element."),
     choice_of(&ChooseSettings::rule, "rule", "Rule",
               {{ChooseSettings::Rule::places, "places", "picked places"},
                {ChooseSettings::Rule::box, "box", "in a box"},
                {ChooseSettings::Rule::ball, "ball", "in a ball"},
                {ChooseSettings::Rule::facing, "facing", "facing a way"},
                {ChooseSettings::Rule::angle, "angle", "edge angle"},
                {ChooseSettings::Rule::open, "open", "open edges"},
                {ChooseSettings::Rule::nth, "nth", "every n-th"},
                {ChooseSettings::Rule::material, "material", "material"},
                {ChooseSettings::Rule::loops, "loops", "loops from picks"},
                {ChooseSettings::Rule::rings, "rings", "rings from picks"},
                {ChooseSettings::Rule::set, "set", "another set"},
                {ChooseSettings::Rule::attribute, "attribute", "an attribute"},
                {ChooseSettings::Rule::formula, "formula", "a formula"},
                {ChooseSettings::Rule::pieces, "pieces", "connected pieces"},
                {ChooseSettings::Rule::farthest, "farthest", "farthest along a way"},
                {ChooseSettings::Rule::all, "all", "all"}},
               "What decides."),
     when(places_of(&ChooseSettings::places, "places", "Picked places", "vertices|edges|faces",
                    "What was picked in the view."),
          "rule=places|loops|rings"),
     when(pulled(vector_of(&ChooseSettings::low, "low", "Low corner", Quantity::length, "Of the box."),
                 HandleKind::point),
          "rule=box"),
     when(pulled(vector_of(&ChooseSettings::high, "high", "High corner", Quantity::length, "Of the box."),
                 HandleKind::point),
          "rule=box"),
     when(pulled(vector_of(&ChooseSettings::centre, "centre", "Centre", Quantity::length, "Of the ball."),
                 HandleKind::point),
          "rule=ball"),
     when(pulled(length_of(&ChooseSettings::radius, "radius", "Radius", 0, 5, "Of the ball."), HandleKind::reach, "x",
                 "centre"),
          "rule=ball"),
     when(vector_of(&ChooseSettings::direction, "direction", "Direction", Quantity::plain,
                    "The way faces look, or along which the farthest are sought."),
          "rule=facing|farthest"),
     when(length_of(&ChooseSettings::near, "near", "Near it", 0, 1,
                    "Middles that lie no farther back than this from the farthest are chosen too."),
          "rule=farthest"),
     when(angle_of(&ChooseSettings::within, "within", "Within", 0, 180, "How far they may look aside."), "rule=facing"),
     when(angle_of(&ChooseSettings::angle, "angle", "Sharper than", 0, 180, "How far the two faces of an edge turn."),
          "rule=angle"),
     when(choice_of(&ChooseSettings::turn, "turn", "Turning",
                    {{ChooseSettings::TurnChoice::both, "both", "either way"},
                     {ChooseSettings::TurnChoice::convex, "convex", "outwards"},
                     {ChooseSettings::TurnChoice::concave, "concave", "inwards"}},
                    "Ridges, grooves or both."),
          "rule=angle"),
     when(count_of(&ChooseSettings::n, "n", "Every", 1, 1000000, 16, "One in so many."), "rule=nth"),
     when(count_of(&ChooseSettings::first, "first", "Starting at", 0, 1000000, 16, "Counted from 0."),
          "rule=nth|pieces"),
     when(new_set_of(&ChooseSettings::material, "material", "Material", "The name of the material."), "rule=material"),
     when(set_of(&ChooseSettings::from, "from", "Set", "The set to take."), "rule=set|pieces"),
     when(attribute_of(&ChooseSettings::attribute, "attribute", "Attribute", "The value that decides."),
          "rule=attribute"),
     when(choice_of(&ChooseSettings::than, "than", "Is",
                    {{ChooseSettings::Than::above, "above", "above"},
                     {ChooseSettings::Than::below, "below", "below"},
                     {ChooseSettings::Than::between, "between", "between"}},
                    "How the value is compared."),
          "rule=attribute"),
     when(number_of(&ChooseSettings::limit, "limit", "Limit", -1e6, 1e6,
                    "The value to compare with, or the lower one."),
          "rule=attribute"),
     when(number_of(&ChooseSettings::upper, "upper", "Upper limit", -1e6, 1e6, "The higher value."), "than=between"),
     when(kind_of(&ChooseSettings::rows, ParameterKind::rows, "rows", "Formula",
                  "Chosen where the first row's formula is more than 0.5."),
          "rule=formula"),
     when(choice_of(&ChooseSettings::piece, "piece", "Piece",
                    {{ChooseSettings::Piece::largest, "largest", "with most points"},
                     {ChooseSettings::Piece::bulkiest, "bulkiest", "the largest"},
                     {ChooseSettings::Piece::above, "above", "above a size"},
                     {ChooseSettings::Piece::number, "number", "by number"},
                     {ChooseSettings::Piece::holding, "holding", "all that hold the set"}},
                    "Which pieces are taken."),
          "rule=pieces"),
     when(number_of(&ChooseSettings::least, "least", "Least size", 0, 1,
                    "A share of the largest one's volume, or of a cube of its area for open ones."),
          "piece=above"),
     count_of(&ChooseSettings::grow, "grow", "Grow or shrink", -1000, 1000, 8,
              "Rounds over neighbours; negative shrinks."),
     toggle_of(&ChooseSettings::invert, "invert", "Everything else", "Turns the choice round."),
     choice_of(&ChooseSettings::how, "how", "With the set so far",
               {{ChooseSettings::How::replace, "replace", "replace it"},
                {ChooseSettings::How::add, "add", "add to it"},
                {ChooseSettings::How::take, "take", "take from it"},
                {ChooseSettings::How::common, "common", "keep what both have"}},
               "How it is combined with a set of that name.")},
    run_choose);

}  // namespace

}  // namespace bricol
