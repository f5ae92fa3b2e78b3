// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/kernels/real_geometry.h"

#include "core/catalogue/settings.h"

namespace bricol {

namespace {

struct RealGeometry {};

void run_real_geometry(const RealGeometry&, StepRun& run) {
    const ShapePtr& shape = run.input_pointer("shape");
    if (run.too_many(static_cast<double>(shape->face_count()), most_faces, "faces", "Use fewer instances.")) return;
    if (shape->instances.empty())
        run.tell(Severity::note, "no-instances", "There are no instances here; everything is real already.");
    run.give(real_geometry(shape));
}

const StepOf<RealGeometry> real_geometry_step(
    StepInfo{.key = "real_geometry",
             .name = "Real geometry",
             .family = Family::copies,
             .purpose = "Writes instances out as faces of their own.",
             .words = "realize make real unlink bake copies",
             .help = "Steps that change faces do this by themselves; use it where you want to see the faces.",
             .glyph = "M4 12h6v6h-6z M14 6h6v6h-6z M4 12 L7 9 H13 M10 18 L13 15",
             .gives = 0,
             .inputs = {{"shape", "Shape", content_any, true}},
             .telling = ""},
    {}, run_real_geometry);

}  // namespace

}  // namespace bricol
