// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/transform.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

double level_of(const std::string& side, double low, double high) {
    return side == "top" ? high : side == "middle" ? (low + high) / 2 : low;
}

void run_seat(StepRun& run) {
    const auto box = box_of(run.shape());
    if (!box) return;
    const auto other = box_of(run.input("on"));
    const std::string& target = run.word("target");
    if (!other && target != "ground") {
        run.tell(Severity::error, "nothing-to-sit-on",
                 "There is no other shape to sit on. Link one to “on”, or sit on the ground.");
        return;
    }
    DVec3 move(0);
    const double mine = level_of(run.word("side"), box->low.z, box->high.z);
    const double theirs = target == "ground" ? 0 : level_of(target, other->low.z, other->high.z);
    move.z = theirs - mine + run.number("gap");
    if (run.toggle("centred")) {
        const DVec3 middle = other ? other->centre() : DVec3(0);
        move.x = middle.x - box->centre().x;
        move.y = middle.y - box->centre().y;
    }
    run.give(transformed(run.shape(), placement(move, DVec3(0), DVec3(1), DVec3(0))));
}

const Registered seat_step(StepInfo{
    .key = "seat",
    .name = "Seat",
    .family = Family::bend,
    .purpose = "Sits a shape by its box: on the ground, or on another shape.",
    .words = "align ground stack drop place floor snap",
    .help = "Measures the shape's own height, so it stays seated when an earlier number changes.",
    .glyph = "M6 5h12v9h-12z M3 19h18 M12 14v5 M9.8 16.8 L12 19 L14.2 16.8",
    .gives = 0,
    .inputs = {{"shape", "Shape", content_any, true}, {"on", "Other shape", content_any, false}},
    .parameters = {choice_of("side", "Side", {{"bottom", "bottom"}, {"middle", "middle"}, {"top", "top"}},
                             "Which side of this shape is seated."),
                   choice_of("target", "Rests on",
                             {{"ground", "the ground"},
                              {"top", "the other's top"},
                              {"middle", "the other's middle"},
                              {"bottom", "the other's bottom"}},
                             "What it sits on."),
                   offset_of("gap", "Gap", 0, "Left free between the two; negative sinks in."),
                   toggle_of("centred", "Centred", false, "Also centres it over the other shape, or over the origin.")},
    .telling = "{side} on {target}",
    .make = run_seat});

}  // namespace

}  // namespace bricol
