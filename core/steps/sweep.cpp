// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/sweep.h"

#include <algorithm>
#include <numbers>

#include "core/steps/path_checks.h"

namespace bricol {

namespace {

std::vector<SectionLoop> section_of(StepRun& run) {
    const std::string& kind = run.word("kind");
    if (kind == "round") return {round_section(run.number("radius"), run.integer("sides"))};
    if (kind == "rectangle") return {rectangle_section(run.number("width"), run.number("height"))};
    const ShapePtr shape = run.input_pointer("section");
    const std::vector<Polyline> lines = shape ? lines_of(*shape) : std::vector<Polyline>{};
    double off = 0;
    std::vector<SectionLoop> loops = sections_from(lines, run.toggle("to_middle"), &off);
    std::size_t open = 0;
    std::erase_if(loops, [](const SectionLoop& loop) { return loop.points.size() < 2; });
    for (const SectionLoop& loop : loops) {
        open += !loop.closed;
        double area = 0, edge = 0;
        for (std::size_t i = 0; i < loop.points.size(); ++i) {
            const DVec2 &a = loop.points[i], &b = loop.points[(i + 1) % loop.points.size()];
            area += (a.x * b.y - a.y * b.x) / 2;
            edge = std::max(edge, glm::distance(a, loop.points[0]));
        }
        if (loop.closed && std::abs(area) < 1e-6 * edge * edge)
            run.tell(Severity::caution, "no-area",
                     "A closed line of the section has no area: its walls lie on one another. Move its knots apart.");
    }
    if (loops.empty())
        run.tell(Severity::error, "no-section",
                 "There is no section. Link curves at “section”, or choose a round or rectangular one.");
    if (open > 0 && run.word("caps") != "none")
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

void report_tight(StepRun& run, const std::vector<TightBend>& tight) {
    if (tight.empty()) return;
    const auto worst = std::ranges::min_element(tight, {}, [](const TightBend& t) { return t.radius - t.needs; });
    Finding& finding = run.tell(Severity::caution, "tight-bend",
                                tight_bend_text("section", worst->radius, worst->needs, tight.size()));
    for (const TightBend& t : tight) finding.places.push_back(t.at);
}

void run_sweep(StepRun& run) {
    const std::vector<Path> paths = paths_of(run, run.shape(), path_options(run));
    if (paths.empty()) return;
    const std::vector<SectionLoop> section = section_of(run);
    if (section.empty()) return;
    double rings = 0, sides = 0;
    for (const Path& path : paths) rings += static_cast<double>(path.size());
    for (const SectionLoop& loop : section) sides += static_cast<double>(loop.points.size());
    if (run.too_many(rings * sides, most_faces, "faces", "Use fewer pieces along the path or round the section."))
        return;

    SweepOptions options;
    const DrawnRamp& ramp = run.as<DrawnRamp>("ramp");
    const double scale = run.number("scale");
    if (run.toggle("ramped"))
        options.width = [&](double t) { return scale * ramp.value(t); };
    else
        options.width = [scale](double) { return scale; };
    const std::string& caps = run.word("caps");
    options.caps = caps == "none" ? SweepCaps::none : caps == "round" ? SweepCaps::round : SweepCaps::flat;
    options.cap_rings = run.integer("cap_rings");
    options.mitres = run.toggle("mitres");
    options.real_uvs = run.word("uvs") == "real";
    options.smooth_angle = run.real("smooth");
    options.roll = glm::radians(run.number("roll"));
    options.stop = run.stop;

    std::vector<Mesh> meshes;
    std::vector<TightBend> tight;
    Mask start, end;
    std::size_t long_mitres = 0;
    double gap = 0, most_twist = 0;
    for (const Path& path : paths) {
        options.twist = glm::radians(run.number("twist") + run.number("twist_each") * path.whole);
        SweepResult one = sweep(path, section, options);
        if (run.stopped()) return;
        meshes.push_back(std::move(one.mesh));
        start.insert(start.end(), one.start.begin(), one.start.end());
        end.insert(end.end(), one.end.begin(), one.end.end());
        tight.insert(tight.end(), one.tight.begin(), one.tight.end());
        long_mitres += one.long_mitres;
        if (std::abs(one.closing_gap) > std::abs(gap)) gap = one.closing_gap;
        most_twist = std::max(most_twist, std::abs(options.twist));
    }
    report_tight(run, tight);
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
    if (most_twist > 1e-9 && run.word("kind") == "round" && !run.toggle("ramped"))
        run.tell(Severity::note, "needless-twist",
                 "A round section looks the same however it is twisted; the twist only shears its faces.")
            .remedy = Remedy{"Take the twist away", {{"", "twist", 0.0}, {"", "twist_each", 0.0}}, {}};
    Shape shape;
    shape.mesh = meshes.size() == 1 ? std::move(meshes[0]) : joined_meshes(meshes);
    run.name_set(shape.mesh, Domain::face, "start_set", std::move(start));
    run.name_set(shape.mesh, Domain::face, "end_set", std::move(end));
    run.give(std::move(shape));
}

const Registered sweep_step(StepInfo{
    .key = "sweep",
    .name = "Sweep",
    .family = Family::surface,
    .purpose = "Draws a section along a path: pipes, cables, mouldings, tapering tubes.",
    .words = "pipe tube extrude along path cable hose rail moulding bundle follow",
    .help = "The section is round, rectangular, or any curves, several loops at once, a loop inside another one as its "
            "hole. A drawn section stands as it is seen in its flat view when one looks along the path; its origin "
            "travels on the path. "
            "Its width follows a ramp and the knots' own radius. Corners of the path are mitred. Points carry `along`, "
            "0 to 1, for gradients.",
    .glyph = "M4 19 C4 10 20 14 20 5 M2 19a2 2 0 1 0 4 0a2 2 0 1 0 -4 0 M18 5a2 2 0 1 0 4 0a2 2 0 1 0 -4 0",
    .inputs = {{"shape", "Path", content_curves | content_edges, true},
               {"section", "Section", content_curves | content_edges, false}},
    .parameters = {choice_of("kind", "Kind",
                             {{"round", "round"}, {"rectangle", "rectangle"}, {"curves", "linked curves"}},
                             "What is drawn along the path."),
                   when(length_of("radius", "Radius", 0.02, 1e-6, 0.5, "Of the round section."), "kind=round"),
                   when(count_of("sides", "Sides", 12, 3, 2048, 48, "Faces round the section."), "kind=round"),
                   when(length_of("width", "Width", 0.06, 1e-6, 1, "Across the path."), "kind=rectangle"),
                   when(length_of("height", "Height", 0.03, 1e-6, 1, "Upwards from the path."), "kind=rectangle"),
                   when(toggle_of("to_middle", "Middle on path", false,
                                  "The middle of the section's box travels on the path, not its origin."),
                        "kind=curves"),
                   number_of("scale", "Scale", 1, 0, 1000, "Factor on the section."),
                   toggle_of("ramped", "Width by ramp", false, "Changes the width along the path as drawn."),
                   when(kind_of(ParameterKind::ramp, "ramp", "Width", "Factor on the section from start to end."),
                        "ramped"),
                   frames_of(),
                   up_of(),
                   angle_of("roll", "Roll", 0, -360, 360, "Turns the section about the path."),
                   angle_of("twist", "Twist", 0, -36000, 36000, "From start to end in all."),
                   angle_of("twist_each", "Twist per metre", 0, -36000, 36000, "Added for every metre."),
                   toggle_of("mitres", "Mitre corners", true, "Keeps the width on both sides of the path's corners."),
                   choice_of("caps", "Caps", {{"flat", "flat"}, {"none", "none"}, {"round", "round"}},
                             "How open ends are closed."),
                   when(count_of("cap_rings", "Rings per cap", 4, 1, 64, 12, "Of round caps."), "caps=round"),
                   choice_of("uvs", "UVs", {{"unit", "0 to 1"}, {"real", "in metres"}},
                             "Stretched over the whole shape, or in real lengths."),
                   angle_of("smooth", "Sharp over", 40, 0, 180, "Corners that turn by more than this look sharp."),
                   new_set_of("start_set", "Start as set", "", "A name for the faces that close the start."),
                   new_set_of("end_set", "End as set", "", "A name for those that close the end.")},
    .telling = "{kind}",
    .make = run_sweep});

}  // namespace

}  // namespace bricol
