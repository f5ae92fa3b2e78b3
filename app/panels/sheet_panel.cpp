// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/sheet/sheet_pages.h"

namespace bricol {

namespace {

QWidget* make_sheet_panel(const PanelPlace& place) { return new SheetPages(place.session, place.parent); }

const RegisteredPanel sheet_panel({.id = "sheet",
                                   .title = "Sheet",
                                   .tip = "The same steps as a graph (Ctrl+Shift+G)",
                                   .side = PanelSide::band,
                                   .place = 2,
                                   .tall = true,
                                   .make = make_sheet_panel});

}  // namespace

}  // namespace bricol
