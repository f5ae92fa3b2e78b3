// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/settle.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/ground/stop.h"
#include "core/kernels/hull.h"
#include "core/kernels/pieces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/remove_elements.h"
#include "core/kernels/transform.h"
#include "core/kernels/triangulate.h"
#include "core/shape/draft.h"

namespace bricol {

namespace {

struct Settle {
    enum class How { drop, hang };
    enum class Hold { ends, first, none };
    enum class As { hull, pieces };
    How how = How::drop;
    Hold hold = Hold::ends;
    double bend = 70, twist = 30;
    bool ground = true;
    double height = 0;
    As as = As::hull;
    int most = 8;
    bool hulls = false;
    double friction = 0.5, bounce = 0, damping = 0.3;
    double time = 4;
    double stir = 0;
    int seed = 1;
};

/// One body: a copy, or a loose piece of the mesh.
struct Body {
    std::size_t group = 0, copy = 0;  ///< of the instances; for pieces `copy` is the piece's number
    bool piece = false;
};

/// So many corners at most, and no more once the hull lies within this share of its size: finer ones cost time and
/// change little.
constexpr std::size_t most_corners = 64;
constexpr double near_enough = 0.004;
constexpr double most_bodies = 20000, most_still = 2e6;

/// Directions spread evenly over the sphere (Fibonacci's lattice, common practice).
std::vector<DVec3> even_ways(std::size_t count) {
    std::vector<DVec3> out;
    for (std::size_t i = 0; i < count; ++i) {
        const double z = 1 - (2.0 * static_cast<double>(i) + 1) / static_cast<double>(count), r = std::sqrt(1 - z * z),
                     angle = 2.399963229728653 * static_cast<double>(i);  // the golden angle
        out.emplace_back(r * std::cos(angle), r * std::sin(angle), z);
    }
    return out;
}

/// The corners of the hull of points; of fine ones those that matter most: one after another the one that stands
/// farthest out of what was taken before.
std::vector<Vec3> hull_corners(std::span<const Vec3> points) {
    const Mesh hull = convex_hull(points);
    const Array<Vec3>& all = *hull.positions;
    if (all.size() <= most_corners) return {all.begin(), all.end()};
    static const std::vector<DVec3> ways = even_ways(600);
    std::vector<std::size_t> farthest(ways.size(), 0);  // of all, for each way
    std::vector<double> reach(ways.size()), taken(ways.size(), -1e300);
    double size = 0;
    for (std::size_t w = 0; w < ways.size(); ++w) {
        for (std::size_t v = 1; v < all.size(); ++v)
            if (glm::dot(DVec3(all[v] - all[farthest[w]]), ways[w]) > 0) farthest[w] = v;
        reach[w] = glm::dot(DVec3(all[farthest[w]]), ways[w]);
        size = std::max(size, glm::distance(DVec3(all[farthest[w]]), DVec3(all[0])));
    }
    std::vector<Vec3> out;
    for (std::size_t w = 0; out.size() < most_corners;) {
        const Vec3 corner = all[farthest[w]];
        out.push_back(corner);
        for (std::size_t k = 0; k < ways.size(); ++k) {
            taken[k] = std::max(taken[k], glm::dot(DVec3(corner), ways[k]));
            if (reach[k] - taken[k] > reach[w] - taken[w]) w = k;
        }
        if (reach[w] - taken[w] < near_enough * size) break;
    }
    return out;
}

std::shared_ptr<const SettleForm> form_of(const Settle& s, const Mesh& mesh) {
    auto form = std::make_shared<SettleForm>();
    if (s.as == Settle::As::pieces)
        for (const Mesh& hull : convex_pieces(mesh, static_cast<std::size_t>(s.most)))
            form->push_back(hull_corners(*hull.positions));
    if (form->empty()) form->push_back(hull_corners(*mesh.positions));
    return form;
}

/// Bodies of a shape, with the words for those that can be none.
class Bodies {
public:
    Bodies(const Settle& s, const Shape& shape) : s_(s) {
        for (std::size_t g = 0; g < shape.instances.size(); ++g) {
            const Instances& group = shape.instances[g];
            const ShapePtr real = real_geometry(group.shape);
            const auto form = form_of(s, real->mesh);
            for (std::size_t i = 0; i < group.count(); ++i) add(form, glm::dmat4(group.places[i]), {g, i, false});
        }
        if (shape.mesh.face_count() == 0) return;
        pieces = pieces_of(shape.mesh);
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            stop_point();
            add(form_of(s, only_faces(shape.mesh, pieces[i].faces)), glm::dmat4(1), {0, i, true});
        }
    }

    std::vector<SettleBody> list;
    std::vector<Body> from;
    std::vector<MeshPiece> pieces;
    std::size_t flat = 0;  ///< without a volume: they stay where they are

private:
    void add(std::shared_ptr<const SettleForm> form, const glm::dmat4& place, Body body) {
        const bool solid = std::ranges::any_of(*form, [](const auto& part) { return part.size() >= 4; });
        if (!solid) {
            ++flat;
            return;
        }
        list.push_back({std::move(form), place, false});
        from.push_back(body);
    }

