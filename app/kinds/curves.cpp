// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include "app/kinds/knot_rows.h"

namespace bricol {

namespace {

const std::vector<KnotNumber>& knot_numbers() {
    static const ParameterInfo place = knot_info("Place of the knot in its plane.", Quantity::length, -1e5, 1e5, -1, 1);
    static const std::vector<KnotNumber> all = {
        {"Across", "/at/0", place, 0},
        {"Up", "/at/1", place, 0},
        {"Depth", "/at/2", knot_info("Off the drawing plane.", Quantity::length, -1e5, 1e5, -1, 1), 0},
        {"Rounding", "/fillet",
         knot_info("Rounding radius of this corner; 0 for none.", Quantity::length, 0, 1e5, 0, 0.1), 0},
        {"Width", "/radius",
         knot_info("Factor on what is swept along the curve here.", Quantity::plain, -1e3, 1e3, 0, 2), 1},
        {"Roll", "/roll",
         knot_info("Turns what is swept along the curve here.", Quantity::angle, -36000, 36000, -180, 180), 0}};
    return all;
}

Editor curves_editor(const EditorPlace& place) {
    return knot_rows_editor(
        place, {[place](int k) { return fmt::format("/{}/{}/knots/{}", place.key(), place.session->curve(), k); },
                [](int) { return knot_numbers(); },
                {}});
}

const EditorOf curves_kind(ParameterKind::curves, curves_editor);

}  // namespace

}  // namespace bricol
