// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <algorithm>
#include <fmt/format.h>
#include <functional>

#include "core/kernels/measure.h"
#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/remove_elements.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct BooleanSettings {
    enum class Kind { difference, difference_back, union_, intersection };
    enum class Pieces { all, largest, above };
    Kind kind = Kind::difference;
    Pieces pieces = Pieces::all;
    double least = 0.01;
    std::string cut_set = "cut";
    std::string inside_set;
};

struct Cutters {
    std::vector<Mesh> meshes;
    std::vector<std::string_view> labels;
    void add(std::string_view label, Mesh mesh) {
        labels.push_back(label);
        meshes.push_back(std::move(mesh));
    }
};

/// What is wrong with an operand, to follow its name.
std::string fault_words(const BooleanResult& result) {
    switch (result.fault) {
        case BooleanFault::no_faces:
            return "has no faces";
        case BooleanFault::open:
            return fmt::format("is open ({} border edges). Fill its holes or weld it first", result.fault_edges);
        case BooleanFault::many_faces:
            return "has edges with more than two faces";
        default:
            return "has faces that point opposite ways";
    }
}

/// Nothing, and told, when one of them has something, but no faces. What is empty cuts nothing, and copies count as
/// what they show.
std::optional<Cutters> cutters_of(StepRun& run) {
    Cutters cutters;
    // Counted before copies are written out: a boolean takes about a kilobyte a face while it works.
    double faces = 0;
    for (const char* key : {"shape", "with", "and", "also"})
        if (const ShapePtr given = run.input_pointer(key)) faces += static_cast<double>(given->face_count());
    if (run.too_many(faces, most_faces, "faces to be cut", "Use fewer copies, or lighter ones.")) return std::nullopt;
    for (const auto& [key, label] : {std::pair{"with", "With"}, {"and", "And"}, {"also", "Also"}}) {
        const ShapePtr given = run.input_pointer(key);
        if (!given) continue;
        const ShapePtr input = real_geometry(given);
        if (input->empty()) {
            run.tell(Severity::note, "nothing-to-cut-with", fmt::format("“{}” is empty, so it cuts nothing.", label));
            continue;
        }
        if (input->mesh.face_count() == 0) {
            run.tell(Severity::error, "empty-operand",
                     fmt::format("“{}” has no faces, so it cuts nothing. Feed it a closed mesh.", label));
            return std::nullopt;
        }
        cutters.add(label, input->mesh);
    }
    return cutters;
}

/// Each operand once, as `name` calls it.
void tell_of_crossing(StepRun& run, const BooleanResult& result, const std::function<std::string(Index)>& name) {
    std::vector<std::string> said;
    const auto tell = [&](const std::vector<Index>& operands, Severity severity, const char* code, const char* what) {
        said.clear();
        for (const Index operand : operands) {
            const std::string who = name(operand);
            if (std::ranges::find(said, who) != said.end()) continue;
            said.push_back(who);
            run.tell(severity, code, who + what);
        }
    };
    tell(result.mended, Severity::note, "mended-crossing",
         " crosses itself; what lies inside it, however often, was taken as the solid.");
    tell(result.crosses_itself, Severity::caution, "crosses-itself",
         " crosses itself where it is cut, and could not be mended; what lies in it twice may be left over there. Make "
         "its pieces separate ones: then they count as their union.");
}

/// Parts of an open sheet inside or outside the solids. Nothing, and told, when that fails.
std::optional<BooleanResult> sheet_result(StepRun& run, const Mesh& sheet, const Cutters& cutters, bool keep_inside) {
    BooleanResult result;
    result.mesh = sheet;
    for (std::size_t i = 0; i < cutters.meshes.size(); ++i) {
        result = sheet_cut(result.mesh, cutters.meshes[i], keep_inside);
        tell_of_crossing(run, result, [&](Index) { return fmt::format("“{}”", cutters.labels[i]); });
        if (result.fault != BooleanFault::none || result.mesh.empty()) break;
    }
    if (result.fault == BooleanFault::none) return result;
    run.tell(Severity::error, "refused-operand",
             fmt::format("The sheet cannot be cut: the solid {}.", fault_words(result)));
    return std::nullopt;
}

