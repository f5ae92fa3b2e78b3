// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panels/panel.h"
#include "app/table/attribute_table.h"
#include "app/viewport/viewport.h"

namespace bricol {

namespace {

QWidget* make_table_panel(const PanelPlace& place) {
    auto* table = new AttributeTable(place.session, place.parent);
    QObject::connect(table, &AttributeTable::showPlaces, &place.viewport, &Viewport::show_places);
    return table;
}

const RegisteredPanel table_panel({.id = "table",
                                   .title = "Table",
                                   .tip = "The values on the chosen step's elements (Ctrl+Shift+T)",
                                   .side = PanelSide::band,
                                   .place = 3,
                                   .tall = true,
                                   .make = make_table_panel});

}  // namespace

}  // namespace bricol
