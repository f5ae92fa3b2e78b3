// SPDX-License-Identifier: GPL-3.0-or-later
// The one file of colours, fonts and pens. Code names roles, never colours.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QPixmap>
#include <QString>
#include <string_view>

namespace bricol::theme {

/// What a colour is for.
enum class Role {
    desk,  ///< behind the panels
    panel,
    card,      ///< fields and cards
    line,      ///< hairlines between things
    ink,       ///< text and drawn lines
    soft_ink,  ///< secondary text
    act,       ///< what you can act on
    act_soft,  ///< its quiet ground
    chosen,    ///< what is chosen
    chosen_soft,
    caution,
    error,
    clay,       ///< shaded meshes
    view_high,  ///< top and bottom of the viewport's ground
    view_low,
    grid,
    grid_strong,
    axis_x,
    axis_y,
    axis_z,
    facing,  ///< faces seen from outside, in the facing view
    facing_away
};

QColor color(Role role);
bool night();
/// Changes the theme and restyles the application.
void set_night(bool on);

/// Loads the shipped fonts and styles the application. Call once, after the QApplication exists.
void start();

QFont text_font(double points = 9.75, int weight = 400);
/// Tabular figures.
QFont number_font(double points = 9.5, int weight = 400);

/// A step's glyph (SVG path data on a 24 x 24 field) drawn with the 1.5 pen.
QPixmap glyph(std::string_view path, int size, const QColor& ink, double device_ratio = 1);
QIcon glyph_icon(std::string_view path, int size = 18);

/// Beside a setting: more can be done with it, and it follows a dial.
inline constexpr const char* menu_glyph = "M12 5.5v0.01 M12 12v0.01 M12 18.5v0.01";
inline constexpr const char* dial_glyph = "M12 4a8 8 0 1 0 0.01 0z M12 12 L17 7";

/// Tint of a part's clay, so that neighbouring parts can be told apart.
QColor part_clay(int index);

/// Ratio of luminances as WCAG 2.1 defines it, 1..21.
double contrast(const QColor& a, const QColor& b);

}  // namespace bricol::theme
