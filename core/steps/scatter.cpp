// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/scatter.h"

#include <fmt/format.h>

#include "core/kernels/noise.h"
#include "core/kernels/real_geometry.h"
#include "core/catalogue/settings.h"
#include "core/ground/stop.h"

namespace bricol {

namespace {

struct Scatter {
    enum class Where { surface, inside };
    enum class Spread { count, density, even };
    enum class Look { normal, up, any };
    Where where = Where::surface;
    Spread spread = Spread::count;
    int count = 100;
    double density = 50;
    double spacing = 0.1;
    bool limit = false;
    int seed = 1;
    std::string weight;
    Look look = Look::normal;
    double lean = 0;
    double turn = 360;
    double size_from = 1;
    double size_to = 1;
    int variants = 1;
    std::string only;
};

/// Numbers and vectors of the vertices, blended at every point.
void carry(Attributes& to, const Mesh& mesh, const ScatterSurface& surface, const std::vector<ScatterPoint>& points) {
    for (const Attribute& a : mesh.attributes.all()) {
        if (a.domain != Domain::vertex || a.name == attribute_name::normal || a.name == attribute_name::id) continue;
        std::visit(
            [&](const auto& values) {
                using T = typename std::decay_t<decltype(values)>::value_type;
                if constexpr (!std::is_integral_v<T>) {
                    Array<T> out(points.size());
                    for (std::size_t i = 0; i < points.size(); ++i) {
                        const auto& corners = surface.corners[points[i].triangle];
                        const auto at = [&](std::size_t c) { return values[mesh.topology->corner_vertex[corners[c]]]; };
                        out[i] = at(0) * points[i].share.x + at(1) * points[i].share.y + at(2) * points[i].share.z;
                    }
                    to.set(Domain::vertex, a.name, std::move(out));
                }
            },
            *a.values);
    }
}

bool closed(const Mesh& mesh) {
    const Adjacency& near = mesh.topology->adjacency();
    for (Index e = 0; e < mesh.edge_count(); ++e)
        if (const std::size_t n = near.faces_of_edge(e).size(); n == 1 || n > 2) return false;
    return mesh.face_count() > 0;
}

/// What a point's copy looks along: the choice, leant by chance.
DVec3 way_of(const Scatter& s, const ScatterPoint& point, std::uint32_t own) {
    DVec3 way = s.look == Scatter::Look::up ? DVec3(0, 0, 1) : DVec3(point.normal);
    if (s.look == Scatter::Look::any || (s.where == Scatter::Where::inside && s.look == Scatter::Look::normal)) {
        // Even over the sphere: height and angle (Archimedes).
        const double z = 2 * random_share(own, 10) - 1, angle = glm::radians(360 * random_share(own, 11)),
                     r = std::sqrt(std::max(0.0, 1 - z * z));
        way = DVec3(r * std::cos(angle), r * std::sin(angle), z);
    }
    if (s.lean <= 0) return way;
    const DVec3 aside = glm::normalize(glm::cross(way, std::abs(way.x) < 0.6 ? DVec3(1, 0, 0) : DVec3(0, 1, 0))),
                other = glm::cross(way, aside);
    const double by = glm::radians(s.lean * random_share(own, 12)), to = glm::radians(360 * random_share(own, 13));
    return way * std::cos(by) + (aside * std::cos(to) + other * std::sin(to)) * std::sin(by);
}

/// The points as vertices that carry what copies are placed by.
Mesh mesh_of_points(const Scatter& s, std::span<const ScatterPoint> points, std::uint32_t seed) {
    const std::size_t n = points.size();
    Array<Vec3> places(n), facing(n);
    Array<float> size(n), turn(n);
    Array<std::int32_t> id(n), variant(n);
    for (std::size_t i = 0; i < n; ++i) {
        stop_point(i);
        const std::uint32_t own = mixed(points[i].number * 0x85ebca6bu + mixed(seed + 77));
        places[i] = points[i].at;
        facing[i] = Vec3(way_of(s, points[i], own));
        size[i] = static_cast<float>(s.size_from + (s.size_to - s.size_from) * random_share(own, 14));
        turn[i] = static_cast<float>(s.turn * random_share(own, 15));
        id[i] = static_cast<std::int32_t>(points[i].number);
        variant[i] = static_cast<std::int32_t>(random_share(own, 16) * s.variants);
    }
    Mesh out(std::move(places), make_topology(static_cast<Index>(n), {}, {}));
    out.attributes.set(Domain::vertex, attribute_name::facing, std::move(facing));
    out.attributes.set(Domain::vertex, attribute_name::size, std::move(size));
    out.attributes.set(Domain::vertex, attribute_name::turn, std::move(turn));
    out.attributes.set(Domain::vertex, attribute_name::variant, std::move(variant));
    out.attributes.set(Domain::vertex, attribute_name::id, std::move(id));
    return out;
}

void run_scatter(const Scatter& s, StepRun& run) {
    const Mesh& mesh = run.shape().mesh;
    ScatterOptions options;
    options.seed = static_cast<std::uint32_t>(s.seed);
    const bool inside = s.where == Scatter::Where::inside;
    const Scatter::Spread spread = s.spread;
    options.count = static_cast<std::size_t>(s.count);
    if (spread == Scatter::Spread::even) options.spacing = s.spacing;
    const bool filled = spread == Scatter::Spread::even && !s.limit;
    if (filled) options.count = static_cast<std::size_t>(2e6 * run.raise_bounds);
    std::vector<ScatterPoint> points;
    ScatterSurface surface;
    if (inside) {
        if (!closed(mesh)) {
            Finding& finding =
                run.tell(Severity::error, "open-shape",
                         "The shape is open, so it has no inside to scatter in. Close it, or scatter on its surface.");
            finding.remedy = Remedy{"Scatter on the surface", {{"", run.key_of(s.where), "surface"}}, {}};
            return;
        }
        points = scattered_inside(SurfaceFinder(mesh), options);
    } else {
        const Array<float> weights = s.weight.empty() ? Array<float>{} : run.weights(mesh, Domain::vertex, s.weight);
        const Selection faces = run.selected(mesh, Domain::face, s.only);
        surface = scatter_surface(mesh, faces, weights);
        if (surface.corners.empty()) {
            run.tell(Severity::caution, "nothing-to-scatter-on",
                     "There is no area to scatter on: the set is empty or the weight is 0 everywhere.");
            run.give(Mesh{});
            return;
        }
        if (spread == Scatter::Spread::density) {
            const double wanted = std::round(surface.area * s.density);
            if (run.too_many(wanted, 5e6, "points", "Use a smaller density.")) return;
            options.count = static_cast<std::size_t>(wanted);
        }
        if (filled && run.too_many(surface.area / (options.spacing * options.spacing) * 0.7, 1e6, "points",
                                   "Use a larger spacing."))
            return;
        points = scattered_on(surface, options);
    }

    const std::size_t n = points.size();
    Mesh out = mesh_of_points(s, points, options.seed);
    if (!inside) carry(out.attributes, mesh, surface, points);
    if (spread == Scatter::Spread::even && !filled && n < options.count)
        run.tell(Severity::note, "no-room",
                 fmt::format("There is room for {} points at this spacing; {} were asked for.", n, options.count));
    if (inside && spread != Scatter::Spread::even && n < options.count)
        run.tell(Severity::note, "no-room",
                 fmt::format("{} of {} points found the inside; the shape fills little of its box.", n, options.count));
    run.give(std::move(out));
}

const StepOf<Scatter> scatter_step(
    StepInfo{
        .key = "scatter",
        .name = "Scatter",
        .family = Family::copies,
        .purpose = "Spreads points over a surface or through a closed shape.",
        .words = "distribute spread random points sprinkle poisson instances",
        .help =
            "Gives points alone, each with a facing, a size, a turn, a variant and a number of its own; Place copies "
            "puts shapes on them. A point of a seed stays where it is when the count or another number "
            "changes. With even spacing no two points lie nearer than that.",
        .glyph =
            "M5 17a1.5 1.5 0 1 0 3 0a1.5 1.5 0 1 0 -3 0z M11 9a1.5 1.5 0 1 0 3 0a1.5 1.5 0 1 0 -3 0z M16 15a1.5 1.5 0 "
            "1 0 3 0a1.5 1.5 0 1 0 -3 0z M3 21 C8 19 16 19 21 21",
        .gives = content_points,
        .inputs = {{"shape", "Mesh", content_faces, true}},
        .telling = "{spread}"},
    {choice_of(&Scatter::where, "where", "Where",
               {{Scatter::Where::surface, "surface", "on the surface"},
                {Scatter::Where::inside, "inside", "inside the shape"}},
               "Over the faces, or through what they enclose."),
     choice_of(&Scatter::spread, "spread", "Spread",
               {{Scatter::Spread::count, "count", "a count"},
                {Scatter::Spread::density, "density", "per area"},
                {Scatter::Spread::even, "even", "even spacing"}},
               "What says how many points there are."),
     when(count_of(&Scatter::count, "count", "Points", 0, 5000000, 1000,
                   "How many; with even spacing at most so many."),
          "spread=count|even"),
     when(number_of(&Scatter::density, "density", "Per square metre", 0, 1e7, "Points on a square metre of surface."),
          "spread=density"),
     when(length_of(&Scatter::spacing, "spacing", "Spacing", 1e-5, 1, "Least distance between two points."),
          "spread=even"),
     when(toggle_of(&Scatter::limit, "limit", "Stop at the count",
                    "Otherwise points are added until there is no room."),
          "spread=even"),
     seed_of(&Scatter::seed),
     when(attribute_of(&Scatter::weight, "weight", "By weight",
                       "An attribute from 0 to 1: how likely points are there. Empty for everywhere alike."),
          "where=surface"),
     choice_of(&Scatter::look, "look", "Look",
               {{Scatter::Look::normal, "normal", "off the surface"},
                {Scatter::Look::up, "up", "up"},
                {Scatter::Look::any, "any", "any way"}},
               "The facing that copies get."),
     angle_of(&Scatter::lean, "lean", "Lean", 0, 180, "Tilts each facing by up to this much, at random."),
     angle_of(&Scatter::turn, "turn", "Turn up to", 0, 360, "Turns each copy about its facing, at random."),
     number_of(&Scatter::size_from, "size_from", "Size from", 0, 1000, "Smallest factor on a copy."),
     number_of(&Scatter::size_to, "size_to", "Size to", 0, 1000, "Largest factor on a copy."),
     count_of(&Scatter::variants, "variants", "Variants", 1, 1000, 5,
              "How many shapes to choose from; each point gets the number of one."),
     when(only_of(&Scatter::only, "Only on the faces of this set."), "where=surface")},
    run_scatter);

}  // namespace

}  // namespace bricol
