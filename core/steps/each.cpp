// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/loops.h"

#include <map>

#include "core/catalogue/digest.h"
#include "core/ground/parallel.h"
#include "core/ground/progress.h"
#include "core/ground/stop.h"
#include "core/kernels/take_apart.h"
#include "core/kernels/transform.h"
#include "core/steps/shared/element_checks.h"
#include "core/steps/shared/point_shares.h"

namespace bricol {

namespace {

struct Each {
    enum class Place { own, in_place };
    KitWritten kit;
    std::string part, preset;
    DialValues dials;
    ApartBy by = ApartBy::piece;
    std::string only;
    int every = 1, first = 0;
    Place place = Place::own;
    bool keep = true;
};

/// More different elements than this are refused: each is a making of its own.
constexpr double most_made = 20000;

struct Words {
    std::string_view one, several;
};
Words words_of(ApartBy by) {
    switch (by) {
        case ApartBy::piece:
            return {"piece", "pieces"};
        case ApartBy::face:
            return {"face", "faces"};
        case ApartBy::curve:
            return {"curve", "curves"};
        case ApartBy::point:
            return {"point", "points"};
        case ApartBy::copy:
            break;
    }
    return {"copy", "copies"};
}

/// Which elements of the kind that is taken are in a set: vertices and, behind them, knots; curves with any knot in it.
Selection elements_in(const Each& s, StepRun& run) {
    const Shape& shape = run.shape();
    if (s.only.empty()) return {};
    if (s.by == ApartBy::piece || s.by == ApartBy::face) return run.selected(shape.mesh, Domain::face, s.only);
    if (s.by == ApartBy::copy) return only_these(run, shape, Domain::instance, s.only);
    if (s.by == ApartBy::point) {
        const ChosenPoints chosen = chosen_points(run, shape, s.only);
        Mask mask = chosen.vertices.mask(shape.mesh.vertex_count());
        const Mask knots = chosen.knots.mask(shape.knot_count());
        mask.insert(mask.end(), knots.begin(), knots.end());
        return Selection(std::move(mask));
    }
    const Selection knots = only_these(run, shape, Domain::knot, s.only);
    Mask mask;
    std::size_t first = 0;
    for (const Curve& curve : shape.curves) {
        std::uint8_t any = 0;
        for (std::size_t k = 0; k < curve.knots.size(); ++k) any |= knots[first + k] ? 1 : 0;
        mask.push_back(any);
        first += curve.knots.size();
    }
    return Selection(std::move(mask));
}

ApartOptions apart_options(const Each& s, StepRun& run) {
    ApartOptions out;
    out.by = s.by;
    out.every = static_cast<std::size_t>(s.every);
    out.first = static_cast<std::size_t>(s.first);
    out.at_origin = s.place == Each::Place::own;
    out.only = elements_in(s, run);
    return out;
}

/// What the recipe is told of one element.
InnerWanted wanted_for(const Each& s, const TakenApart& apart, std::size_t i, std::size_t like) {
    const ApartElement& element = apart.elements[i];
    InnerWanted wanted{s.kit, s.part, s.preset, s.dials};
    const auto count = static_cast<double>(apart.elements.size());
    for (const auto& [name, value] : element.names) add_loop_name(wanted.names, "each", name, value);
    add_loop_name(wanted.names, "each", "index", static_cast<double>(i));
    add_loop_name(wanted.names, "each", "count", count);
    add_loop_name(wanted.names, "each", "share", count > 1 ? static_cast<double>(i) / (count - 1) : 0);
    add_loop_name(wanted.names, "each", "number", static_cast<double>(element.number));
    wanted.given = apart.elements[like].shape;
    Digest given;
    given.add(static_cast<int>(s.by)), given.add(static_cast<int>(s.place));
    given.add(std::string_view(s.only));
    given.add(apart.elements[like].number);
    wanted.given_hash = given.hash();
    return wanted;
}

/// Makes the recipe for every element, alike ones from the same shape, so that what does not depend on the element's
/// own numbers is made once.
std::vector<InnerMade> made_for_each(const Each& s, StepRun& run, const TakenApart& apart) {
    const std::size_t n = apart.elements.size();
    const std::vector<std::size_t> like = alike(apart.elements);
    std::vector<std::optional<Result<InnerMade>>> made(n);
    const auto make = [&](std::size_t i) { made[i] = run.inner(wanted_for(s, apart, i, like[i])); };
    // The first of its likes goes before the others, which then find its results in memory.
    std::vector<std::size_t> firsts, others;
    for (std::size_t i = 0; i < n; ++i) (like[i] == i ? firsts : others).push_back(i);
    make(firsts.front());
    if (!*made[0]) {
        run.tell(Severity::error, "no-kit", made[0]->problem().text());
        return {};
    }
    constexpr std::size_t batch = 64;  // between which progress is told
    for (auto* list : {&firsts, &others})
        for (std::size_t from = 0; from < list->size(); from += batch) {
            const std::size_t to = std::min(list->size(), from + batch);
            parallel::each(from, to, [&](std::size_t k) {
                stop_point();
                if (!made[(*list)[k]]) make((*list)[k]);
            });
            progress_of_work(static_cast<double>((list == &others ? firsts.size() : 0) + to) / static_cast<double>(n));
        }
    std::vector<InnerMade> out;
    for (auto& one : made) out.push_back(*one ? std::move(**one) : InnerMade{nullptr, {}, 0});
    return out;
}

/// Puts the results back where their elements stood: what came out alike several times as copies, and what was one
/// before, with its own values; everything else as real geometry.
Shape put_back(TakenApart apart, const std::vector<InnerMade>& made, ApartBy by, bool keep) {
    std::map<std::uint64_t, std::vector<std::size_t>> by_hash;
    for (std::size_t i = 0; i < made.size(); ++i)
        if (made[i].shape && !made[i].shape->empty()) by_hash[made[i].hash].push_back(i);
    std::vector<std::vector<std::size_t>> groups;
    for (auto& [hash, members] : by_hash) groups.push_back(std::move(members));
    std::ranges::sort(groups);  // by their first elements
    Shape out;
    if (keep) out = std::move(apart.rest);
    std::vector<Mesh> meshes;
    if (!out.mesh.empty()) meshes.push_back(out.mesh);
    for (const auto& members : groups) {
        const ShapePtr& shape = made[members.front()].shape;
        const ApartElement& first = apart.elements[members.front()];
        if (by != ApartBy::copy && members.size() == 1 && glm::determinant(glm::dmat3(first.place)) > 0) {
            Shape placed = first.place == glm::dmat4(1) ? *shape : transformed(*shape, first.place);
            if (!placed.mesh.empty()) meshes.push_back(std::move(placed.mesh));
            out.curves.insert(out.curves.end(), placed.curves.begin(), placed.curves.end());
            out.instances.insert(out.instances.end(), placed.instances.begin(), placed.instances.end());
            continue;
        }
        Instances group;
        group.shape = shape;
        Array<std::int32_t> ids;
        std::vector<Index> sources;
        for (const std::size_t i : members) {
            group.places.push_back(glm::mat4(apart.elements[i].place));
            ids.push_back(static_cast<std::int32_t>(apart.elements[i].number));
            sources.push_back(static_cast<Index>(i));
        }
        apart.copies.gather_into(group.attributes, Domain::instance, sources);
        if (!group.attributes.find(Domain::instance, attribute_name::id))
            group.attributes.set(Domain::instance, attribute_name::id, std::move(ids));
        out.instances.push_back(std::move(group));
    }
    out.mesh = meshes.empty() ? Mesh() : joined_meshes(meshes);
    return out;
}

void run_each(const Each& s, StepRun& run) {
    if (no_inner(run)) return;
    const auto [one, several] = words_of(s.by);
    TakenApart apart = taken_apart(run.shape(), apart_options(s, run));
    if (run.failed()) return;
    if (apart.elements.empty()) {
        run.tell(Severity::caution, "nothing-to-repeat",
                 apart.of == 0 ? fmt::format("There are no {} here to go through.", several)
                               : fmt::format("None of the {} {} here is taken: look at “only”, “every” and “first”.",
                                             apart.of, several));
        return;
    }
    if (run.too_many(static_cast<double>(apart.elements.size()), most_made, "elements, each made by itself,",
                     "Take fewer of them with “only” or “every”."))
        return;
    std::vector<InnerMade> made = made_for_each(s, run, apart);
    if (made.empty()) return;
    InnerFindings findings;
    std::size_t nothing = 0;
    double faces = 0;
    for (std::size_t i = 0; i < made.size(); ++i) {
        findings.add(std::move(made[i].findings), apart.elements[i].number);
        nothing += !made[i].shape || made[i].shape->empty();
        if (made[i].shape) faces += weight_of(*made[i].shape).faces;
    }
    findings.tell(run, one, several, made.size(), 0);
    if (nothing == made.size())
        run.tell(Severity::caution, "empty", fmt::format("The recipe makes nothing of any of the {}.", several));
    else if (nothing > 0)
        run.tell(Severity::note, "some-empty",
                 fmt::format("The recipe makes nothing of {} of the {} {}.", nothing, made.size(), several));
    if (run.too_many(faces, most_faces, "faces", "Make less of each, or take fewer.")) return;
    run.give(put_back(std::move(apart), made, s.by, s.keep));
}

const StepOf<Each> each_step(
    StepInfo{
        .key = "each",
        .name = "Each",
        .family = Family::copies,
        .purpose = "Makes the recipe inside once for every piece, face, curve, point or copy.",
        .words = "loop for every repeat piece map individually per element",
        .help =
            "The recipe inside gets one element after another as its given shape. Its formulas know index (from 0), "
            "count, share (0 for the first to 1 for the last), number (among all, also those not taken), at.x, "
            "at.y, at.z (metres, where it stood; of a curve its beginning, and end.x … its end) and the element's "
            "attributes; in rows of a Formula step, which "
            "have an index of their own, they are each.index and so on. A dial of such a name is turned to it. "
            "What comes out alike several times stands as copies of one shape; copies stay copies and keep their "
            "values.",
        .glyph = "M4 4h6v6h-6z M14 4h6v6h-6z M4 14h6v6h-6z M17 14v6 M14 17h6",
        .gives = content_any,
        .inputs = inner_inputs(content_any),
        .telling = "each {by}",
        .loop_names = {"index", "count", "share", "number"}},
    inner_settings(&Each::kit, &Each::part, &Each::preset, &Each::dials) +
        Settings<Each>{
            choice_of(&Each::by, "by", "For each",
                      {{ApartBy::piece, "piece", "loose piece"},
                       {ApartBy::face, "face", "face"},
                       {ApartBy::curve, "curve", "curve"},
                       {ApartBy::point, "point", "point or knot"},
                       {ApartBy::copy, "copy", "copy"}},
                      "What the recipe is made for, one by one."),
            only_of(&Each::only,
                    "Only those in this set: pieces with any face in it, faces, points, knots, curves with "
                    "any knot in it, copies."),
            count_of(&Each::every, "every", "Every", 1, 100000, 12, "Takes every one, every second, every third …"),
            count_of(&Each::first, "first", "From", 0, 1000000, 12, "Number of the first that is taken, from 0."),
            choice_of(
                &Each::place, "place", "Made",
                {{Each::Place::own, "own", "at the origin"}, {Each::Place::in_place, "in_place", "where it stands"}},
                "At the origin a piece stands on the middle of its foot, a face lies flat with its first edge "
                "along x, a curve begins there, a point looks up along its facing, a copy stands as its shape was "
                "made; what comes out goes back to where the element stood."),
            toggle_of(&Each::keep, "keep", "Keep the others", "What was not taken stays as it is.")},
    run_each);

}  // namespace

}  // namespace bricol
