// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/boolean.h"

#include <cmath>
#include <fmt/format.h>

#include "core/kernels/measure.h"
#include "core/kernels/rebuild.h"
#include "core/ground/disjoint_sets.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct BooleanSettings {
    enum class Kind { difference, difference_back, union_, intersection };
    Kind kind = Kind::difference;
    std::string cut_set = "cut";
    std::string inside_set;
};

/// The loose pieces of a mesh, each on its own: many cutters may come as one shape.
std::vector<Mesh> pieces_of(const Mesh& mesh);

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
        case BooleanFault::turned:
            return "has faces that point opposite ways";
        case BooleanFault::crosses_itself:
            return "crosses itself. Mend it first";
        default:
            return "cannot be worked out exactly where the surfaces touch; move one of them a little";
    }
}

double volume_of(const Mesh& mesh) { return std::abs(signed_volume(mesh)); }

double area_of(const Mesh& mesh) {
    Shape shape;
    shape.mesh = mesh;
    return measured(shape).area;
}

/// Nothing, and told, when one of them has no faces.
std::optional<std::vector<Operand>> cutters_of(StepRun& run) {
    std::vector<Operand> cutters;
    for (const auto& [key, label] : {std::pair{"with", "With"}, {"and", "And"}, {"also", "Also"}}) {
        const ShapePtr input = run.input_pointer(key);
        if (!input) continue;
        if (input->mesh.face_count() == 0) {
            run.tell(Severity::error, "empty-operand",
                     fmt::format("“{}” has no faces, so it cuts nothing. Feed it a closed mesh.", label));
            return std::nullopt;
        }
        cutters.push_back({label, input->mesh});
    }
    return cutters;
}

/// Parts of an open sheet inside or outside the solids. Nothing, and told, when that fails.
std::optional<BooleanResult> sheet_result(StepRun& run, const Mesh& sheet, std::span<const Operand> cutters,
                                          bool keep_inside) {
    BooleanResult result;
    result.mesh = sheet;
    for (const Operand& cutter : cutters) {
        result = sheet_cut(result.mesh, cutter.mesh, keep_inside);
        if (result.fault != BooleanFault::none || result.mesh.empty()) break;
    }
    if (result.fault == BooleanFault::none) return result;
    run.tell(Severity::error, "refused-operand",
             result.fault == BooleanFault::inexact
                 ? "The sheet cannot be cut there: it crosses or overlaps itself, or only just touches the "
                   "solid. Move it a little."
                 : fmt::format("The sheet cannot be cut: the solid {}.", fault_words(result)));
    return std::nullopt;
}

/// Of solids; `reverse` says that the shape and the first cutter have changed places. Nothing, and told, on a fault.
std::optional<BooleanResult> solid_result(StepRun& run, const Mesh& body, std::span<const Operand> cutters,
                                          BooleanKind kind, bool reverse) {
    std::vector<Mesh> meshes;
    std::vector<std::string_view> labels;
    for (const Operand& cutter : cutters)
        for (Mesh& piece : pieces_of(cutter.mesh)) {
            meshes.push_back(std::move(piece));
            labels.push_back(cutter.label);
        }
    BooleanResult result = boolean_of(body, meshes, kind);
    if (result.fault == BooleanFault::none) return result;
    const bool about_main = (result.fault_cutter == no_index) != reverse;
    const std::string who =
        result.fault == BooleanFault::inexact ? "The result"
        : about_main                          ? "The shape"
                     : fmt::format("“{}”", result.fault_cutter < labels.size() ? labels[result.fault_cutter] : "With");
    run.tell(Severity::error, "refused-operand", fmt::format("{} {}.", who, fault_words(result)));
    return std::nullopt;
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

void run_boolean(const BooleanSettings& s, StepRun& run) {
    using Kind = BooleanSettings::Kind;
    Shape shape = run.shape();
    auto cutters = cutters_of(run);
    if (!cutters) return;
    if (cutters->empty()) {
        run.tell(Severity::note, "no-operand", "Link a second shape to “With”; until then the shape stays as it is.");
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
    shape.mesh = std::move(result->mesh);
    shape.mesh.attributes.remove(Domain::whole, attribute_name::smoothed);  // a cut has sharp edges of its own
    run.give(std::move(shape));
}

std::vector<Mesh> pieces_of(const Mesh& mesh) {
    const Topology& t = *mesh.topology;
    DisjointSets joined(t.vertex_count);
    for (const auto& [a, b] : t.edges) joined.join(a, b);
    std::map<Index, std::vector<Index>> members;  // faces of each piece
    for (Index f = 0; f < t.face_count(); ++f) members[joined.root(t.face(f)[0])].push_back(f);
    if (members.size() <= 1 || members.size() > 20000) return {mesh};
    std::vector<Mesh> pieces;
    Array<Index> number(t.vertex_count, no_index);
    for (const auto& [first, list] : members) {
        FaceList faces;
        Array<Vec3> points;
        Array<Index> source;
        for (const Index f : list) {
            for (Index c = t.face_offsets[f]; c < t.face_offsets[f + 1]; ++c) {
                Index& n = number[t.corner_vertex[c]];
                if (n == no_index) {
                    n = static_cast<Index>(points.size());
                    points.push_back((*mesh.positions)[t.corner_vertex[c]]);
                    source.push_back(t.corner_vertex[c]);
                }
                faces.corner(n, c);
            }
            faces.close(f);
        }
        pieces.push_back(rebuilt(mesh, std::move(points), source, faces));
    }
    // A hollow body is one solid of two pieces: a piece that is inside out belongs to the others.
    for (const Mesh& piece : pieces)
        if (signed_volume(piece) < 0) return {mesh};
    return pieces;
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
            "Every shape linked to With, And and Also is a cutter, and each may hold many loose pieces. Solids must be "
            "closed. An open sheet as main input is trimmed to the "
            "inside (intersection) or the outside (difference) of the solid. Faces nobody cut stay as they were; sets "
            "and materials of both sides are kept.",
        .glyph = "M3 9a6 6 0 1 0 12 0a6 6 0 1 0 -12 0 M9 15a6 6 0 1 0 12 0a6 6 0 1 0 -12 0 M14.2 12 L12 14.5 M13 9.5 "
                 "L9.5 13",
        .inputs = {{"shape", "Shape", faces, true},
                   {"with", "With", content_any & ~content_instances, false},
                   {"and", "And", content_any & ~content_instances, false},
                   {"also", "Also", content_any & ~content_instances, false}},
        .telling = "{kind}"},
    {choice_of(&BooleanSettings::kind, "kind", "Kind",
               {{BooleanSettings::Kind::difference, "difference", "shape without the others"},
                {BooleanSettings::Kind::difference_back, "difference_back", "the other without the shape"},
                {BooleanSettings::Kind::union_, "union", "all joined"},
                {BooleanSettings::Kind::intersection, "intersection", "what they share"}},
               "What is kept."),
     new_set_of(&BooleanSettings::cut_set, "cut_set", "Cut as set", "A name for the edges where surfaces meet."),
     new_set_of(&BooleanSettings::inside_set, "inside_set", "Cut faces as set",
                "A name for the faces that came from the cutters.")},
    run_boolean);

}  // namespace

}  // namespace bricol
