// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/array.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>

#include "core/kernels/remove_elements.h"
#include "core/kernels/real_geometry.h"
#include "core/kernels/weld.h"
#include "core/kernels/whole_pieces.h"
#include "core/catalogue/settings.h"
#include "core/ground/words.h"

namespace bricol {

namespace {

struct ArraySettings {
    enum class Kind { straight, radial, grid, repeat };
    enum class Until { count, length };
    enum class Measure { real, own };
    enum class AngleBy { total, each };
    enum class Result { instances, real };
    Kind kind = Kind::straight;
    Until until = Until::count;
    int count = 6;
    double length = 2;
    DVec3 counts{4, 4, 1};
    Measure measure = Measure::real;
    DVec3 offset{0.5, 0, 0};
    DVec3 own{1, 0, 0};
    Axis axis = Axis::z;
    DVec3 centre{0, 0, 0};
    AngleBy angle_by = AngleBy::total;
    double total = 360;
    double each = 45;
    double rise = 0;
    bool turn_copies = true;
    DVec3 turn{0, 0, 15};
    DVec3 size{1, 1, 1};
    Result result = Result::instances;
    bool weld = false;
    double distance = 0.0001;
    bool drop_inner = true;
    double most = 10000;
    bool stretch = false;
};

DVec3 step_of(const ArraySettings& s, const Box& box) {
    return s.measure == ArraySettings::Measure::own ? s.own * box.size() : s.offset;
}

Array<glm::mat4> places_of(const ArraySettings& s, StepRun& run, const Box& box) {
    const ArraySettings::Kind kind = s.kind;
    if (kind == ArraySettings::Kind::radial) {
        const double degrees = s.angle_by == ArraySettings::AngleBy::each ? s.each : angle_between(s.count, s.total);
        return radial_places(s.count, index_of(s.axis), s.centre, degrees, s.rise, s.turn_copies, box.centre());
    }
    if (kind == ArraySettings::Kind::repeat) {
        const DVec3 size = s.size;
        return repeated_places(s.count, placement(s.offset, s.turn, size, s.centre));
    }
    if (kind == ArraySettings::Kind::grid) {
        const DVec3 counts = s.counts;
        std::array<int, 3> n{};
        for (int i = 0; i < 3; ++i) n[i] = static_cast<int>(std::clamp(std::round(counts[i]), 1.0, 1e6));
        if (run.too_many(1.0 * n[0] * n[1] * n[2], s.most, "copies", "Use smaller counts, or raise the bound."))
            return {};
        return grid_places(n, step_of(s, box));
    }
    const DVec3 step = step_of(s, box);
    int count = s.count;
    if (s.until == ArraySettings::Until::length) {
        const double spacing = glm::length(step);
        if (spacing <= 0) {
            run.tell(Severity::error, "no-step", "The step is 0, so no number of copies fills the length.");
            return {};
        }
        const double copies = whole_pieces_in(s.length, spacing);
        if (run.too_many(copies, s.most, "copies", "Use a longer step, or raise the bound.")) return {};
        count = count_to_fill(s.length, spacing);
        if (s.stretch) {  // as many, each a little farther from the next
            const int gaps = std::max(1, static_cast<int>(std::lround(s.length / spacing)));
            return straight_places(gaps, step * (s.length / (spacing * gaps)));
        }
        const double filled = count * spacing, left = s.length - filled;
        if (std::abs(left) > 1e-6 * std::max(s.length, spacing))
            run.tell(Severity::note, "remainder",
                     left > 0 ? fmt::format("{} fill {} of {}; {} stay free.",
                                            counted(static_cast<std::size_t>(count), "copy", "copies"),
                                            format_value(filled, Quantity::length, "m"),
                                            format_value(s.length, Quantity::length, "m"),
                                            format_value(left, Quantity::length, "m"))
                              : fmt::format("One copy is longer than the {} to fill.",
                                            format_value(s.length, Quantity::length, "m")));
    }
    return straight_places(count, step);
}

/// The row as its settings alone say it; none when the shape's own size has a say, or the step is 0.
struct FilledRow {
    double copies = std::numeric_limits<double>::quiet_NaN(), left = copies;
};
FilledRow filled_row(const ArraySettings& s) {
    if (s.kind == ArraySettings::Kind::grid) {
        double copies = 1;
        for (int i = 0; i < 3; ++i) copies *= std::clamp(std::round(s.counts[i]), 1.0, 1e6);
        return {copies, 0};
    }
    if (s.kind != ArraySettings::Kind::straight || s.until == ArraySettings::Until::count)
        return {static_cast<double>(s.count), 0};
    const double spacing = glm::length(s.offset);
    if (s.measure == ArraySettings::Measure::own || spacing <= 0) return {};
    if (s.stretch) return {std::max(1.0, std::round(s.length / spacing)), 0};
    const double copies = count_to_fill(s.length, spacing);
    return {copies, s.length - copies * spacing};
}

/// Copies that lie exactly on one another.
void look_for_doubles(StepRun& run, const Box& box, std::span<const glm::mat4> places) {
    if (places.size() < 2) return;
    const double reach = glm::length(box.size()) / 2;
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
}

/// Joins points of different copies, and takes the walls between them away.
void weld_copies(const ArraySettings& s, StepRun& run, Mesh& mesh, const Mesh& one, std::size_t count) {
    Array<Index> copy(mesh.vertex_count());
    for (std::size_t v = 0; v < copy.size(); ++v) copy[v] = static_cast<Index>(v / (copy.size() / count));
    WeldResult welded = weld_between(mesh, s.distance, copy);
    const Mask inner = doubled_faces(welded.mesh);
    const std::size_t walls = count_of(inner);
    if (walls > 0 && s.drop_inner) {
        welded.mesh = without_faces(welded.mesh, inner);
    } else if (walls > 0) {
        Finding& finding = run.tell(Severity::caution, "inner-faces",
                                    fmt::format("{} back to back between the copies, where nobody sees them.",
                                                walls == 1 ? "1 face lies" : fmt::format("{} faces lie", walls)));
        finding.remedy = Remedy{"Take them away", {{"", run.key_of(s.drop_inner), true}}, {}};
    }
    const std::size_t shorter = edges_shorter(one, s.distance);
    const std::string kept =
        shorter == 0 ? ""
                     : fmt::format(" {} of a copy {} shorter than the distance; points of one copy stay apart.",
                                   counted(shorter, "edge"), shorter == 1 ? "is" : "are");
    if (welded.welded == 0)
        run.tell(Severity::caution, "nothing-welded",
                 "No points of neighbouring copies are near enough to weld. Check the step, or weld within a larger "
                 "distance." +
                     kept);
    else
        run.tell(
            Severity::note, "welded",
            fmt::format("{} of neighbouring copies became one with another.{}", counted(welded.welded, "point"), kept));
    mesh = std::move(welded.mesh);
}

void run_array(const ArraySettings& s, StepRun& run) {
    const ShapePtr source = run.input_pointer("shape");
    const auto box = box_of(*source);
    if (!box) {
        run.give(source);
        return;
    }
    if (s.kind != ArraySettings::Kind::grid &&
        run.too_many(s.count, s.most, "copies", "Use a smaller count, or raise the bound."))
        return;
    Array<glm::mat4> places = places_of(s, run, *box);
    if (places.empty()) return;
    look_for_doubles(run, *box, places);
    Shape shape;
    if (s.result == ArraySettings::Result::instances) {
        shape.instances.emplace_back(source, std::move(places));
        run.give(std::move(shape));
        return;
    }
    const ShapePtr real = real_geometry(source);
    if (run.too_many(static_cast<double>(real->face_count()) * static_cast<double>(places.size()), most_faces, "faces",
                     "Use instances, or fewer copies."))
        return;
    const std::size_t count = places.size();
    Shape copies;
    copies.instances.emplace_back(real, std::move(places));
    shape = *real_geometry(std::make_shared<const Shape>(std::move(copies)));
    if (s.weld && shape.mesh.face_count() > 0) weld_copies(s, run, shape.mesh, real->mesh, count);
    run.give(std::move(shape));
}

const StepOf<ArraySettings> array_step(
    StepInfo{
        .key = "array",
        .name = "Array",
        .family = Family::copies,
        .purpose = "Copies in a row, round an axis, on a grid, or by one transform repeated.",
        .words = "copy repeat duplicate pattern radial circular linear polar",
        .help =
            "The step is a real length or counted in the shape's own size; rows go to a count or fill a length. Round "
            "an axis the copies share a total angle "
            "or keep one angle each (8 copies at 45°, 6 at 60°). Copies are instances, or real geometry whose ends can "
            "be welded, the last to the first too. The first copy counts: a fence of n bays needs n + 1 posts. "
            "Formulas "
            "ask for what is left of a length: `= row.remainder / 2` is half of it.",
        .glyph = "M3 14h5v6h-5z M9.5 9h5v6h-5z M16 4h5v6h-5z",
        .gives = 0,
        .inputs = {{"shape", "Shape", content_any, true}},
        .telling = "{count} copies"},
    {choice_of(&ArraySettings::kind, "kind", "Kind",
               {{ArraySettings::Kind::straight, "straight", "in a row"},
                {ArraySettings::Kind::radial, "radial", "round an axis"},
                {ArraySettings::Kind::grid, "grid", "on a grid"},
                {ArraySettings::Kind::repeat, "repeat", "transform repeated"}},
               "How the copies are laid out."),
     when(choice_of(&ArraySettings::until, "until", "Until",
                    {{ArraySettings::Until::count, "count", "a count"},
                     {ArraySettings::Until::length, "length", "a length is filled"}},
                    "When the row ends."),
          "kind=straight"),
     when(count_of(&ArraySettings::count, "count", "Copies", 1, 1000000, 64, "The first one included."),
          "kind=straight|radial|repeat"),
     when(length_of(&ArraySettings::length, "length", "Length", 0, 20, "The length to fill."), "until=length"),
     when(toggle_of(&ArraySettings::stretch, "stretch", "Stretch the step",
                    "Makes the step a little longer or shorter, so that whole copies fill the length."),
          "until=length"),
     when(vector_of(&ArraySettings::counts, "counts", "Counts", Quantity::count, "Copies along x, y and z."),
          "kind=grid"),
     when(choice_of(&ArraySettings::measure, "measure", "Step in",
                    {{ArraySettings::Measure::real, "real", "lengths"},
                     {ArraySettings::Measure::own, "own", "own sizes"}},
                    "Metres, or how many times the shape's own box."),
          "kind=straight|grid"),
     when(pulled(vector_of(&ArraySettings::offset, "offset", "Step", Quantity::length, "From one copy to the next."),
                 HandleKind::arrow),
          "kind=straight|grid|repeat"),
     when(vector_of(&ArraySettings::own, "own", "Own sizes", Quantity::plain,
                    "From one copy to the next, in sizes of its box."),
          "measure=own"),
     when(axis_of(&ArraySettings::axis, "axis", "Axis", "The copies go round this."), "kind=radial"),
     when(pulled(vector_of(&ArraySettings::centre, "centre", "Centre", Quantity::length,
                           "A point on the axis, or what turning is about."),
                 HandleKind::point),
          "kind=radial|repeat"),
     when(choice_of(&ArraySettings::angle_by, "angle_by", "Angle",
                    {{ArraySettings::AngleBy::total, "total", "shared in total"},
                     {ArraySettings::AngleBy::each, "each", "from copy to copy"}},
                    "What is given."),
          "kind=radial"),
     when(pulled(angle_of(&ArraySettings::total, "total", "Total", -3600, 3600,
                          "Shared by all copies; a full turn closes the ring."),
                 HandleKind::about, "axis", "centre"),
          "angle_by=total"),
     when(pulled(angle_of(&ArraySettings::each, "each", "Each", -360, 360, "From one copy to the next."),
                 HandleKind::about, "axis", "centre"),
          "angle_by=each"),
     when(offset_of(&ArraySettings::rise, "rise", "Rise", "Along the axis from copy to copy."), "kind=radial"),
     when(toggle_of(&ArraySettings::turn_copies, "turn_copies", "Turn the copies",
                    "Copies face outwards; otherwise all the same way."),
          "kind=radial"),
     when(vector_of(&ArraySettings::turn, "turn", "Turn", Quantity::angle, "From one copy to the next."),
          "kind=repeat"),
     when(vector_of(&ArraySettings::size, "size", "Size", Quantity::plain, "Factor from one copy to the next."),
          "kind=repeat"),
     choice_of(&ArraySettings::result, "result", "As",
               {{ArraySettings::Result::instances, "instances", "instances"},
                {ArraySettings::Result::real, "real", "real geometry"}},
               "Instances share one shape; real geometry can be changed on."),
     when(toggle_of(&ArraySettings::weld, "weld", "Weld the ends", "Joins points of neighbouring copies."),
          "result=real"),
     when(length_of(&ArraySettings::distance, "distance", "Within", 0, 0.02, "Points nearer than this are welded."),
          "weld"),
     when(toggle_of(&ArraySettings::drop_inner, "drop_inner", "Drop inner faces",
                    "Takes away faces that lie back to back between copies."),
          "weld"),
     number_of(&ArraySettings::most, "most", "Bound", 1, 1000000,
               "More copies than this are refused; raise it when you mean it.")},
    run_array,
    {{"copies", "Copies", "How many stand there; none when the step is counted in own sizes to fill a length.",
      [](const ArraySettings& s) { return filled_row(s).copies; }},
     {"remainder", "Remainder", "What stays free of the length to fill (metres); below 0 where one copy is longer.",
      [](const ArraySettings& s) { return filled_row(s).left; }}});

}  // namespace

}  // namespace bricol
