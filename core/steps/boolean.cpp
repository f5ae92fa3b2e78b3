// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

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

struct Operand {
    std::string_view label;
    Mesh mesh;
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

double volume_of(const Mesh& mesh) { return std::abs(signed_volume(mesh)); }

double area_of(const Mesh& mesh) {
    Shape shape;
    shape.mesh = mesh;
    return measured(shape).area;
}

/// Nothing, and told, when one of them has something, but no faces. What is empty cuts nothing, and copies count as
/// what they show.
std::optional<std::vector<Operand>> cutters_of(StepRun& run) {
    std::vector<Operand> cutters;
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
        cutters.push_back({label, input->mesh});
    }
    return cutters;
}

/// `name` says what an operand is called.
template <class Name>
void tell_of_crossing(StepRun& run, const BooleanResult& result, const Name& name) {
    std::set<std::string> crossing, mended;
    for (const Index cutter : result.crosses_itself) crossing.insert(name(cutter));
    for (const Index cutter : result.mended) mended.insert(name(cutter));
    for (const std::string& who : mended)
        run.tell(Severity::note, "mended-crossing",
                 fmt::format("{} crosses itself; what lies inside it, however often, was taken as the solid.", who));
    for (const std::string& who : crossing)
        run.tell(Severity::caution, "crosses-itself",
                 fmt::format("{} crosses itself where it is cut, and could not be mended; what lies in it twice may be "
                             "left over there. Make its pieces separate ones: then they count as their union.",
                             who));
}

/// Parts of an open sheet inside or outside the solids. Nothing, and told, when that fails.
std::optional<BooleanResult> sheet_result(StepRun& run, const Mesh& sheet, std::span<const Operand> cutters,
                                          bool keep_inside) {
    BooleanResult result;
    result.mesh = sheet;
    for (const Operand& cutter : cutters) {
        result = sheet_cut(result.mesh, cutter.mesh, keep_inside);
        tell_of_crossing(run, result, [&](Index) { return fmt::format("“{}”", cutter.label); });
        if (result.fault != BooleanFault::none || result.mesh.empty()) break;
    }
    if (result.fault == BooleanFault::none) return result;
    run.tell(Severity::error, "refused-operand",
             fmt::format("The sheet cannot be cut: the solid {}.", fault_words(result)));
    return std::nullopt;
}

/// Of solids; `reverse` says that the shape and the first cutter have changed places. Nothing, and told, on a fault.
std::optional<BooleanResult> solid_result(StepRun& run, const Mesh& body, std::span<const Operand> cutters,
                                          BooleanKind kind, bool reverse) {
    std::vector<Mesh> meshes;
    std::vector<std::string_view> labels;
    for (const Operand& cutter : cutters) {
        meshes.push_back(cutter.mesh);
        labels.push_back(cutter.label);
    }
    BooleanResult result = boolean_of(body, meshes, kind);
    const auto name = [&](Index cutter) -> std::string {
        if (reverse && (cutter == no_index || cutter == 0)) cutter = cutter == 0 ? no_index : 0;
        return cutter == no_index ? "The shape" : fmt::format("“{}”", labels[cutter]);
    };
    tell_of_crossing(run, result, name);
    if (result.fault == BooleanFault::none) return result;
    run.tell(Severity::error, "refused-operand", fmt::format("{} {}.", name(result.fault_cutter), fault_words(result)));
    return std::nullopt;
}

/// Keeps the pieces that are wanted; says so when a body fell into crumbs.
Mesh with_wanted_pieces(const BooleanSettings& s, StepRun& run, std::size_t pieces_before, Mesh mesh) {
    const std::vector<MeshPiece> pieces = pieces_of(mesh);
    double largest = 0;
    for (const MeshPiece& piece : pieces) largest = std::max(largest, piece.size());
    const double bound = s.pieces == BooleanSettings::Pieces::largest ? largest
                         : s.pieces == BooleanSettings::Pieces::above ? s.least * largest
                                                                      : 0.01 * largest;
    Mask small(mesh.face_count(), 0);
    std::vector<Vec3> places;
    std::size_t count = 0;
    for (const MeshPiece& piece : pieces) {
        if (piece.size() >= bound) continue;
        for (const Index f : piece.faces) small[f] = 1;
        if (places.size() < 32) places.push_back(Vec3(piece.box.centre()));
        ++count;
    }
    if (count == 0) return mesh;
    if (s.pieces != BooleanSettings::Pieces::all) {
        run.tell(Severity::note, "pieces-dropped", fmt::format("{} of {} pieces went.", count, pieces.size()));
        return without_faces(mesh, Selection(small));
    }
    if (pieces.size() > pieces_before)
        run.tell(Severity::caution, "crumbs",
                 fmt::format("{} of the {} pieces that came out {} smaller than a hundredth of the largest. “Pieces” "
                             "keeps the largest alone, or those above a size.",
                             count, pieces.size(), count == 1 ? "is" : "are"))
            .places = std::move(places);
    return mesh;
}

void tell_of_result(StepRun& run, const BooleanResult& result, const Mesh& body, BooleanSettings::Kind kind) {
    if (result.mesh.empty())
        run.tell(Severity::caution, "empty-result",
                 kind == BooleanSettings::Kind::intersection
                     ? "The shapes have nothing in common, so nothing is left."
                     : "Nothing is left: the shape lies wholly inside the other. Try it the other way round.");
    else if (result.unchanged ||
             (kind != BooleanSettings::Kind::union_ && result.from_cutter.size() == body.face_count() &&
              result.mesh.face_count() == body.face_count() &&
              std::abs(area_of(result.mesh) - area_of(body)) <= 1e-7 * area_of(body) &&
              std::abs(volume_of(result.mesh) - volume_of(body)) <= 1e-9 * std::abs(volume_of(body))))
        run.tell(Severity::caution, "unchanged",
                 "Nothing was cut: the shapes do not meet. Move one of them, or try it the other way round.");
}

/// Leaves a mesh its first loose piece and gives the others; nothing when it has but one.
std::optional<Mesh> other_pieces(Mesh& mesh) {
    const std::vector<MeshPiece> pieces = pieces_of(mesh);
    if (pieces.size() < 2) return std::nullopt;
    std::vector<Index> others;
    for (std::size_t i = 1; i < pieces.size(); ++i)
        others.insert(others.end(), pieces[i].faces.begin(), pieces[i].faces.end());
    std::ranges::sort(others);
    Mesh rest = only_faces(mesh, others);
    mesh = only_faces(mesh, pieces[0].faces);
    return rest;
}

void run_boolean(const BooleanSettings& s, StepRun& run) {
    using Kind = BooleanSettings::Kind;
    Shape shape = run.shape();
    auto cutters = cutters_of(run);
    if (!cutters) return;
    const std::size_t pieces_before = shape.mesh.topology->ties().pieces;
    const bool unlinked = !run.input_pointer("with") && !run.input_pointer("and") && !run.input_pointer("also");
    if (unlinked && s.kind == Kind::union_)
        if (auto rest = other_pieces(shape.mesh)) cutters->push_back({"the other pieces", std::move(*rest)});
    if (cutters->empty()) {
        if (unlinked)
            run.tell(Severity::note, "no-operand",
                     "Link a second shape to “With”; until then the shape stays as it is. A union without one joins "
                     "the shape's own loose pieces.");
        run.give(std::move(shape));
        return;
    }
    const bool reverse = s.kind == Kind::difference_back;
    Mesh body = shape.mesh;
    if (reverse) std::swap(body, cutters->front().mesh);
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
