// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sweep.h"

#include <algorithm>
#include <numbers>

#include "core/steps/shared/path_checks.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct SweepSettings {
    enum class Kind { round, rectangle, curves };
    enum class Caps { flat, none, round };
    enum class Uvs { unit, real };
    Kind kind = Kind::round;
    double radius = 0.02;
    int sides = 12;
    double width = 0.06;
    double height = 0.03;
    bool to_middle = false;
    double scale = 1;
    bool ramped = false;
    DrawnRamp ramp;
    Frames frames = Frames::least;
    DVec3 up{0, 0, 1};
    double roll = 0;
    double twist = 0;
    double twist_each = 0;
    bool mitres = true;
    Caps caps = Caps::flat;
    int cap_rings = 4;
    Uvs uvs = Uvs::unit;
    double smooth = 40;
    std::string start_set;
    std::string end_set;
};

std::vector<SectionLoop> section_of(const SweepSettings& s, StepRun& run) {
    const SweepSettings::Kind kind = s.kind;
    if (kind == SweepSettings::Kind::round) return {round_section(s.radius, s.sides)};
    if (kind == SweepSettings::Kind::rectangle) return {rectangle_section(s.width, s.height)};
    const ShapePtr shape = run.input_pointer("section");
    const std::vector<Polyline> lines = shape ? lines_of(*shape) : std::vector<Polyline>{};
    double off = 0;
    std::vector<SectionLoop> loops = sections_from(lines, s.to_middle, &off);
    std::size_t open = 0;
    std::erase_if(loops, [](const SectionLoop& loop) { return loop.points.size() < 2; });
    for (const SectionLoop& loop : loops) {
        open += !loop.closed;
        if (loop.closed && has_no_area(loop))
            run.tell(Severity::caution, "no-area",
                     "A closed line of the section has no area: its walls lie on one another. Move its knots apart.");
    }
    if (loops.empty())
        run.tell(Severity::error, "no-section",
                 "There is no section. Link curves at “section”, or choose a round or rectangular one.");
    if (open > 0 && s.caps != SweepSettings::Caps::none)
        run.tell(
            Severity::note, "open-section",
            fmt::format("{} line{} of the section {} open: {} no caps and a surface without thickness. Close the curve "
                        "for a solid.",
                        open, open == 1 ? "" : "s", open == 1 ? "is" : "are", open == 1 ? "it gives" : "they give"));
    if (off > 1e-5)
        run.tell(Severity::note, "section-not-flat",
                 fmt::format("The section leaves its plane by {}, which is left out.",
                             format_value(off, Quantity::length, "m")));
    return loops;
}

void tell_tight_bends(StepRun& run, const std::vector<TightBend>& tight) {
    if (tight.empty()) return;
    const auto worst = std::ranges::min_element(tight, {}, [](const TightBend& t) { return t.radius - t.needs; });
    Finding& finding = run.tell(Severity::caution, "tight-bend",
                                tight_bend_text("section", worst->radius, worst->needs, tight.size()));
    for (const TightBend& t : tight) finding.places.push_back(t.at);
}

/// Rings stand at the path's points alone: on a straight path there are two, and a full turn between them is none.
void tell_coarse_twist(const SweepSettings& s, StepRun& run, double steepest, const std::vector<Path>& paths) {
    constexpr double most = 45;
    if (glm::degrees(steepest) <= most || s.kind == SweepSettings::Kind::round) return;
    const double longest = shortest_piece(paths) * glm::radians(most / 3) / steepest;
    run.tell(Severity::caution, "coarse-twist",
             fmt::format("The section turns by {:.4g}° from one ring to the next, so the walls between go astray. "
                         "Resample the path before it: no piece longer than {}.",
                         glm::degrees(steepest), format_value(longest, Quantity::length, "m")));
}

void run_sweep(const SweepSettings& s, StepRun& run) {
    PathOptions frames = path_options(s.frames, s.up);
    frames.turn_over = false;
    const std::vector<Path> paths = paths_of(run, run.shape(), frames);
    if (paths.empty()) return;
    const std::vector<SectionLoop> section = section_of(s, run);
    if (section.empty()) return;
    double rings = 0, sides = 0;
    for (const Path& path : paths) rings += static_cast<double>(path.size());
    for (const SectionLoop& loop : section) sides += static_cast<double>(loop.points.size());
    if (run.too_many(rings * sides, most_faces, "faces", "Use fewer pieces along the path or round the section."))
        return;

    SweepOptions options;
    const DrawnRamp& ramp = s.ramp;
    const double scale = s.scale;
    if (s.ramped)
        options.width = [&](double t) { return scale * ramp.value(t); };
    else
        options.width = [scale](double) { return scale; };
    const SweepSettings::Caps caps = s.caps;
    options.caps = caps == SweepSettings::Caps::none    ? SweepCaps::none
                   : caps == SweepSettings::Caps::round ? SweepCaps::round
                                                        : SweepCaps::flat;
    options.cap_rings = s.cap_rings;
    options.mitres = s.mitres;
    options.real_uvs = s.uvs == SweepSettings::Uvs::real;
    options.smooth_angle = static_cast<float>(s.smooth);
    options.roll = glm::radians(s.roll);

    options.twist = glm::radians(s.twist);
    SweptPaths swept = swept_paths(paths, section, std::move(options), glm::radians(s.twist_each));
    const double gap = swept.all.closing_gap;
    const std::size_t long_mitres = swept.all.long_mitres;
    tell_coarse_twist(s, run, swept.between_rings, paths);
    tell_tight_bends(run, swept.all.tight);
    look_at_ends(run, paths);
    look_at_pieces(run, paths);
    if (long_mitres > 0)
        run.tell(Severity::note, "long-mitre",
                 fmt::format("{} corner{} so sharp that the mitre was cut short. Round the corner.", long_mitres,
                             long_mitres == 1 ? " is" : "s are"));
    if (std::abs(gap) > 1e-6)
        run.tell(
            Severity::note, "closing-twist",
            fmt::format(
                "The section would miss itself by {:.3g}° where the path closes; only whole turns of twist are kept.",
                gap));
    if (swept.most_twist > 1e-9 && s.kind == SweepSettings::Kind::round && !s.ramped)
        run.tell(Severity::note, "needless-twist",
                 "A round section looks the same however it is twisted; the twist only shears its faces.")
            .remedy =
            Remedy{"Take the twist away", {{"", run.key_of(s.twist), 0.0}, {"", run.key_of(s.twist_each), 0.0}}, {}};
    Shape shape;
    shape.mesh = std::move(swept.all.mesh);
    run.name_set(shape.mesh, Domain::face, s.start_set, std::move(swept.all.start));
    run.name_set(shape.mesh, Domain::face, s.end_set, std::move(swept.all.end));
    run.give(std::move(shape));
}