    const Settle& s_;
};

/// What the bodies lie on; its copies as hulls where that was asked for.
SettleStill still_of(const Settle& s, Shape shape) {
    SettleStill out;
    if (s.hulls) {
        std::erase_if(shape.instances, [&](const Instances& group) {
            auto form = std::make_shared<SettleForm>();
            form->push_back(hull_corners(*real_geometry(group.shape)->mesh.positions));
            if (form->front().size() < 4) return false;  // too flat for a hull: its faces are felt
            for (const glm::mat4& place : group.places) out.bodies.push_back({form, glm::dmat4(place), true});
            return true;
        });
    }
    const ShapePtr real = real_geometry(std::make_shared<const Shape>(std::move(shape)));
    out.points.assign(real->mesh.positions->begin(), real->mesh.positions->end());
    const Triangles triangles = triangulated(real->mesh);
    for (const Index corner : triangles.corners) out.triangles.push_back(real->mesh.topology->corner_vertex[corner]);
    return out;
}

/// The shape with its bodies where they lie; those that fell are left out.
Shape put_down(const Shape& shape, const Bodies& bodies, const Settled& done) {
    Shape out = shape;
    std::vector<std::vector<std::uint8_t>> fallen_copies;
    for (const Instances& group : shape.instances) fallen_copies.emplace_back(group.count(), std::uint8_t(0));
    Array<Vec3> points = *shape.mesh.positions;
    Mask fallen_faces(shape.mesh.face_count(), 0);
    for (std::size_t b = 0; b < bodies.list.size(); ++b) {
        const Body& from = bodies.from[b];
        if (!from.piece) {
            out.instances[from.group].places[from.copy] = glm::mat4(done.places[b]);
            fallen_copies[from.group][from.copy] = done.fell[b];
            continue;
        }
        for (const Index f : bodies.pieces[from.copy].faces) {
            fallen_faces[f] = done.fell[b];
            for (const Index v : shape.mesh.topology->face(f))
                points[v] = Vec3(done.places[b] * glm::dvec4(DVec3((*shape.mesh.positions)[v]), 1));
        }
    }
    if (!bodies.pieces.empty()) {
        out.mesh.positions = std::make_shared<const Array<Vec3>>(std::move(points));
        for (const Domain domain : {Domain::vertex, Domain::corner})
            out.mesh.attributes.remove(domain, attribute_name::normal);  // they turned with their bodies
        if (std::ranges::find(fallen_faces, 1) != fallen_faces.end())
            out.mesh = without_faces(out.mesh, Selection(fallen_faces));
    }
    for (std::size_t g = 0; g < out.instances.size(); ++g) {
        std::vector<Index> stay;
        for (std::size_t i = 0; i < fallen_copies[g].size(); ++i)
            if (!fallen_copies[g][i]) stay.push_back(static_cast<Index>(i));
        if (stay.size() == fallen_copies[g].size()) continue;
        Instances rest;
        rest.shape = out.instances[g].shape;
        for (const Index i : stay) rest.places.push_back(out.instances[g].places[i]);
        out.instances[g].attributes.gather_into(rest.attributes, Domain::instance, stay);
        out.instances[g] = std::move(rest);
    }
    std::erase_if(out.instances, [](const Instances& group) { return group.places.empty(); });
    return out;
}

void tell(StepRun& run, const Settle& s, const Settled& done, std::size_t flat) {
    const auto fell = static_cast<std::size_t>(std::ranges::count(done.fell, 1));
    if (fell > 0)
        run.tell(
            Severity::caution, "fell",
            fmt::format("{} of {} bodies fell past everything and {} left out: switch “ground” on, or link a shape "
                        "for them to lie on.",
                        fell, done.fell.size(), fell == 1 ? "is" : "are"));
    if (done.crossing > 0)
        run.tell(Severity::caution, "begin-crossing",
                 fmt::format("{} bodies begin inside others and are pushed apart: leave more room between them.",
                             done.crossing));
    if (done.moving > 0)
        run.tell(Severity::caution, "still-moving",
                 fmt::format("{} of {} bodies still move after {} s: raise “time” or “damping”.", done.moving,
                             done.fell.size(), format_number(s.time, 2)));
    if (flat > 0)
        run.tell(Severity::caution, "flat",
                 fmt::format("{} bodies are flat and have nothing to lie on; they stay where they are. Thicken them.",
                             flat));
}

void run_settle(const Settle& s, StepRun& run) {
    const Shape& shape = run.shape();
    double count = 0;
    for (const Instances& group : shape.instances) count += static_cast<double>(group.count());
    if (run.too_many(count, most_bodies, "bodies", "Use fewer copies.")) return;
    Bodies bodies(s, shape);
    if (run.too_many(static_cast<double>(bodies.list.size()), most_bodies, "bodies", "Use fewer copies.")) return;
    if (bodies.list.empty()) {
        run.tell(Severity::caution, "no-bodies",
                 bodies.flat > 0 ? "Everything here is flat: thicken it, so that it can lie."
                                 : "There are no copies and no loose pieces here to come to rest.");
        return;
    }
    if (s.how == Settle::How::hang && s.hold != Settle::Hold::none) {
        bodies.list.front().held = true;
        if (s.hold == Settle::Hold::ends) bodies.list.back().held = true;
    }
    const Shape& onto = run.input("onto");
    double copies = 0;
    for (const Instances& group : onto.instances) copies += static_cast<double>(group.count());
    if (s.hulls && run.too_many(copies, most_bodies, "copies to lie on", "Link a lighter shape.")) return;
    const double faces = s.hulls ? static_cast<double>(onto.mesh.face_count()) : weight_of(onto).standing;
    if (run.too_many(faces, most_still, "faces to lie on",
                     s.hulls ? "Link a lighter shape." : "Link a lighter shape, or take its copies as hulls."))
        return;
    if (s.hulls && copies == 0)
        run.tell(Severity::caution, "no-copies-below",
                 "There are no copies at “onto” that could be felt as hulls: link some there, or switch this off.");
    SettleOptions options;
    options.friction = s.friction, options.bounce = s.bounce, options.damping = s.damping;
    options.seconds = s.time;
    if (s.ground) options.ground = s.height;
    options.linked = s.how == Settle::How::hang;
    options.bend = s.bend, options.twist = s.twist;
    options.stir = s.stir, options.seed = s.seed;
    options.watch = [&](const Settled& so_far) {
        show_draft(std::make_shared<const Shape>(put_down(shape, bodies, so_far)));
    };
    const Settled done = settled(bodies.list, still_of(s, onto), options);
    tell(run, s, done, bodies.flat);
    run.give(put_down(shape, bodies, done));
}

const StepOf<Settle> settle_step(
    StepInfo{
        .key = "settle",
        .name = "Settle",
        .family = Family::copies,
        .purpose = "Lets copies and loose pieces come to rest: dropped in a heap, or hung in a row.",
        .words = "physics rigid body drop fall pile heap simulate gravity chain hang collide",
        .help =
            "Every copy and every loose piece is a stiff body of even density. Dropped, they fall onto the ground "
            "and onto the shape at “onto” and lie. Hung, each is tied to the next half way between their middles "
            "and bends there, like links of a chain, in the order of the copies. The same recipe gives the same heap.",
        .glyph = "M3 20h18 M6 20a3 3 0 0 1 5-3 M11 20a3.5 3.5 0 0 1 7 0 M8 16a3 3 0 1 1 5-2 M12 3v6 M9.5 6.5 L12 9 "
                 "L14.5 6.5",
        .gives = content_any,
        .inputs = {{"shape", "Bodies", content_faces | content_instances | content_curves},
                   {"onto", "Onto", content_faces | content_instances, false}},
        .telling = "{how}"},
    {choice_of(&Settle::how, "how", "How",
               {{Settle::How::drop, "drop", "dropped"}, {Settle::How::hang, "hang", "hung in a row"}},
               "Fall freely, or hold on to one another in a row."),
     when(choice_of(&Settle::hold, "hold", "Held",
                    {{Settle::Hold::ends, "ends", "both ends"},
                     {Settle::Hold::first, "first", "the first"},
                     {Settle::Hold::none, "none", "none"}},
                    "Which of the row stay where they are."),
          "how=hang"),
     when(angle_of(&Settle::bend, "bend", "Bends", 0, 180, "By how much two neighbours may turn against one another."),
          "how=hang"),
     when(angle_of(&Settle::twist, "twist", "Twists", 0, 180, "And about the row: links of a chain turn little."),
          "how=hang"),
     toggle_of(&Settle::ground, "ground", "Ground", "A level plane that nothing falls through."),
     when(offset_of(&Settle::height, "height", "Its height", "Where the plane lies."), "ground"),
     choice_of(&Settle::as, "as", "Form",
               {{Settle::As::hull, "hull", "hull"}, {Settle::As::pieces, "pieces", "convex pieces"}},
               "How a body feels to others: without its hollows, or in several convex pieces that follow them."),
     when(count_of(&Settle::most, "most", "Pieces", 1, 64, 16, "At most so many for a body."), "as=pieces"),
     toggle_of(&Settle::hulls, "hulls", "Copies below as hulls",
               "Copies at “onto” are felt without their hollows: much quicker than every face of theirs."),
     number_of(&Settle::friction, "friction", "Friction", 0, 10,
               "Coefficient between surfaces: 0.2 wet stone, 0.5 wood, 0.7 dry stone, 1 rubber (common practice)."),
     number_of(&Settle::bounce, "bounce", "Bounce", 0, 1,
               "Share of the speed that comes back: 0 sand, 0.5 wood, 0.8 rubber."),
     number_of(&Settle::damping, "damping", "Damping", 0, 1, "Share of the speed that is lost in a second besides."),
     number_of(&Settle::time, "time", "Time", 0, 60, "Seconds that pass at most; it ends when everything lies."),
     number_of(&Settle::stir, "stir", "Stir", 0, 10, "Speed of a first push, each its own way (m/s)."),
     seed_of(&Settle::seed)},
    run_settle);

}  // namespace

}  // namespace bricol
