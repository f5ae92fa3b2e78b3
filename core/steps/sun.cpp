// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>
#include <numbers>

#include "core/catalogue/stage_step.h"

namespace bricol {

namespace {

enum class SunUnit { watts, lux };

struct SunSettings {
    double bearing = -130;
    double above = 40;
    double angle = 0.53;
    double strength = 3;
    SunUnit unit = SunUnit::watts;
    double steps = 0;
    LightHue hue = LightHue::temperature;
    double kelvin = 5600;
    DVec3 colour{1, 0.95, 0.85};
};

StagePiece place_sun(const SunSettings& s, StepRun& run) {
    StageLamp sun;
    sun.name = run.id;
    sun.kind = StageLamp::Kind::sun;
    const double turn = s.bearing / 180 * std::numbers::pi, up = s.above / 180 * std::numbers::pi;
    sun.aim = DVec3(0);
    sun.at = DVec3(std::cos(turn) * std::cos(up), std::sin(turn) * std::cos(up), std::sin(up));
    sun.angle = s.angle;
    sun.colour = light_colour(s.hue, s.kelvin, s.colour);
    sun.strength = (s.unit == SunUnit::lux ? watts_of_lumens(s.strength) : s.strength) * std::exp2(s.steps);
    if (sun.colour == DVec3(0))
        run.tell(Severity::caution, "black-light", "The sun's colour is black, so it gives no light. Choose another.");
    return {sun};
}

const StageOf<SunSettings> sun_step{
    StepInfo{.key = "sun",
             .name = "Sun",
             .family = Family::light,
             .purpose = "Light from far away, all from one side.",
             .words = "directional light daylight distant parallel",
             .help = "The size of its disc makes the edges of shadows soft: half a degree for the real one, several "
                     "for a sun behind haze. The strength is what falls on a surface turned to it.",
             .glyph =
                 "M12 8a4 4 0 1 0 0 8a4 4 0 1 0 0 -8 M12 2v3 M12 19v3 M2 12h3 M19 12h3 M5 5l2 2 M17 17l2 2 M5 19l2-2 "
                 "M17 7l2-2",
             .telling = "{above}° above"},
    Settings<SunSettings>{
        pulled(angle_of(&SunSettings::bearing, "bearing", "Bearing", -360, 360,
                        "From where it shines, round the vertical: 0 from x, 90 from y."),
               HandleKind::about, "z"),
        pulled(angle_of(&SunSettings::above, "above", "Above the horizon", -90, 90, "90 from straight above."),
               HandleKind::about, "rise:bearing"),
        angle_of(&SunSettings::angle, "angle", "Disc", 0.01, 90,
                 "How wide it is in the sky; larger makes softer shadows."),
        number_of(&SunSettings::strength, "strength", "Strength", 0, 1e7, "On a surface turned to it."),
        choice_of(&SunSettings::unit, "unit", "In",
                  {{SunUnit::watts, "watts", "watts a square metre"}, {SunUnit::lux, "lux", "lux"}},
                  "Watts of light a square metre, or lux; a watt of white light has 182 lumens."),
        number_of(&SunSettings::steps, "steps", "Steps", -20, 20, "Each one more doubles the strength.")} +
        hue_settings(&SunSettings::hue, &SunSettings::kelvin, &SunSettings::colour),
    place_sun};

}  // namespace

}  // namespace bricol
