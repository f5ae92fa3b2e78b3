// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/transform.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct Seat {
    enum class Side { bottom, middle, top };
    enum class Target { bottom, middle, top, ground };
    Side side = Side::bottom;
    Target target = Target::ground;
    double gap = 0;
    bool centred = false;
};

/// The height of a side, counted 0 bottom, 1 middle, 2 top.
double level_of(int side, double low, double high) { return side == 2 ? high : side == 1 ? (low + high) / 2 : low; }

void run_seat(const Seat& s, StepRun& run) {
    const auto box = box_of(run.shape());
    if (!box) return;
    const auto other = box_of(run.input("on"));
    const Seat::Target target = s.target;
    if (!other && target != Seat::Target::ground) {
        run.tell(Severity::error, "nothing-to-sit-on",
                 "There is no other shape to sit on. Link one to “on”, or sit on the ground.");
        return;
    }
    DVec3 move(0);
    const double mine = level_of(static_cast<int>(s.side), box->low.z, box->high.z);
    const double theirs =
        target == Seat::Target::ground ? 0 : level_of(static_cast<int>(target), other->low.z, other->high.z);
    move.z = theirs - mine + s.gap;
    if (s.centred) {
        const DVec3 middle = other ? other->centre() : DVec3(0);
        move.x = middle.x - box->centre().x;
        move.y = middle.y - box->centre().y;
    }
    run.give(transformed(run.shape(), placement(move, DVec3(0), DVec3(1), DVec3(0))));
}

const StepOf<Seat> seat_step(
    StepInfo{.key = "seat",
             .name = "Seat",
             .family = Family::bend,
             .purpose = "Sits a shape by its box: on the ground, or on another shape.",
             .words = "align ground stack drop place floor snap",
             .help = "Measures the shape's own height, so it stays seated when an earlier number changes.",
             .glyph = "M6 5h12v9h-12z M3 19h18 M12 14v5 M9.8 16.8 L12 19 L14.2 16.8",
             .gives = 0,
             .inputs = {{"shape", "Shape", content_any, true}, {"on", "Other shape", content_any, false}},
             .telling = "{side} on {target}"},
    {choice_of(&Seat::side, "side", "Side",
               {{Seat::Side::bottom, "bottom", "bottom"},
                {Seat::Side::middle, "middle", "middle"},
                {Seat::Side::top, "top", "top"}},
               "Which side of this shape is seated."),
     choice_of(&Seat::target, "target", "Rests on",
               {{Seat::Target::ground, "ground", "the ground"},
                {Seat::Target::top, "top", "the other's top"},
                {Seat::Target::middle, "middle", "the other's middle"},
                {Seat::Target::bottom, "bottom", "the other's bottom"}},
               "What it sits on."),
     offset_of(&Seat::gap, "gap", "Gap", "Left free between the two; negative sinks in."),
     toggle_of(&Seat::centred, "centred", "Centred", "Also centres it over the other shape, or over the origin.")},
    run_seat);

}  // namespace

}  // namespace bricol
