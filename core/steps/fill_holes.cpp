// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "core/kernels/fill_holes.h"
#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct FillHoles {
    enum class Style { face, fan, triangles };
    Style style = Style::face;
    int most_sides = 0;
    std::string only;
    std::string set;
};

void run_fill_holes(const FillHoles& s, StepRun& run) {
    Shape shape = run.shape();
    const FillHoles::Style style = s.style;
    std::size_t made = 0;
    const std::size_t before = shape.mesh.face_count();
    shape.mesh = with_holes_filled(shape.mesh,
                                   style == FillHoles::Style::fan         ? HoleFill::fan
                                   : style == FillHoles::Style::triangles ? HoleFill::triangles
                                                                          : HoleFill::face,
                                   s.most_sides, run.chosen(shape.mesh, Domain::edge, s.only), &made);
    run.tell(Severity::note, "filled",
             made == 0 ? "There is no hole to fill." : fmt::format("{} hole{} filled.", made, made == 1 ? "" : "s"));
    if (made > 0) {
        for (const Domain domain : {Domain::vertex, Domain::corner})
            shape.mesh.attributes.remove(domain, attribute_name::normal);
        Mask fresh(before, 0);
        fresh.resize(shape.mesh.face_count(), 1);
        run.name_set(shape.mesh, Domain::face, s.set, std::move(fresh));
    }
    run.give(std::move(shape));
}

const StepOf<FillHoles> fill_holes_step(
    StepInfo{.key = "fill_holes",
             .name = "Fill holes",
             .family = Family::faces,
             .purpose = "Closes open borders.",
             .words = "cap close patch border lid",
             .help = "Every closed border gets one polygon, a fan about its middle, or triangles.",
             .glyph = "M4 12a8 8 0 1 0 16 0a8 8 0 1 0 -16 0 M8 12h8 M12 8v8",
             .inputs = {{"shape", "Mesh", content_faces, true}},
             .telling = "{style}"},
    {choice_of(&FillHoles::style, "style", "With",
               {{FillHoles::Style::face, "face", "one face"},
                {FillHoles::Style::fan, "fan", "fan"},
                {FillHoles::Style::triangles, "triangles", "triangles"}},
               "What fills a hole."),
     count_of(&FillHoles::most_sides, "most_sides", "Up to sides", 0, 100000, 64,
              "Leaves larger holes open; 0 fills all."),
     only_of(&FillHoles::only, "Only holes along the edges of this set."),
     new_set_of(&FillHoles::set, "set", "As set", "A name for the new faces.")},
    run_fill_holes);

}  // namespace

}  // namespace bricol