const StepOf<SweepSettings> sweep_step(
    StepInfo{
        .key = "sweep",
        .name = "Sweep",
        .family = Family::surface,
        .purpose = "Draws a section along a path: pipes, cables, mouldings, tapering tubes.",
        .words = "pipe tube extrude along path cable hose rail moulding bundle follow",
        .help =
            "The section is round, rectangular, or any curves, several loops at once, a loop inside another one as its "
            "hole. A drawn section stands as it is seen in its flat view when one looks along the path; its origin "
            "travels on the path. "
            "Its width follows a ramp and the knots' own radius. Corners of the path are mitred. Points carry `along`, "
            "0 to 1, for gradients.",
        .glyph = "M4 19 C4 10 20 14 20 5 M2 19a2 2 0 1 0 4 0a2 2 0 1 0 -4 0 M18 5a2 2 0 1 0 4 0a2 2 0 1 0 -4 0",
        .inputs = {{"shape", "Path", content_curves | content_edges, true},
                   {"section", "Section", content_curves | content_edges, false}},
        .telling = "{kind}"},
    {choice_of(&SweepSettings::kind, "kind", "Kind",
               {{SweepSettings::Kind::round, "round", "round"},
                {SweepSettings::Kind::rectangle, "rectangle", "rectangle"},
                {SweepSettings::Kind::curves, "curves", "linked curves"}},
               "What is drawn along the path."),
     when(length_of(&SweepSettings::radius, "radius", "Radius", 1e-6, 0.5, "Of the round section."), "kind=round"),
     when(count_of(&SweepSettings::sides, "sides", "Sides", 3, 2048, 48, "Faces round the section."), "kind=round"),
     when(length_of(&SweepSettings::width, "width", "Width", 1e-6, 1, "Across the path."), "kind=rectangle"),
     when(length_of(&SweepSettings::height, "height", "Height", 1e-6, 1, "Upwards from the path."), "kind=rectangle"),
     when(toggle_of(&SweepSettings::to_middle, "to_middle", "Middle on path",
                    "The middle of the section's box travels on the path, not its origin."),
          "kind=curves"),
     number_of(&SweepSettings::scale, "scale", "Scale", 0, 1000, "Factor on the section."),
     toggle_of(&SweepSettings::ramped, "ramped", "Width by ramp", "Changes the width along the path as drawn."),
     when(kind_of(&SweepSettings::ramp, ParameterKind::ramp, "ramp", "Width",
                  "Factor on the section from start to end."),
          "ramped"),
     frames_of(&SweepSettings::frames),
     up_of(&SweepSettings::up),
     angle_of(&SweepSettings::roll, "roll", "Roll", -360, 360, "Turns the section about the path."),
     angle_of(&SweepSettings::twist, "twist", "Twist", -36000, 36000, "From start to end in all."),
     angle_of(&SweepSettings::twist_each, "twist_each", "Twist per metre", -36000, 36000, "Added for every metre."),
     toggle_of(&SweepSettings::mitres, "mitres", "Mitre corners",
               "Keeps the width on both sides of the path's corners."),
     choice_of(&SweepSettings::caps, "caps", "Caps",
               {{SweepSettings::Caps::flat, "flat", "flat"},
                {SweepSettings::Caps::none, "none", "none"},
                {SweepSettings::Caps::round, "round", "round"}},
               "How open ends are closed."),
     when(count_of(&SweepSettings::cap_rings, "cap_rings", "Rings per cap", 1, 64, 12, "Of round caps."), "caps=round"),
     choice_of(&SweepSettings::uvs, "uvs", "UVs",
               {{SweepSettings::Uvs::unit, "unit", "0 to 1"}, {SweepSettings::Uvs::real, "real", "in metres"}},
               "Stretched over the whole shape, or in real lengths."),
     angle_of(&SweepSettings::smooth, "smooth", "Sharp over", 0, 180,
              "Corners that turn by more than this look sharp."),
     new_set_of(&SweepSettings::start_set, "start_set", "Start as set", "A name for the faces that close the start."),
     new_set_of(&SweepSettings::end_set, "end_set", "End as set", "A name for those that close the end.")},
    run_sweep);

}  // namespace

}  // namespace bricol