/// Of solids; `reverse` says that the shape and the first cutter have changed places. Nothing, and told, on a fault.
std::optional<BooleanResult> solid_result(StepRun& run, const Mesh& body, const Cutters& cutters, BooleanKind kind,
                                          bool reverse) {
    BooleanResult result = boolean_of(body, cutters.meshes, kind);
    const auto name = [&](Index cutter) -> std::string {
        if (reverse && (cutter == no_index || cutter == 0)) cutter = cutter == 0 ? no_index : 0;
        return cutter == no_index ? "The shape" : fmt::format("“{}”", cutters.labels[cutter]);
    };
    tell_of_crossing(run, result, name);
    if (result.fault == BooleanFault::none) return result;
    run.tell(Severity::error, "refused-operand", fmt::format("{} {}.", name(result.fault_cutter), fault_words(result)));
    return std::nullopt;
}

/// Keeps the pieces that are wanted; says so when a body fell into crumbs.
Mesh with_wanted_pieces(const BooleanSettings& s, StepRun& run, std::size_t pieces_before, Mesh mesh) {
    SmallPieces small = small_pieces(mesh, s.pieces == BooleanSettings::Pieces::largest ? 1
                                           : s.pieces == BooleanSettings::Pieces::above ? s.least
                                                                                        : 0.01);
    if (small.count == 0) return mesh;
    if (s.pieces != BooleanSettings::Pieces::all) {
        run.tell(Severity::note, "pieces-dropped", fmt::format("{} of {} pieces went.", small.count, small.of));
        return without_faces(mesh, Selection(small.faces));
    }
    if (small.of > pieces_before)
        run.tell(Severity::caution, "crumbs",
                 fmt::format("{} of the {} pieces that came out {} smaller than a hundredth of the largest. “Pieces” "
                             "keeps the largest alone, or those above a size.",
                             small.count, small.of, small.count == 1 ? "is" : "are"))
            .places = std::move(small.places);
    return mesh;
}

void tell_of_result(StepRun& run, const BooleanResult& result, const Mesh& body, BooleanSettings::Kind kind) {
    if (result.mesh.empty())
        run.tell(Severity::caution, "empty-result",
                 kind == BooleanSettings::Kind::intersection
                     ? "The shapes have nothing in common, so nothing is left."
                     : "Nothing is left: the shape lies wholly inside the other. Try it the other way round.");
    else if (result.unchanged || (kind != BooleanSettings::Kind::union_ && left_as_it_was(result, body)))
        run.tell(Severity::caution, "unchanged",
                 "Nothing was cut: the shapes do not meet. Move one of them, or try it the other way round.");
}

