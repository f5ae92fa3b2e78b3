// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/band.h"

#include <QHBoxLayout>
#include <algorithm>

#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

QFrame* thin_rule(QWidget* parent) {
    auto* rule = new QFrame(parent);
    rule->setFixedHeight(1);
    rule->setStyleSheet("background:" + theme::color(theme::Role::line).name());
    return rule;
}

}  // namespace

Band::Band(Session& session, Viewport& viewport, QWidget* parent) : QFrame(parent) {
    setObjectName("band");
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(1, 1, 1, 1);
    column_->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 0, 12, 0);
    tabs_ = new QTabBar(this);
    tabs_->setObjectName("bandTabs");
    tabs_->setDrawBase(false);
    row->addWidget(tabs_);
    row->addStretch();
    note_ = soft_label("", this);
    row->addWidget(note_);
    column_->addLayout(row);
    column_->addWidget(thin_rule(this));
    pages_ = new QStackedWidget(this);
    for (const PanelInfo* info : all_panels()) {
        if (info->side != PanelSide::band) continue;
        const int tab = tabs_->addTab(info->title);
        tabs_->setTabToolTip(tab, info->tip);
        pages_->addWidget(
            info->make({session, viewport, pages_, [this, tab](const QString& t) { tabs_->setTabText(tab, t); }}));
        infos_.push_back(info);
    }
    column_->addWidget(pages_, 1);
    setMinimumHeight(150);
    connect(tabs_, &QTabBar::currentChanged, this, [this](int tab) {
        pages_->setCurrentIndex(tab);
        emit heightWanted(infos_[static_cast<std::size_t>(tab)]->tall);
    });
}

void Band::show_panel(std::string_view id) {
    const auto found = std::ranges::find(infos_, id, &PanelInfo::id);
    if (found == infos_.end()) return;
    show();
    tabs_->setCurrentIndex(static_cast<int>(found - infos_.begin()));
}

void Band::add_below(QWidget* widget) {
    column_->addWidget(thin_rule(this));
    column_->addWidget(widget);
}

}  // namespace bricol
