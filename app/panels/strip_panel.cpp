// SPDX-License-Identifier: GPL-3.0-or-later
#include <QScrollArea>

#include "app/panels/panel.h"
#include "app/strip/strip_view.h"

namespace bricol {

namespace {

QWidget* make_strip_panel(const PanelPlace& place) {
    auto* scroll = new QScrollArea(place.parent);
    auto* strip = new StripView(place.session, scroll);
    scroll->setWidget(strip);
    scroll->setWidgetResizable(true);
    scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAsNeeded);
    QObject::connect(strip, &StripView::cardShown, scroll, [scroll](const QRect& rect) {
        scroll->ensureVisible(rect.center().x(), rect.center().y(), rect.width(), rect.height());
    });
    return scroll;
}

const RegisteredPanel strip_panel({.id = "strip",
                                   .title = "Strip",
                                   .tip = "The steps as a row of cards",
                                   .side = PanelSide::band,
                                   .place = 1,
                                   .make = make_strip_panel});

}  // namespace

}  // namespace bricol
