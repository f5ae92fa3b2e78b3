// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/catalogue/stage_step.h"
#include "core/kernels/sky_picture.h"

namespace bricol {

namespace {

enum class SkyKind { gradient, picture };

struct SkySettings {
    SkyKind kind = SkyKind::gradient;
    DVec3 above{0.72, 0.84, 1}, horizon{1, 1, 1}, below{0.4, 0.38, 0.36};
    std::string file;
    double turn = 0;
    double strength = 0.3;
    double steps = 0;
    bool seen = false;
};

StagePiece place_sky(const SkySettings& s, StepRun& run) {
    StageSky sky;
    sky.above = s.above, sky.horizon = s.horizon, sky.below = s.below;
    sky.strength = s.strength * std::exp2(s.steps);
    sky.turn = s.turn, sky.seen = s.seen;
    if (s.kind == SkyKind::gradient) return {sky};
    const auto fail = [&](const std::string& text) { run.tell(Severity::error, "sky-picture", text); };
    if (s.file.empty()) {
        fail("The sky's picture has no file. Name an EXR or HDR picture beside this recipe.");
    } else if (const auto bytes =
                   run.read ? run.read(s.file)
                            : Result<std::shared_ptr<const std::string>>(Problem{"Files cannot be read here.", "", ""});
               !bytes) {
        fail(bytes.problem().text());
    } else if (auto picture = read_sky_picture(**bytes); !picture) {
        fail(s.file + ": " + picture.problem().text());
    } else {
        sky.picture = std::make_shared<const SkyPicture>(std::move(*picture));
    }
    return {sky};
}

const StageOf<SkySettings> sky_step{
    StepInfo{.key = "sky",
             .name = "Sky",
             .family = Family::light,
             .purpose = "Light from all around: a run of colours over the heights, or a picture of true brightness.",
             .words = "environment hdri dome ambient surroundings image based light fill",
             .help =
                 "Fills shadows and gives metal and glass something to mirror. A picture is one that goes once round "
                 "(twice as wide as high), as EXR or HDR.",
             .glyph = "M3 17a9 9 0 0 1 18 0z M3 20h18 M8 13a4 4 0 0 1 4-4",
             .telling = "{strength}"},
    {choice_of(&SkySettings::kind, "kind", "Kind",
               {{SkyKind::gradient, "gradient", "colours"}, {SkyKind::picture, "picture", "picture"}},
               "Three colours, or a picture that goes all round."),
     when(colour_of(&SkySettings::above, "above", "Above", "Colour straight above."), "kind=gradient"),
     when(colour_of(&SkySettings::horizon, "horizon", "Horizon", "Colour all round, level with the eye."),
          "kind=gradient"),
     when(colour_of(&SkySettings::below, "below", "Below", "Colour straight below."), "kind=gradient"),
     when(file_of(&SkySettings::file, "file", "File", "Pictures of true brightness (*.exr *.hdr)",
                  "An EXR or HDR picture beside this recipe, twice as wide as high."),
          "kind=picture"),
     when(angle_of(&SkySettings::turn, "turn", "Turned", -360, 360, "About the vertical."), "kind=picture"),
     number_of(&SkySettings::strength, "strength", "Strength", 0, 1e6,
               "Factor on colours and picture: watts a square metre and steradian where they are 1."),
     number_of(&SkySettings::steps, "steps", "Steps", -20, 20, "Each one more doubles the strength."),
     toggle_of(&SkySettings::seen, "seen", "Seen behind", "Shows the sky behind the shapes instead of a backdrop.")},
    place_sky};

}  // namespace

}  // namespace bricol
