// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/parts/parts_panel.h"

namespace bricol {

namespace {

QWidget* make_parts_panel(const PanelPlace& place) { return new PartsPanel(place.session, place.parent); }

const RegisteredPanel parts_panel({.id = "parts",
                                   .title = "Parts",
                                   .tip = "What the recipe is made of",
                                   .side = PanelSide::left,
                                   .place = 1,
                                   .make = make_parts_panel});

}  // namespace

}  // namespace bricol
