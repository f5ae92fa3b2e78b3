// SPDX-License-Identifier: GPL-3.0-or-later
// How a step describes one of its settings.
#pragma once

#include <string_view>
#include <vector>

#include "core/formula/units.h"
#include "core/ground/types.h"

namespace bricol {

/// What a setting holds. What a kind means (how it is read, written, hashed, told) stands in one file each in
/// catalogue/kinds/; `kind_info` finds it.
enum class ParameterKind : std::uint8_t {
    number,
    vector,
    choice,
    toggle,
    text,
    curves,
    part,
    set,
    places,
    colour,     ///< three numbers, linear, 0..1
    ramp,       ///< a number drawn over 0..1
    gradient,   ///< a colour over 0..1
    rows,       ///< lines "target <- formula", worked out per element
    points,     ///< a list of places, each number a formula if one likes
    lists,      ///< lists of whole numbers: the corners of faces
    attribute,  ///< an attribute of the input, by name
    blocks,     ///< a small graph of number blocks (core/formula/blocks.h)
    kit,        ///< another recipe: the name of a file, or the recipe itself
    dials,      ///< numbers for the dials of the recipe in `kit`
    preset,     ///< a preset of the recipe in `kit`, by name
    file,       ///< another file, by its name beside the recipe
    sticks,     ///< the knots of a stick figure
    table,      ///< named rows of numbers under heads
    row         ///< a row of the step's table, by name
};

struct Choice {
    std::string_view key, label;
};

/// How a number can be pulled in the viewport.
enum class HandleKind : std::uint8_t {
    none,
    point,  ///< a vector: a place in space
    arrow,  ///< a vector: from the origin to there
    along,  ///< a number: a coordinate along the axis
    about,  ///< an angle about the axis, through the origin
    reach   ///< a number: a length from the origin along the axis
};
struct HandleInfo {
    HandleKind kind = HandleKind::none;
    /// The parameter that chooses the axis, "x", "y" or "z" for a fixed one, "a^b" for the axis across two such, or
    /// "a>b:ahead", "a>b:right", "a>b:up" for a way from one place to another and the two square to it, or "rise:a" for
    /// the level axis about which an angle rises from the ground over the bearing `a` (degrees round z).
    std::string_view axis;
    /// Vector parameter of the point it starts from, or picked places (their middle); empty for the middle of the
    /// input's box.
    std::string_view origin;
    double share = 1;  ///< how far out the knob of a reach stands for a length of 1
};

struct ParameterInfo {
    ParameterInfo();
    ParameterInfo(const ParameterInfo&);
    ParameterInfo(ParameterInfo&&) noexcept;
    ParameterInfo& operator=(const ParameterInfo&);
    ParameterInfo& operator=(ParameterInfo&&) noexcept;
    ~ParameterInfo();

    std::string_view key, label, help;
    ParameterKind kind = ParameterKind::number;
    Quantity quantity = Quantity::plain;
    double standard = 0;                 ///< default, in stored units
    DVec3 standard_vector{0};            ///< for vectors
    std::string_view standard_text;      ///< for text
    double low = -1e6, high = 1e6;       ///< refused outside
    double soft_low = 0, soft_high = 1;  ///< where dragging and new dials stay
    std::vector<Choice> choices;         ///< the first is the default
    /// Shown only while another choice or toggle has one of these values ("key=a|b"); empty for always.
    std::string_view when;
    HandleInfo handle;
    /// For places: what can be picked ("vertices|edges|faces"), with "|moved" when each also has a move. For texts:
    /// "joints" when they name joints.
    std::string_view picks;
    /// For places that are control points of a cage over the input's box: the vector setting that counts them.
    std::string_view cage;
    /// For files: what a file chooser offers ("Drawings (*.svg)").
    std::string_view file_filter;
    /// For colours: the numbers are a screen's (sRGB), not linear light. Dials hold linear light.
    bool on_screen = false;
};

// Short ways to write a parameter.
ParameterInfo length_of(std::string_view key, std::string_view label, double standard, double low, double soft_high,
                        std::string_view help);
ParameterInfo offset_of(std::string_view key, std::string_view label, double standard, std::string_view help);
ParameterInfo angle_of(std::string_view key, std::string_view label, double standard, double low, double high,
                       std::string_view help);
ParameterInfo count_of(std::string_view key, std::string_view label, int standard, int low, int high, int soft_high,
                       std::string_view help);
ParameterInfo number_of(std::string_view key, std::string_view label, double standard, double low, double high,
                        std::string_view help);
ParameterInfo vector_of(std::string_view key, std::string_view label, Quantity quantity, DVec3 standard,
                        std::string_view help);
ParameterInfo choice_of(std::string_view key, std::string_view label, std::vector<Choice> choices,
                        std::string_view help);
ParameterInfo toggle_of(std::string_view key, std::string_view label, bool standard, std::string_view help);
ParameterInfo axis_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help);
ParameterInfo sampling_of(std::string_view key);
/// A set of the input, by name; empty for every element. `only_of` is the one called "only".
ParameterInfo set_of(std::string_view key, std::string_view label, std::string_view help);
ParameterInfo only_of(std::string_view help);
/// The name under which a step keeps what it made as a set; empty for none.
ParameterInfo new_set_of(std::string_view key, std::string_view label, std::string_view standard,
                         std::string_view help);
/// Pinned places, picked in the viewport.
ParameterInfo places_of(std::string_view key, std::string_view label, std::string_view picks, std::string_view help);
/// The control points of a cage that the vector setting `counted_by` counts.
ParameterInfo cage_of(std::string_view key, std::string_view label, std::string_view counted_by, std::string_view help);
ParameterInfo colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help);
/// A colour whose numbers are those of a screen.
ParameterInfo screen_colour_of(std::string_view key, std::string_view label, DVec3 standard, std::string_view help);
/// A parameter of one of the kinds that need no more than a name: curves, part, ramp, gradient, rows, points, lists,
/// blocks, kit, dials, sticks, table, row.
ParameterInfo kind_of(ParameterKind kind, std::string_view key, std::string_view label, std::string_view help);
ParameterInfo attribute_of(std::string_view key, std::string_view label, std::string_view standard,
                           std::string_view help);
ParameterInfo text_of(std::string_view key, std::string_view label, std::string_view standard, std::string_view help);
/// A file that the step reads; `filter` as a file chooser takes it ("Drawings (*.svg)").
ParameterInfo file_of(std::string_view key, std::string_view label, std::string_view filter, std::string_view help);
/// A seed: a whole number that shuffles what is random.
ParameterInfo seed_of(std::string_view key = "seed");
ParameterInfo when(ParameterInfo parameter, std::string_view condition);
ParameterInfo pulled(ParameterInfo parameter, HandleKind kind, std::string_view axis = {},
                     std::string_view origin = {});

}  // namespace bricol
