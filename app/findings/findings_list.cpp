// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/findings/findings_list.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/findings/finding_card.h"
#include "app/theme/small_parts.h"

namespace bricol {

FindingsList::FindingsList(Session& session, QWidget* parent) : QScrollArea(parent), session_(session) {
    setObjectName("findingsList");
    setWidgetResizable(true);
    connect(&session, &Session::madeChanged, this, &FindingsList::gather);
    gather();
}

void FindingsList::gather() {
    std::vector<std::tuple<std::string, std::string, Finding>> all;
    if (const Made* made = session_.made()) {
        const Recipe& recipe = session_.made_recipe();
        for (const Finding& f : made->findings) all.emplace_back("", "", f);
        for (std::size_t p = 0; p < recipe.parts.size(); ++p) {
            const Part& part = *recipe.parts[p];
            for (std::size_t s = 0; s < part.steps.size(); ++s)
                if (made->steps[p][s])
                    for (const Finding& f : made->steps[p][s]->findings)
                        all.emplace_back(part.name, part.steps[s]->id, f);
            if (made->parts[p])
                for (const Finding& f : made->parts[p]->findings)
                    all.emplace_back(part.name, made->parts[p]->result_step, f);
        }
    }
    if (listed_once_ && all == listed_) return;
    listed_once_ = true;
    listed_ = std::move(all);
    const auto serious = static_cast<int>(
        std::ranges::count_if(listed_, [](const auto& one) { return std::get<2>(one).severity != Severity::note; }));
    if (serious != count_) {
        count_ = serious;
        emit countChanged(count_);
    }
    // Lines nobody sees are not built anew with every move of a hand.
    stale_ = true;
    if (isVisible()) rebuild();
}

void FindingsList::showEvent(QShowEvent* event) {
    if (stale_) rebuild();
    QScrollArea::showEvent(event);
}

void FindingsList::rebuild() {
    stale_ = false;
    auto* body = new QWidget;
    auto* column = new QVBoxLayout(body);
    column->setContentsMargins(16, 10, 16, 10);
    column->setSpacing(6);
    int shown = 0;
    for (const auto& [part, step, finding] : listed_) {
        if (++shown > 200) break;
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        const bool whole = part.empty();  // about the recipe, not about one of its steps
        auto* where = link_button(whole ? "the recipe" : QString::fromStdString(part + " › " + step), line);
        where->setEnabled(!whole);
        where->setFixedWidth(170);
        connect(where, &QPushButton::clicked, this, [this, p = part, s = step] { session_.choose(p, s); });
        row->addWidget(where, 0, Qt::AlignTop);
        row->addWidget(
            finding_card(
                session_, part, step, finding, [this](const auto& places) { emit showPlaces(places); }, line),
            1);
        column->addWidget(line);
    }
    if (shown == 0) {
        auto* nothing = soft_label("No findings: every part holds together.", body);
        column->addWidget(nothing);
    }
    column->addStretch();
    exchange_widget(*this, body);
}

}  // namespace bricol
