// SPDX-License-Identifier: GPL-3.0-or-later
// A line whose knots carry a value, and sets of its knots, for tests of what steps do with them.
#pragma once

#include <initializer_list>

#include "tests/support/tried.h"

namespace bricol::test {

/// A line of so many pieces along x, two metres long, whose knots carry `heat`: their place on it, from 0 to 1.
inline std::vector<Json> warm_line(int pieces) {
    return {step("line", "line", {{"from", {0, 0, 0}}, {"to", {2, 0, 0}}, {"pieces", pieces}}),
            step("warm", "formula",
                 {{"on", "knots"}, {"rows", Json::array({{{"target", "heat"}, {"formula", "x / 2"}}})}})};
}

inline Tried of_line(int pieces, std::initializer_list<Json> more) {
    std::vector<Json> steps = warm_line(pieces);
    steps.insert(steps.end(), more.begin(), more.end());
    return tried(recipe_of(Json(steps)));
}

inline Json formula_rows(const std::string& target, const std::string& text) {
    return Json::array({{{"target", target}, {"formula", text}}});
}

inline Json tips() { return step("tips", "choose", {{"set", "tips"}, {"what", "knots"}, {"rule", "nth"}, {"n", 2}}); }

}  // namespace bricol::test
