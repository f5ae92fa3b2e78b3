// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/place_copies.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/ground/stop.h"
#include "core/kernels/choose.h"
#include "core/kernels/flatten.h"
#include "core/kernels/normals.h"
#include "core/kernels/stand_ins.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct PlaceCopiesSettings {
    enum class Look { facing, same };
    Domain on = Domain::vertex;
    Look look = Look::facing;
    std::string facing{attribute_name::facing};
    Axis axis = Axis::z;
    std::string size{attribute_name::size};
    double scale = 1;
    std::string turn{attribute_name::turn};
    double spin = 0;
    std::string variant{attribute_name::variant};
    std::string colour{attribute_name::colour};
    bool apart = false;
    double overlap = 0.1;
    bool keep_points = false;
    std::string only;
};

constexpr std::array<std::string_view, 5> copies = {"copy", "second", "third", "fourth", "fifth"};

template <class T>
const Array<T>* column(const Attributes& attributes, Domain domain, const std::string& name) {
    return name.empty() ? nullptr : attributes.values<T>(domain, name);
}

/// Where the copies are to stand, and their attributes on that domain.
struct Points {
    std::vector<DVec3> at, facing;
    std::vector<std::size_t> source;  ///< element each came from
    Attributes attributes;
    Domain domain = Domain::vertex;
};

Points points_of(const PlaceCopiesSettings& s, StepRun& run) {
    Points out;
    const Shape& shape = run.shape();
    const Mesh& mesh = shape.mesh;
    const Domain on = s.on;
    if (on == Domain::knot) {
        const Mesh knots = points_of_knots(shape.curves);
        out.attributes = knots.attributes;
        const Mask mask = run.chosen(knots, Domain::vertex, s.only, Domain::knot);
        for (std::size_t i = 0; i < mask.size(); ++i)
            if (mask[i])
                out.at.emplace_back((*knots.positions)[i]), out.facing.emplace_back(0.0), out.source.push_back(i);
        return out;
    }
    out.domain = on == Domain::face ? Domain::face : Domain::vertex;
    out.attributes = mesh.attributes;
    const Mask mask = run.chosen(mesh, out.domain, s.only);
    const Array<Vec3> normals = out.domain == Domain::face ? face_normals(mesh) : vertex_normals(mesh);
    for (std::size_t i = 0; i < mask.size(); ++i) {
        stop_point(i);
        if (!mask[i]) continue;
        out.at.push_back(middle_of(mesh, out.domain, i));
        out.facing.push_back(mesh.face_count() > 0 ? DVec3(normals[i]) : DVec3(0));
        out.source.push_back(i);
    }
    return out;
}

/// A number that may stand in the attribute a setting names; `otherwise` where there is none. One that is named by
/// default may be missing.
std::vector<double> numbers(StepRun& run, const Points& points, const std::string& name, std::string_view usual,
                            double otherwise) {
    std::vector<double> out(points.at.size(), otherwise);
    if (name.empty()) return out;
    const Attribute* found = points.attributes.find(points.domain, name);
    if (!found) {
        if (name != usual) run.weights(run.shape().mesh, points.domain, name);  // tells that it is missing
        return out;
    }
    std::visit(
        [&](const auto& values) {
            using T = typename std::decay_t<decltype(values)>::value_type;
            for (std::size_t i = 0; i < out.size(); ++i) {
                if constexpr (std::is_arithmetic_v<T>)
                    out[i] = static_cast<double>(values[points.source[i]]);
                else
                    out[i] = static_cast<double>(glm::length(values[points.source[i]]));
            }
        },
        *found->values);
    return out;
}

