// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/catalogue/stage_step.h"

namespace bricol {

namespace {

struct BackdropSettings {
    StageBackdrop::Kind kind = StageBackdrop::Kind::bent;
    DVec3 colour{0.50, 0.49, 0.46};
    DVec3 upper{0.62, 0.68, 0.70};
};

StagePiece place_backdrop(const BackdropSettings& s, StepRun&) { return {StageBackdrop{s.kind, s.colour, s.upper}}; }

const StageOf<BackdropSettings> backdrop_step{
    StepInfo{.key = "backdrop",
             .name = "Backdrop",
             .family = Family::light,
             .purpose = "What lies under and behind the shapes in pictures.",
             .words = "background ground floor cyclorama sweep studio shadow catcher transparent",
             .help =
                 "A sheet that lies under the shapes and rises behind them, a plain colour that only catches their "
                 "shadow and glow, a run of two colours without a ground, or nothing: then the picture is see-through "
                 "where no shape is.",
             .glyph = "M4 4v9a6 6 0 0 0 6 6h10 M13 15a3 3 0 1 0 0 -6a3 3 0 1 0 0 6",
             .telling = "{kind}"},
    {choice_of(&BackdropSettings::kind, "kind", "Kind",
               {{StageBackdrop::Kind::bent, "bent", "bent sheet"},
                {StageBackdrop::Kind::plain, "plain", "plain, catches shadow"},
                {StageBackdrop::Kind::gradient, "gradient", "two colours"},
                {StageBackdrop::Kind::nothing, "nothing", "nothing"}},
               "A sheet, a plain colour that catches shadow, a run of colours, or nothing."),
     when(colour_of(&BackdropSettings::colour, "colour", "Colour", "Of the sheet or the plain; the run's lower one."),
          "kind=bent|plain|gradient"),
     when(colour_of(&BackdropSettings::upper, "upper", "Upper colour", "Of the run's upper edge."), "kind=gradient")},
    place_backdrop};

}  // namespace

}  // namespace bricol
