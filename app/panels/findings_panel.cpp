// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/findings/findings_list.h"
#include "app/viewport/viewport.h"

namespace bricol {

namespace {

QWidget* make_findings_panel(const PanelPlace& place) {
    auto* list = new FindingsList(place.session, place.parent);
    QObject::connect(list, &FindingsList::showPlaces, &place.viewport, &Viewport::show_places);
    QObject::connect(list, &FindingsList::countChanged, list, [retitle = place.retitle](int count) {
        retitle(count ? QString("Findings  %1").arg(count) : QString("Findings"));
    });
    return list;
}

const RegisteredPanel findings_panel({.id = "findings",
                                      .title = "Findings",
                                      .tip = "What Bricol noticed (Ctrl+K)",
                                      .side = PanelSide::band,
                                      .place = 4,
                                      .make = make_findings_panel});

}  // namespace

}  // namespace bricol