std::vector<CopyPlace> places_of(const PlaceCopiesSettings& s, StepRun& run, const Points& points, std::size_t shapes) {
    const std::vector<double> sizes = numbers(run, points, s.size, attribute_name::size, 1),
                              turns = numbers(run, points, s.turn, attribute_name::turn, 0),
                              variants = numbers(run, points, s.variant, attribute_name::variant, 0);
    const auto* facing = column<Vec3>(points.attributes, points.domain, s.facing);
    if (!s.facing.empty() && !facing && s.facing != attribute_name::facing)
        run.tell(
            Severity::error, "wrong-attribute",
            fmt::format("“{}” is no direction here: a vec3 on {} is wanted.", s.facing, plural_name(points.domain)));
    const bool use_facing = s.look == PlaceCopiesSettings::Look::facing;
    std::vector<CopyPlace> places(points.at.size());
    for (std::size_t i = 0; i < places.size(); ++i) {
        stop_point(i);
        places[i].at = points.at[i];
        places[i].facing = !use_facing ? DVec3(0) : facing ? DVec3((*facing)[points.source[i]]) : points.facing[i];
        places[i].turn = turns[i] + s.spin;
        places[i].size = sizes[i] * s.scale;
        const auto n = static_cast<long>(shapes);
        places[i].variant = static_cast<int>(((std::lround(variants[i]) % n) + n) % n);
    }
    return places;
}

/// Which copies stay when those that overlap too much are left out.
std::vector<std::uint8_t> kept_places(const PlaceCopiesSettings& s, StepRun& run, std::span<const CopyPlace> places,
                                      std::span<const ShapePtr> shapes) {
    if (!s.apart) return std::vector<std::uint8_t>(places.size(), 1);
    std::vector<DVec3> middles, centres(places.size());
    std::vector<double> reaches, radii(places.size());
    for (const ShapePtr& shape : shapes) {
        const auto box = box_of(*shape);
        middles.push_back(box ? box->centre() : DVec3(0));
        reaches.push_back(box ? std::max({box->size().x, box->size().y, box->size().z}) / 2 : 0);
    }
    for (std::size_t i = 0; i < places.size(); ++i) {
        stop_point(i);
        const auto v = static_cast<std::size_t>(places[i].variant);
        centres[i] = DVec3(glm::dmat4(copy_matrix(places[i], index_of(s.axis))) * glm::dvec4(middles[v], 1));
        radii[i] = reaches[v] * std::abs(places[i].size);
    }
    std::vector<std::uint8_t> keep = kept_apart(centres, radii, s.overlap);
    if (const auto gone = std::ranges::count(keep, 0); gone > 0)
        run.tell(Severity::note, "left-out",
                 fmt::format("{} of {} copies were left out, because they would overlap by more than {}.", gone,
                             keep.size(), format_number(s.overlap, 3)));
    return keep;
}

void run_place_copies(const PlaceCopiesSettings& s, StepRun& run) {
    std::vector<ShapePtr> shapes;
    for (const std::string_view key : copies) {
        const ShapePtr shape = run.input_pointer(key);
        if (shape && !shape->empty())
            shapes.push_back(shape);
        else if (key == "copy")
            break;
    }
    if (shapes.empty()) {
        run.tell(Severity::error, "nothing-to-place",
                 "There is nothing to place: the shape at “copy” is empty. Link one that has geometry.");
        return;
    }
    const Points points = points_of(s, run);
    if (points.at.empty()) run.tell(Severity::caution, "no-points", "There are no points here to place copies on.");
    if (run.too_many(static_cast<double>(points.at.size()), 1e6, "copies", "Use fewer points.")) return;
    const std::vector<CopyPlace> places = places_of(s, run, points, shapes.size());
    const std::vector<std::uint8_t> keep = kept_places(s, run, places, shapes);
    const auto* colours = column<Vec4>(points.attributes, points.domain, s.colour);
    const int axis = index_of(s.axis);
    Shape out;
    if (s.keep_points) out = run.shape();
    const auto* ids = points.attributes.values<std::int32_t>(points.domain, attribute_name::id);
    for (std::size_t v = 0; v < shapes.size(); ++v) {
        Instances group;
        group.shape = shapes[v];
        std::vector<std::size_t> members;
        for (std::size_t i = 0; i < places.size(); ++i)
            if (keep[i] && places[i].variant == static_cast<int>(v) && places[i].size != 0) members.push_back(i);
        if (members.empty()) continue;
        Array<std::int32_t> id(members.size());
        Array<Vec4> colour(colours ? members.size() : 0);
        for (std::size_t k = 0; k < members.size(); ++k) {
            stop_point(k);
            group.places.push_back(copy_matrix(places[members[k]], axis));
            id[k] = ids ? (*ids)[points.source[members[k]]] : static_cast<std::int32_t>(points.source[members[k]]);
            if (colours) colour[k] = (*colours)[points.source[members[k]]];
        }
        group.attributes.set(Domain::instance, attribute_name::id, std::move(id));
        if (colours) group.attributes.set(Domain::instance, attribute_name::colour, std::move(colour));
        out.instances.push_back(std::move(group));
    }
    run.give(std::move(out));
}

