// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/svg_outline.h"

#include <fmt/format.h>

#include "core/kernels/transform.h"
#include "core/catalogue/draw_plane.h"
#include "core/catalogue/step.h"

namespace bricol {

namespace {

void run_svg_outline(StepRun& run) {
    if (run.word("file").empty()) {
        run.tell(Severity::error, "no-file", "No drawing has been chosen. Choose an SVG file.");
        return;
    }
    if (!run.read) {
        run.tell(Severity::error, "no-file", "Files cannot be read here.");
        return;
    }
    const auto text = run.read(run.word("file"));
    if (!text) {
        run.tell(Severity::error, "no-file", text.problem().text());
        return;
    }
    auto outline = read_svg_outline(**text, static_cast<std::size_t>(200000 * run.raise_bounds), run.stop);
    if (!outline) {
        run.tell(Severity::error, "bad-drawing", outline.problem().text());
        return;
    }
    if (run.stopped()) return;
    Shape shape;
    shape.curves = std::move(outline->curves);
    for (const std::string& note : outline->notes) run.tell(Severity::note, "left-out", note);
    const auto box = box_of(shape);
    if (!box) {
        run.tell(Severity::caution, "empty-drawing", "There is no outline in the drawing.");
        run.give(std::move(shape));
        return;
    }
    double scale = run.number("scale");
    if (run.word("size") == "height") {
        if (box->size().z <= 0) {
            run.tell(Severity::error, "no-height", "The drawing has no height to fit. Use its own size.");
            return;
        }
        scale = run.number("height") / box->size().z;
    }
    const std::string& origin = run.word("origin");
    const DVec3 pivot = origin == "page"     ? DVec3(0)
                        : origin == "middle" ? box->centre()
                                             : DVec3(box->centre().x, 0, box->low.z);
    const std::string& plane = run.word("plane");
    for (Curve& curve : shape.curves) {
        curve.sampling.per_span = run.integer("pieces");
        for (Knot& knot : curve.knots) {
            const auto placed = [&](const DVec3& v) {
                return Vec3(plane == "front"  ? DVec3(v.x, 0, v.z)
                            : plane == "side" ? DVec3(0, v.x, v.z)
                                              : DVec3(v.x, v.z, 0));
            };
            knot.at = placed((DVec3(knot.at) - pivot) * scale);
            knot.in = placed(DVec3(knot.in) * scale);
            knot.out = placed(DVec3(knot.out) * scale);
        }
        curve.plane = flat_plane(plane);
    }
    run.give(std::move(shape));
}

const Registered svg_outline_step(StepInfo{
    .key = "svg_outline",
    .name = "Outline from SVG",
    .family = Family::curves,
    .purpose = "Curves from a vector drawing, in its real size.",
    .words = "import drawing logo vector path file",
    .help = "Paths and basic shapes with their groups and transforms. Millimetres, centimetres, inches, points and "
            "pixels (96 to an inch) are kept; holes are curves inside others, as Fill and Sweep take them. The file "
            "stands beside the recipe and is read again when it changes.",
    .glyph = "M5 3h10l4 4v14H5z M8 16 C8 10 16 18 16 11 M7 15h2v2H7z M15 10h2v2h-2z",
    .gives = content_curves,
    .inputs = {},
    .parameters = {file_of("file", "File", "Drawings (*.svg)", "An SVG file beside this recipe."),
                   choice_of("size", "Size", {{"own", "its own"}, {"height", "to a height"}},
                             "Real lengths of the drawing, or fitted."),
                   when(length_of("height", "Height", 0.2, 1e-6, 2, "Of all outlines together."), "size=height"),
                   when(number_of("scale", "Scale", 1, 1e-6, 1e6, "A factor on the drawing's own size."), "size=own"),
                   choice_of("origin", "Origin",
                             {{"base", "middle of its base"}, {"middle", "its middle"}, {"page", "the page's corner"}},
                             "What lies at the origin."),
                   choice_of("plane", "Plane", {{"front", "front"}, {"side", "side"}, {"top", "top"}},
                             "The flat view it stands in."),
                   sampling_of("pieces")},
    .telling = "{file}",
    .make = run_svg_outline});

}  // namespace

}  // namespace bricol
