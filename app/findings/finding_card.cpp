// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/findings/finding_card.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/recipe/remedy.h"

namespace bricol {

QWidget* finding_card(Session& session, const std::string& part, const std::string& step, const Finding& finding,
                      std::function<void(const std::vector<Vec3>&)> show, QWidget* parent) {
    using theme::Role;
    auto* card = new QFrame(parent);
    card->setObjectName("finding:" + QString::fromStdString(finding.code));
    const Role role = finding.severity == Severity::error     ? Role::error
                      : finding.severity == Severity::caution ? Role::caution
                                                              : Role::soft_ink;
    card->setStyleSheet(QString("QFrame{background:%1;border-left:3px solid %2;} QLabel{border:none;}")
                            .arg(theme::color(Role::card).name(), theme::color(role).name()));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(10, 6, 8, 6);
    column->setSpacing(3);
    auto* text = new QLabel(QString("<b>%1</b> %2")
                                .arg(text_of(severity_name(finding.severity)),
                                     breakable(QString::fromStdString(finding.text)).toHtmlEscaped()),
                            card);
    text->setWordWrap(true);
    column->addWidget(text);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    if (finding.remedy) {
        auto* button = link_button(QString::fromStdString(finding.remedy->label), card);
        button->setCursor(Qt::PointingHandCursor);
        button->setProperty("remedy", QString::fromStdString(finding.code));
        QObject::connect(button, &QPushButton::clicked, card, [&session, part, step, remedy = *finding.remedy] {
            session.edit(with_remedy(session.recipe(), part, step, remedy), QString::fromStdString(remedy.label));
        });
        row->addWidget(button);
    }
    if (!finding.places.empty()) {
        auto* button = link_button("show", card);
        button->setCursor(Qt::PointingHandCursor);
        QObject::connect(button, &QPushButton::clicked, card, [show, places = finding.places] { show(places); });
        row->addWidget(button);
    }
    row->addStretch();
    if (row->count() > 1)
        column->addLayout(row);
    else
        delete row;
    return card;
}

}  // namespace bricol