const StepOf<PlaceCopiesSettings> place_copies_step(
    StepInfo{
        .key = "place_copies",
        .name = "Place copies",
        .family = Family::copies,
        .purpose = "Puts a shape on every point, knot, vertex or face.",
        .words = "instance clone duplicate populate points",
        .help =
            "Attributes of the points say how a copy stands: the way it faces, its size, its turn about that, its "
            "colour and which of up to five shapes it is. Scatter makes them; Attribute and Formula can change them. "
            "Copies that would sink into one another too far can be left out.",
        .glyph = "M4 8h5v5h-5z M10 3h5v5h-5z M15 12h5v5h-5z M6 17v3 M12 12v8 M17 20v-1",
        .gives = content_instances,
        .inputs = {{"shape", "Points", content_points | content_edges | content_faces | content_curves, true},
                   {"copy", "Copy", content_any, true},
                   {"second", "Second shape", content_any, false},
                   {"third", "Third shape", content_any, false},
                   {"fourth", "Fourth shape", content_any, false},
                   {"fifth", "Fifth shape", content_any, false}},
        .telling = "on {on}"},
    {choice_of(&PlaceCopiesSettings::on, "on", "On",
               {{Domain::vertex, "vertices", "points"},
                {Domain::face, "faces", "face centres"},
                {Domain::knot, "knots", "knots of curves"}},
               "What the copies stand on."),
     choice_of(&PlaceCopiesSettings::look, "look", "Look",
               {{PlaceCopiesSettings::Look::facing, "facing", "along the facing"},
                {PlaceCopiesSettings::Look::same, "same", "all the same way"}},
               "Which way the copies are turned."),
     when(attribute_of(&PlaceCopiesSettings::facing, "facing", "Facing",
                       "A direction per point; without it the normal."),
          "look=facing"),
     axis_of(&PlaceCopiesSettings::axis, "axis", "Own axis", "The axis of the copy that looks along the facing."),
     attribute_of(&PlaceCopiesSettings::size, "size", "Size", "A factor per point."),
     number_of(&PlaceCopiesSettings::scale, "scale", "Scale all", 0, 1000, "A factor on every copy."),
     attribute_of(&PlaceCopiesSettings::turn, "turn", "Turn", "Degrees about the facing, per point."),
     angle_of(&PlaceCopiesSettings::spin, "spin", "Turn all", -360, 360, "Added to every copy's turn."),
     attribute_of(&PlaceCopiesSettings::variant, "variant", "Choice",
                  "Number of the shape, per point: 0 for the first."),
     attribute_of(&PlaceCopiesSettings::colour, "colour", "Colour", "A colour per point, which the copies take on."),
     toggle_of(&PlaceCopiesSettings::apart, "apart", "Keep apart",
               "Leaves out copies that would overlap others too far."),
     when(number_of(&PlaceCopiesSettings::overlap, "overlap", "Overlap at most", 0, 1,
                    "As a share of the smaller copy's size. Copies are taken as balls as wide as their longest side."),
          "apart"),
     toggle_of(&PlaceCopiesSettings::keep_points, "keep_points", "Keep the points",
               "Passes what the copies stand on along with them."),
     only_of(&PlaceCopiesSettings::only, "Only on the points, knots or faces of this set.")},
    run_place_copies);

}  // namespace

}  // namespace bricol
