// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of settings, one file each; kind.cpp lists them.
#pragma once

#include "core/catalogue/kind.h"

namespace bricol::kinds {

const Kind& number();
const Kind& vector();
const Kind& choice();
const Kind& toggle();
const Kind& text();
const Kind& curves();
const Kind& part();
const Kind& set();
const Kind& places();
const Kind& colour();
const Kind& ramp();
const Kind& gradient();
const Kind& rows();
const Kind& points();
const Kind& lists();
const Kind& attribute();
const Kind& blocks();
const Kind& kit();
const Kind& dials();
const Kind& preset();
const Kind& file();
const Kind& sticks();
const Kind& table();
const Kind& row();

}  // namespace bricol::kinds
