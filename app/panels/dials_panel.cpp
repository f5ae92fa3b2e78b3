// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/dials/dials_panel.h"

namespace bricol {

namespace {

QWidget* make_dials_panel(const PanelPlace& place) { return new DialsPanel(place.session, place.parent); }

const RegisteredPanel dials_panel({.id = "dials",
                                   .title = "Dials",
                                   .tip = "The numbers meant to be turned",
                                   .side = PanelSide::left,
                                   .place = 2,
                                   .make = make_dials_panel});

}  // namespace

}  // namespace bricol
