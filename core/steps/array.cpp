// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/array.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/kernels/edit_faces.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/weld.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

DVec3 step_of(StepRun& run, const Box& box) {
    return run.word("measure") == "own" ? run.vector("own") * box.size() : run.vector("offset");
}

Array<glm::mat4> places_of(StepRun& run, const Box& box) {
    const std::string& kind = run.word("kind");
    if (kind == "radial") {
        const double degrees = run.word("angle_by") == "each"
                                   ? run.number("each")
                                   : angle_between(run.integer("count"), run.number("total"));
        return radial_places(run.integer("count"), run.axis("axis"), run.vector("centre"), degrees, run.number("rise"),
                             run.toggle("turn_copies"), box.centre());
    }
    if (kind == "repeat") {
        const DVec3 size = run.vector("size");
        return repeated_places(run.integer("count"),
                               placement(run.vector("offset"), run.vector("turn"), size, run.vector("centre")));
    }
    if (kind == "grid") {
        const DVec3 counts = run.vector("counts");
        std::array<int, 3> n{};
        for (int i = 0; i < 3; ++i) n[i] = static_cast<int>(std::clamp(std::round(counts[i]), 1.0, 1e6));
        if (run.too_many(1.0 * n[0] * n[1] * n[2], run.number("most"), "copies",
                         "Use smaller counts, or raise the bound."))
            return {};
        return grid_places(n, step_of(run, box));
    }
    const DVec3 step = step_of(run, box);
    int count = run.integer("count");
    if (run.word("until") == "length") {
        const double spacing = glm::length(step);
        if (spacing <= 0) {
            run.tell(Severity::error, "no-step", "The step is 0, so no number of copies fills the length.");
            return {};
        }
        const double copies = std::floor(run.number("length") / spacing + 1e-9);
        if (run.too_many(copies, run.number("most"), "copies", "Use a longer step, or raise the bound.")) return {};
        count = count_to_fill(run.number("length"), spacing);
    }
    return straight_places(count, step);
}

/// Neighbouring copies whose boxes cut deep into one another although their faces do not meet.
void look_for_overlap(StepRun& run, const Box& box, std::span<const glm::mat4> places) {
    if (places.size() < 2) return;
    const DVec3 size = box.size();
    const double reach = glm::length(size) / 2;
    std::size_t overlapping = 0;
    Vec3 where(0);
    for (std::size_t i = 1; i < places.size(); ++i) {
        const DVec3 a(places[i - 1] * Vec4(Vec3(box.centre()), 1)), b(places[i] * Vec4(Vec3(box.centre()), 1));
        const bool same = glm::distance(a, b) < 1e-6 * std::max(reach, 1e-9);
        if (same && places[i - 1] == places[i]) ++overlapping, where = Vec3(b);
    }
    if (overlapping > 0) {
        Finding& finding =
            run.tell(Severity::caution, "copies-overlap",
                     fmt::format("{} cop{} exactly on the one before. Give the array a step or an angle.", overlapping,
                                 overlapping == 1 ? "y lies" : "ies lie"));
        finding.places = {where};
    }
    const std::string& kind = run.word("kind");
    if (kind == "straight") {
        const DVec3 along(places[1][3] - places[0][3]);
        const double step = glm::length(along);
        double room = 0;  // how much of the shape lies along the step
        for (int i = 0; i < 3 && step > 0; ++i) room += std::abs(along[i]) / step * size[i];
        if (step > 0 && step < room * (1 - 1e-4) && run.word("measure") == "real")
            run.tell(Severity::note, "copies-overlap",
                     fmt::format("Neighbouring copies overlap by up to {}.",
                                 format_value(room - step, Quantity::length, "m")));
        return;
    }
    if (kind != "radial" || run.toggle("weld")) return;
    // The wedge a copy has to itself, against the wedge its own box takes up as seen from the axis.
    const int axis = run.axis("axis"), a = (axis + 1) % 3, b = (axis + 2) % 3;
    const DVec3 centre = run.vector("centre");
    const glm::dvec2 middle(box.centre()[a] - centre[a], box.centre()[b] - centre[b]);
    if (glm::length(middle) < 1e-9) return;
    double widest = 0;
    bool around = false;
    for (int corner = 0; corner < 4; ++corner) {
        const glm::dvec2 p((corner & 1 ? box.high : box.low)[a] - centre[a],
                           (corner & 2 ? box.high : box.low)[b] - centre[b]);
        widest = std::max(widest, std::abs(std::atan2(middle.x * p.y - middle.y * p.x, glm::dot(middle, p))));
        around |= glm::dot(middle, p) <= 0;
    }
    const double degrees = run.word("angle_by") == "each"
                               ? std::abs(run.number("each"))
                               : std::abs(angle_between(run.integer("count"), run.number("total")));
    if (!around && run.number("rise") == 0 && degrees > 0 && 2 * glm::degrees(widest) > degrees * (1 + 1e-3))
        run.tell(Severity::note, "copies-overlap",
                 fmt::format("The box of a copy takes up {:.3g}° as seen from the axis, and the next one stands "
                             "{:.3g}° on: they may overlap near the axis.",
                             2 * glm::degrees(widest), degrees));
}

