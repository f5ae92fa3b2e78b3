// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/settle_bodies.h"

#include <fmt/format.h>

#include "core/catalogue/settings.h"
#include "core/ground/words.h"
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

constexpr double most_bodies = 20000, most_still = 2e6;

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
                 fmt::format("{} inside others and {} pushed apart: leave more room between them.",
                             counted(done.crossing, "body begins", "bodies begin"), done.crossing == 1 ? "is" : "are"));
    if (done.moving > 0)
        run.tell(Severity::caution, "still-moving",
                 fmt::format("{} of {} bodies still {} after {} s: raise “time” or “damping”.", done.moving,
                             done.fell.size(), done.moving == 1 ? "moves" : "move", format_number(s.time, 2)));
    if (flat > 0)
        run.tell(Severity::caution, "flat",
                 fmt::format("{} nothing to lie on and stay{} in place. Thicken what is flat.",
                             counted(flat, "flat body has", "flat bodies have"), flat == 1 ? "s" : ""));
}

void run_settle(const Settle& s, StepRun& run) {
    const Shape& shape = run.shape();
    double count = 0;
    for (const Instances& group : shape.instances) count += static_cast<double>(group.count());
    if (run.too_many(count, most_bodies, "bodies", "Use fewer copies.")) return;
    SettleBodies bodies = settle_bodies(shape, s.as == Settle::As::pieces ? static_cast<std::size_t>(s.most) : 0);
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
    const Settled done = settled(bodies.list, settle_still(onto, s.hulls), options);
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
