// SPDX-License-Identifier: GPL-3.0-or-later
// Attributes looked at in the view: which one, and how.
#include <QMenu>
#include <QToolButton>

#include "app/viewport/attribute_overlay.h"
#include "app/viewport/viewport.h"

namespace bricol {

void Viewport::show_attribute(const std::string& name) {
    overlay_.name = name;
    set_shading(shading_named("attribute"));
}

void Viewport::set_attribute_numbers(bool on) {
    overlay_.numbers = on;
    redraw(false);
}

void Viewport::set_attribute_arrows(bool on) {
    overlay_.arrows = on;
    redraw(false);
}

void Viewport::refresh_attribute_menu() {
    QMenu* menu = attribute_chip_->menu();
    menu->clear();
    for (const std::string& name : AttributeOverlay::names(builder_.shapes())) {
        auto* item = menu->addAction(QString::fromStdString(name), this, [this, name] { show_attribute(name); });
        item->setCheckable(true);
        item->setChecked(name == overlay_.name);
    }
    if (menu->isEmpty()) menu->addAction("The shape has no attributes")->setEnabled(false);
    menu->addSeparator();
    const auto toggle = [&](const char* text, bool on, auto set) {
        auto* item = menu->addAction(text, this, [this, on, set] { (this->*set)(!on); });
        item->setCheckable(true);
        item->setChecked(on);
    };
    toggle("Write the numbers", overlay_.numbers, &Viewport::set_attribute_numbers);
    toggle("Draw directions as arrows", overlay_.arrows, &Viewport::set_attribute_arrows);
}

}  // namespace bricol
