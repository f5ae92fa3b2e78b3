// SPDX-License-Identifier: GPL-3.0-or-later
#include <cmath>

#include "core/catalogue/stage_step.h"

namespace bricol {

namespace {

enum class LampShape { rectangle, disc, point, spot };
enum class LampUnit { watts, lumens };

struct LampSettings {
    LampShape shape = LampShape::rectangle;
    DVec3 at{-1.5, -1.5, 2};
    DVec3 aim{0, 0, 0.4};
    double width = 1, height = 1, radius = 0.5, angle = 40, soft = 0.2;
    double strength = 60;
    LampUnit unit = LampUnit::watts;
    double steps = 0;
    LightHue hue = LightHue::temperature;
    double kelvin = 6500;
    DVec3 colour{1, 1, 1};
};

StagePiece place_lamp(const LampSettings& s, StepRun& run) {
    StageLamp lamp;
    lamp.name = run.id;
    lamp.kind = s.shape == LampShape::rectangle ? StageLamp::Kind::rectangle
                : s.shape == LampShape::disc    ? StageLamp::Kind::disc
                : s.shape == LampShape::point   ? StageLamp::Kind::point
                                                : StageLamp::Kind::spot;
    lamp.at = s.at, lamp.aim = s.aim;
    lamp.width = s.width, lamp.height = s.height, lamp.radius = s.radius;
    lamp.angle = s.angle, lamp.soft = s.soft;
    lamp.colour = light_colour(s.hue, s.kelvin, s.colour);
    lamp.strength = (s.unit == LampUnit::lumens ? watts_of_lumens(s.strength) : s.strength) * std::exp2(s.steps);
    if (s.shape != LampShape::point && glm::distance(s.at, s.aim) < 1e-9)
        run.tell(Severity::error, "no-direction",
                 "The lamp stands where it shines to, so it has no direction. Move “Stands at” or “Shines at”.");
    if (lamp.colour == DVec3(0))
        run.tell(Severity::caution, "black-light", "The lamp's colour is black, so it gives no light. Choose another.");
    return {lamp};
}

const StageOf<LampSettings> lamp_step{
    StepInfo{
        .key = "lamp",
        .name = "Lamp",
        .family = Family::light,
        .purpose = "A light of a stated size and strength: a shining sheet, a disc, a point, a cone.",
        .words = "light area softbox bulb spot point lumen watt illumination",
        .help = "Large lamps make soft shadows, small ones hard. The strength is all the light it gives, in watts or "
                "lumens, whatever its size; steps double or halve it. Lamps are never seen by the camera itself but in "
                "what mirrors them.",
        .glyph = "M9 18h6 M10 21h4 M12 3a6 6 0 0 0 -3.5 10.9 L9 16h6l.5-2.1A6 6 0 0 0 12 3",
        .telling = "{strength}"},
    Settings<LampSettings>{
        choice_of(
            &LampSettings::shape, "shape", "Shape",
            {{LampShape::rectangle, "rectangle", "rectangle"},
             {LampShape::disc, "disc", "disc"},
             {LampShape::point, "point", "point"},
             {LampShape::spot, "spot", "cone"}},
            "Sheets and discs shine to one side and soften shadows; a point shines all round, a cone from a point."),
        pulled(vector_of(&LampSettings::at, "at", "Stands at", Quantity::length, "Where its middle is."),
               HandleKind::point),
        when(pulled(vector_of(&LampSettings::aim, "aim", "Shines at", Quantity::length, "What it is turned to."),
                    HandleKind::point),
             "shape=rectangle|disc|spot"),
        when(pulled(length_of(&LampSettings::width, "width", "Width", 1e-4, 10, "From side to side."),
                    HandleKind::reach, "at>aim:right", "at", 0.5),
             "shape=rectangle"),
        when(pulled(length_of(&LampSettings::height, "height", "Height", 1e-4, 10, "From its lower to its upper side."),
                    HandleKind::reach, "at>aim:up", "at", 0.5),
             "shape=rectangle"),
        when(pulled(length_of(&LampSettings::radius, "radius", "Radius", 1e-4, 5, "Of the shining disc."),
                    HandleKind::reach, "at>aim:right", "at"),
             "shape=disc"),
        when(angle_of(&LampSettings::angle, "angle", "Opens by", 0.1, 179, "The cone's whole angle."), "shape=spot"),
        when(number_of(&LampSettings::soft, "soft", "Soft rim", 0, 1, "Share of the cone in which it fades."),
             "shape=spot"),
        number_of(&LampSettings::strength, "strength", "Strength", 0, 1e7, "All the light it gives."),
        choice_of(&LampSettings::unit, "unit", "In",
                  {{LampUnit::watts, "watts", "watts"}, {LampUnit::lumens, "lumens", "lumens"}},
                  "Watts of light, or lumens; a watt of white light has 182."),
        number_of(&LampSettings::steps, "steps", "Steps", -20, 20, "Each one more doubles the strength.")} +
        hue_settings(&LampSettings::hue, &LampSettings::kelvin, &LampSettings::colour),
    place_lamp};

}  // namespace

}  // namespace bricol
