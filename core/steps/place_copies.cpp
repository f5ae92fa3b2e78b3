// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/place_copies.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/ground/stop.h"
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

StandPoints points_of(const PlaceCopiesSettings& s, StepRun& run) {
    if (s.on != Domain::knot) {
        const Mesh& mesh = run.shape().mesh;
        return stand_points(mesh, s.on, run.chosen(mesh, s.on == Domain::face ? Domain::face : Domain::vertex, s.only));
    }
    const Mesh knots = points_of_knots(run.shape().curves);
    return stand_points(knots, s.on, run.chosen(knots, Domain::vertex, s.only, Domain::knot));
}

/// A number that may stand in the attribute a setting names; `otherwise` where there is none. One that is named by
/// default may be missing.
std::vector<double> numbers(StepRun& run, const StandPoints& points, const std::string& name, std::string_view usual,
                            double otherwise) {
    if (!name.empty()) {
        if (auto found = numbers_at(points, name)) return std::move(*found);
        if (name != usual) run.weights(run.shape().mesh, points.domain, name);  // tells that it is missing
    }
    return std::vector<double>(points.at.size(), otherwise);
}

std::vector<CopyPlace> places_of(const PlaceCopiesSettings& s, StepRun& run, const StandPoints& points,
                                 std::size_t shapes) {
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
    const CopyBalls balls = balls_round(places, shapes, index_of(s.axis));
    std::vector<std::uint8_t> keep = kept_apart(balls.centres, balls.radii, s.overlap);
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
    const StandPoints points = points_of(s, run);
    if (points.at.empty()) run.tell(Severity::caution, "no-points", "There are no points here to place copies on.");
    if (run.too_many(static_cast<double>(points.at.size()), 1e6, "copies", "Use fewer points.")) return;
    const std::vector<CopyPlace> places = places_of(s, run, points, shapes.size());
    const std::vector<std::uint8_t> keep = kept_places(s, run, places, shapes);
    Shape out;
    if (s.keep_points) out = run.shape();
    for (Instances& group : copies_at(points, places, keep, shapes, index_of(s.axis),
                                      column<Vec4>(points.attributes, points.domain, s.colour)))
        out.instances.push_back(std::move(group));
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