void run_array(StepRun& run) {
    const ShapePtr source = run.input_pointer("shape");
    const auto box = box_of(*source);
    if (!box) {
        run.give(source);
        return;
    }
    if (run.word("kind") != "grid" &&
        run.too_many(run.integer("count"), run.number("most"), "copies", "Use a smaller count, or raise the bound."))
        return;
    Array<glm::mat4> places = places_of(run, *box);
    if (places.empty()) return;
    look_for_overlap(run, *box, places);
    Shape shape;
    if (run.word("result") == "instances") {
        shape.instances.push_back({source, std::move(places), {}});
        run.give(std::move(shape));
        return;
    }
    const ShapePtr real = real_geometry(source);
    if (run.too_many(static_cast<double>(real->face_count()) * static_cast<double>(places.size()), most_faces, "faces",
                     "Use instances, or fewer copies."))
        return;
    Shape copies;
    copies.instances.push_back({real, std::move(places), {}});
    shape = *real_geometry(std::make_shared<const Shape>(std::move(copies)));
    if (run.toggle("weld") && shape.mesh.face_count() > 0) {
        WeldResult welded = weld(shape.mesh, run.number("distance"), false);
        const Mask inner = doubled_faces(welded.mesh);
        const std::size_t walls = count_of(inner);
        if (walls > 0 && run.toggle("drop_inner")) {
            welded.mesh = without_faces(welded.mesh, inner);
        } else if (walls > 0) {
            Finding& finding =
                run.tell(Severity::caution, "inner-faces",
                         fmt::format("{} faces lie back to back between the copies, where nobody sees them.", walls));
            finding.remedy = Remedy{"Take them away", {{"", "drop_inner", true}}, {}};
        }
        if (welded.welded == 0)
            run.tell(Severity::note, "nothing-welded",
                     "No points of neighbouring copies are near enough to weld. Check the step, or weld within a "
                     "larger distance.");
        shape.mesh = std::move(welded.mesh);
    }
    run.give(std::move(shape));
}

const Registered array_step(StepInfo{
    .key = "array",
    .name = "Array",
    .family = Family::copies,
    .purpose = "Copies in a row, round an axis, on a grid, or by one transform repeated.",
    .words = "copy repeat duplicate pattern radial circular linear polar",
    .help = "The step is a real length or counted in the shape's own size; rows go to a count or fill a length. Round "
            "an axis the copies share a total angle "
            "or keep one angle each (8 copies at 45°, 6 at 60°). Copies are instances, or real geometry whose ends can "
            "be welded, the last to the first too.",
    .glyph = "M3 14h5v6h-5z M9.5 9h5v6h-5z M16 4h5v6h-5z",
    .gives = 0,
    .inputs = {{"shape", "Shape", content_any, true}},
    .parameters =
        {choice_of("kind", "Kind",
                   {{"straight", "in a row"},
                    {"radial", "round an axis"},
                    {"grid", "on a grid"},
                    {"repeat", "transform repeated"}},
                   "How the copies are laid out."),
         when(choice_of("until", "Until", {{"count", "a count"}, {"length", "a length is filled"}},
                        "When the row ends."),
              "kind=straight"),
         when(count_of("count", "Copies", 6, 1, 1000000, 64, "The first one included."), "kind=straight|radial|repeat"),
         when(length_of("length", "Length", 2, 0, 20, "The length to fill."), "until=length"),
         when(vector_of("counts", "Counts", Quantity::count, {4, 4, 1}, "Copies along x, y and z."), "kind=grid"),
         when(choice_of("measure", "Step in", {{"real", "lengths"}, {"own", "own sizes"}},
                        "Metres, or how many times the shape's own box."),
              "kind=straight|grid"),
         when(pulled(vector_of("offset", "Step", Quantity::length, {0.5, 0, 0}, "From one copy to the next."),
                     HandleKind::arrow),
              "kind=straight|grid|repeat"),
         when(vector_of("own", "Own sizes", Quantity::plain, {1, 0, 0},
                        "From one copy to the next, in sizes of its box."),
              "measure=own"),
         when(axis_of("axis", "Axis", "z", "The copies go round this."), "kind=radial"),
         when(pulled(vector_of("centre", "Centre", Quantity::length, {0, 0, 0},
                               "A point on the axis, or what turning is about."),
                     HandleKind::point),
              "kind=radial|repeat"),
         when(choice_of("angle_by", "Angle", {{"total", "shared in total"}, {"each", "from copy to copy"}},
                        "What is given."),
              "kind=radial"),
         when(pulled(angle_of("total", "Total", 360, -3600, 3600, "Shared by all copies; a full turn closes the ring."),
                     HandleKind::about, "axis", "centre"),
              "angle_by=total"),
         when(pulled(angle_of("each", "Each", 45, -360, 360, "From one copy to the next."), HandleKind::about, "axis",
                     "centre"),
              "angle_by=each"),
         when(offset_of("rise", "Rise", 0, "Along the axis from copy to copy."), "kind=radial"),
         when(toggle_of("turn_copies", "Turn the copies", true, "Copies face outwards; otherwise all the same way."),
              "kind=radial"),
         when(vector_of("turn", "Turn", Quantity::angle, {0, 0, 15}, "From one copy to the next."), "kind=repeat"),
         when(vector_of("size", "Size", Quantity::plain, {1, 1, 1}, "Factor from one copy to the next."),
              "kind=repeat"),
         choice_of("result", "As", {{"instances", "instances"}, {"real", "real geometry"}},
                   "Instances share one shape; real geometry can be changed on."),
         when(toggle_of("weld", "Weld the ends", false, "Joins points of neighbouring copies."), "result=real"),
         when(length_of("distance", "Within", 0.0001, 0, 0.02, "Points nearer than this are welded."), "weld"),
         when(toggle_of("drop_inner", "Drop inner faces", true,
                        "Takes away faces that lie back to back between copies."),
              "weld"),
         number_of("most", "Bound", 10000, 1, 1000000,
                   "More copies than this are refused; raise it when you mean it.")},
    .telling = "{count} copies",
    .make = run_array});

}  // namespace

}  // namespace bricol
