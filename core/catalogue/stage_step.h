// SPDX-License-Identifier: GPL-3.0-or-later
// Steps that put something round the shapes for pictures: cameras, lamps, a sky, a backdrop. They stand beside the
// chain like blocks of numbers.
#pragma once

#include "core/catalogue/settings.h"
#include "core/shape/stage.h"

namespace bricol {

/// A stage step whose settings are a T. Its file holds one of these at namespace scope.
template <class T>
struct StageOf {
    StageOf(StepInfo info, Settings<T> settings, StagePiece (*placed)(const T&, StepRun&)) {
        info.aside = true;
        info.gives = 0;
        std::vector<FieldSlot> slots = settings.described(info);
        info.make = [placed, slots = std::move(slots)](StepRun& run) {
            T filled{};
            fill_settings(&filled, run.info->parameters, slots, run.values);
            run.bind(&filled, slots);
            StagePiece piece = placed(filled, run);
            if (!run.failed()) run.stage = std::make_shared<const StagePiece>(std::move(piece));
        };
        Registered{info};
    }
};

/// Where a light's colour comes from, as several of them ask for it.
enum class LightHue { temperature, colour };

/// What makes one light's colour: linear, of any brightness.
DVec3 light_colour(LightHue hue, double kelvin, const DVec3& colour);
/// A strength told in lumens or lux as watts, or watts a square metre, of light that is spread evenly over the visible
/// wavelengths.
double watts_of_lumens(double lumens);

/// The three settings of a light's colour: which, kelvin, colour.
template <class T>
Settings<T> hue_settings(LightHue T::*hue, double T::*kelvin, DVec3 T::*colour) {
    return {choice_of(hue, "hue", "Colour by",
                      {{LightHue::temperature, "temperature", "temperature"}, {LightHue::colour, "colour", "colour"}},
                      "A glowing body's temperature, or a colour."),
            when(number_of(kelvin, "kelvin", "Temperature", 800, 40000,
                           "Kelvin: 1900 a candle, 2700 a warm lamp, 4000 a cool one, 6500 daylight, 10000 blue sky."),
                 "hue=temperature"),
            when(colour_of(colour, "colour", "Colour", "Of its light; how bright it is counts by the strength alone."),
                 "hue=colour")};
}

}  // namespace bricol
