// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/steps/shared/loops.h"

#include "core/catalogue/digest.h"
#include "core/kernels/put_back.h"
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
    const std::vector<std::size_t> like = alike(apart.elements);
    std::vector<InnerMade> made =
        made_together(run, like, [&](std::size_t i) { return wanted_for(s, apart, i, like[i]); });
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
    std::vector<ApartMade> shapes;
    for (InnerMade& one : made) shapes.push_back({std::move(one.shape), one.hash});
    run.give(put_back(std::move(apart), shapes, s.by, s.keep));
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
