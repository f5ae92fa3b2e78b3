// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/details/details_panel.h"
#include "app/viewport/viewport.h"

namespace bricol {

namespace {

QWidget* make_details_panel(const PanelPlace& place) {
    auto* details = new DetailsPanel(place.session, place.parent);
    QObject::connect(details, &DetailsPanel::showPlaces, &place.viewport, &Viewport::show_places);
    return details;
}

const RegisteredPanel details_panel({.id = "details",
                                     .title = "Details",
                                     .tip = "The step in hand",
                                     .side = PanelSide::right,
                                     .place = 1,
                                     .make = make_details_panel});

}  // namespace

}  // namespace bricol
