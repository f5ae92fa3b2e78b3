// SPDX-License-Identifier: GPL-3.0-or-later
// Outlines of SVG drawings as curves, in real lengths.
#pragma once

#include <atomic>
#include <string_view>

#include "core/shape/curve.h"
#include "core/ground/result.h"

namespace bricol {

struct SvgOutline {
    std::vector<Curve> curves;       ///< x to the right and z up, in metres; the page's lower left corner is the origin
    DVec2 page{0};                   ///< width and height, metres (0 when the drawing does not say)
    std::vector<std::string> notes;  ///< what was left out or assumed, one plain sentence each
};

/// Paths and basic shapes, with their transforms and groups (SVG 1.1, W3C 2011; arcs by its appendix F.6). Lengths: mm,
/// cm, in, pt, pc, px (96 to an inch, CSS 2.1), and user units through the viewBox. Bends stay cubics; quadratics are
/// raised exactly, arcs within 2.8e-4 of their radius. Text, pictures, clips and links to other files are left out and
/// told. Nothing outside the text is read: entities and links are refused. Errors: no XML, no drawing, more than
/// `most_knots`.
Result<SvgOutline> read_svg_outline(std::string_view text, std::size_t most_knots = 200000);

/// One arc of a path as cubics: knots after `from`, with handles, the last at `to`. Radii and rotation (degrees) as in
/// F.6; a radius of 0 is a straight line, one too small is enlarged (F.6.6).
void add_svg_arc(std::vector<Knot>& knots, DVec2 radii, double rotation, bool large, bool sweep, DVec2 to);

}  // namespace bricol