void run_boolean(const BooleanSettings& s, StepRun& run) {
    using Kind = BooleanSettings::Kind;
    Shape shape = run.shape();
    auto cutters = cutters_of(run);
    if (!cutters) return;
    const std::size_t pieces_before = shape.mesh.topology->ties().pieces;
    const bool unlinked = !run.input_pointer("with") && !run.input_pointer("and") && !run.input_pointer("also");
    if (unlinked && s.kind == Kind::union_)
        if (auto rest = others_taken(shape.mesh)) cutters->add("the other pieces", std::move(*rest));
    if (cutters->meshes.empty()) {
        if (unlinked)
            run.tell(Severity::note, "no-operand",
                     "Link a second shape to “With”; until then the shape stays as it is. A union without one joins "
                     "the shape's own loose pieces.");
        run.give(std::move(shape));
        return;
    }
    const bool reverse = s.kind == Kind::difference_back;
    Mesh body = shape.mesh;
    if (reverse) std::swap(body, cutters->meshes.front());
    Shape alone;
    alone.mesh = body;
    const Measures measures = measured(alone);
    const bool sheet = !measures.closed && measures.non_manifold_edges == 0 && !reverse && s.kind != Kind::union_;
    auto result = sheet ? sheet_result(run, body, *cutters, s.kind == Kind::intersection)
                        : solid_result(run, body, *cutters,
                                       s.kind == Kind::union_         ? BooleanKind::unite
                                       : s.kind == Kind::intersection ? BooleanKind::intersect
                                                                      : BooleanKind::subtract,
                                       reverse);
    if (!result) return;
    tell_of_result(run, *result, body, s.kind);
    if (result->cut.size() == result->mesh.edge_count())
        run.name_set(result->mesh, Domain::edge, s.cut_set, result->cut);
    if (result->from_cutter.size() == result->mesh.face_count()) {
        if (reverse)
            for (std::uint8_t& b : result->from_cutter) b = !b;
        run.name_set(result->mesh, Domain::face, s.inside_set, result->from_cutter);
    }
    shape.mesh = with_wanted_pieces(s, run, unlinked ? pieces_before : measures.pieces, std::move(result->mesh));
    shape.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // a cut has sharp edges of its own
    run.give(std::move(shape));
}

constexpr unsigned faces = content_faces;

const StepOf<BooleanSettings> boolean_step(
    StepInfo{
        .key = "boolean",
        .name = "Boolean",
        .family = Family::faces,
        .purpose = "Joins solids, cuts them out of one another, or keeps what they have in common.",
        .words = "union difference intersection subtract cut combine csg hole",
        .help =
            "Every shape linked to With, And and Also is a cutter. Each may hold many loose pieces, which count as "
            "their union, or copies, which count as what they show. Solids must be closed; surfaces may lie in one "
            "another, and a piece that crosses itself counts as all that lies inside it (pieces of over 60 000 "
            "triangles are not looked through for that). An open sheet as main input is trimmed to the inside "
            "(intersection) or the outside (difference) of the solid. A union with nothing linked joins the shape's "
            "own loose pieces. Faces nobody cut stay as they were; sets and "
            "materials of both sides are kept.",
        .glyph = "M3 9a6 6 0 1 0 12 0a6 6 0 1 0 -12 0 M9 15a6 6 0 1 0 12 0a6 6 0 1 0 -12 0 M14.2 12 L12 14.5 M13 9.5 "
                 "L9.5 13",
        .inputs = {{"shape", "Shape", faces, true},
                   {"with", "With", content_any, false},
                   {"and", "And", content_any, false},
                   {"also", "Also", content_any, false}},
        .telling = "{kind}"},
    {choice_of(&BooleanSettings::kind, "kind", "Kind",
               {{BooleanSettings::Kind::difference, "difference", "shape without the others"},
                {BooleanSettings::Kind::difference_back, "difference_back", "the other without the shape"},
                {BooleanSettings::Kind::union_, "union", "all joined"},
                {BooleanSettings::Kind::intersection, "intersection", "what they share"}},
               "What is kept."),
     choice_of(&BooleanSettings::pieces, "pieces", "Pieces",
               {{BooleanSettings::Pieces::all, "all", "all"},
                {BooleanSettings::Pieces::largest, "largest", "the largest"},
                {BooleanSettings::Pieces::above, "above", "those above a size"}},
               "Which of the loose pieces that come out are kept."),
     when(number_of(&BooleanSettings::least, "least", "Least size", 0, 1,
                    "Smaller pieces go; a share of the largest one's volume, or of a cube of its area for open ones."),
          "pieces=above"),
     new_set_of(&BooleanSettings::cut_set, "cut_set", "Cut as set", "A name for the edges where surfaces meet."),
     new_set_of(&BooleanSettings::inside_set, "inside_set", "Cut faces as set",
                "A name for the faces that came from the cutters.")},
    run_boolean);

}  // namespace

}  // namespace bricol
