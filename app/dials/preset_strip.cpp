// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/preset_strip.h"

#include <QKeyEvent>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>
#include <fmt/format.h>

#include "app/dials/flow.h"

namespace bricol {

namespace {

/// A name to begin with: the first of "Preset 1", "Preset 2", … that is free.
QString next_name(const Recipe& recipe) {
    for (int n = 1;; ++n)
        if (const std::string name = fmt::format("Preset {}", n); !recipe.preset(name))
            return QString::fromStdString(name);
}

}  // namespace

PresetStrip::PresetStrip(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("presets");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 9, 4);
    column->setSpacing(4);
    buttons_ = new QWidget(this);
    new Flow(buttons_, 4);
    name_ = new QLineEdit(this);
    name_->setObjectName("presetName");
    name_->setToolTip("Name of the preset; Enter keeps it, Esc leaves it");
    name_->hide();
    column->addWidget(buttons_);
    column->addWidget(name_);
    connect(name_, &QLineEdit::returnPressed, this, &PresetStrip::take_name);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        if (!name_->hasFocus()) name_->hide();
        refresh();
    });
    connect(&session, &Session::recipeChanged, this, &PresetStrip::refresh);
    connect(&session, &Session::opened, this, [this] { gone_to_.clear(); });
    rebuild();
}

void PresetStrip::ask_for_name(const std::string& renamed) {
    renamed_ = renamed;
    show();
    name_->setText(renamed.empty() ? next_name(session_.recipe()) : QString::fromStdString(renamed));
    name_->show();
    name_->setFocus();
    name_->selectAll();
}

void PresetStrip::take_name() {
    const std::string name = name_->text().trimmed().toStdString();
    const bool kept =
        renamed_.empty()
            ? session_.edit(keep_preset(session_.recipe(), name, dials_of(session_.recipe())), "Keep a preset")
            : session_.edit(rename_preset(session_.recipe(), renamed_, name), "Rename a preset");
    if (!kept) return;  // the name stays to be mended
    name_->hide();
    refresh();
}

void PresetStrip::rebuild() {
    while (QLayoutItem* item = buttons_->layout()->takeAt(0)) {
        item->widget()->deleteLater();
        delete item;
    }
    names_.clear();
    for (const Preset& preset : session_.recipe().presets) {
        names_.push_back(preset.name);
        auto* button = new QPushButton(QString::fromStdString(preset.name).replace('&', "&&"), buttons_);
        button->setObjectName("preset");
        button->setCheckable(true);
        button->setToolTip("Goes to this setting of all dials; once more goes back. Right click: keep, rename, remove");
        button->setContextMenuPolicy(Qt::CustomContextMenu);
        connect(button, &QPushButton::clicked, this, [this, name = preset.name] { go(name); });
        connect(button, &QPushButton::customContextMenuRequested, this,
                [this, name = preset.name, button] { open_menu(name, button); });
        buttons_->layout()->addWidget(button);
    }
    refresh();
}

void PresetStrip::refresh() {
    std::vector<std::string> names;
    for (const Preset& preset : session_.recipe().presets) names.push_back(preset.name);
    if (names != names_) {
        rebuild();
        return;
    }
    setVisible(!names.empty() || name_->isVisibleTo(this));
    for (std::size_t i = 0; i < names.size(); ++i)
        if (auto* button = qobject_cast<QPushButton*>(buttons_->layout()->itemAt(static_cast<int>(i))->widget()))
            button->setChecked(at_preset(session_.recipe(), session_.recipe().presets[i]));
}

void PresetStrip::go(const std::string& name) {
    const Recipe& recipe = session_.recipe();
    const Preset* preset = recipe.preset(name);
    const bool back = preset && gone_to_ == name && at_preset(recipe, *preset);
    const QString spoken = QString::fromStdString(name);
    if (back) {
        session_.edit(with_dials(recipe, before_, Outside::held), "Back from " + spoken);
        gone_to_.clear();
    } else {
        before_ = dials_of(recipe);
        gone_to_ = name;
        session_.edit(apply_preset(recipe, name), "Go to " + spoken);
    }
    session_.part_edits();
    refresh();
}

void PresetStrip::open_menu(const std::string& name, QWidget* at) {
    auto* menu = new QMenu(this);
    menu->setObjectName("presetMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction("Keep the dials as they stand", this, [this, name] {
        session_.edit(keep_preset(session_.recipe(), name, dials_of(session_.recipe())), "Change a preset");
    });
    menu->addAction("Rename…", this, [this, name] { ask_for_name(name); });
    menu->addAction("Remove", this,
                    [this, name] { session_.edit(remove_preset(session_.recipe(), name), "Remove a preset"); });
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

}  // namespace bricol
