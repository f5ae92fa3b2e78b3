// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/commands/key_page.h"

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QTextBrowser>
#include <QVBoxLayout>

#include "app/commands/command.h"
#include "app/theme/theme.h"

namespace bricol {

void show_key_page(QWidget& room) {
    if (auto* shown = room.findChild<QFrame*>("keyPage")) {
        shown->deleteLater();
        return;
    }
    auto* page = new QFrame(&room);
    page->setObjectName("keyPage");
    page->setStyleSheet(QString("#keyPage{background:%1;border:1px solid %2;}")
                            .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::line).name()));
    auto* column = new QVBoxLayout(page);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel("Keys", page);
    title->setObjectName("head");
    head->addWidget(title, 1);
    auto* close = new QPushButton("Close", page);
    close->setObjectName("closeKeys");
    head->addWidget(close);
    column->addLayout(head);
    auto* text = new QTextBrowser(page);
    text->setObjectName("keyText");
    text->setFrameShape(QFrame::NoFrame);
    QString markdown = QString::fromStdString(key_map());
    markdown.remove(0, markdown.indexOf("\n## "));
    text->setMarkdown(markdown);
    column->addWidget(text);
    QObject::connect(close, &QPushButton::clicked, page, &QObject::deleteLater);
    auto* escape = new QShortcut(Qt::Key_Escape, page);
    escape->setContext(Qt::WidgetWithChildrenShortcut);
    QObject::connect(escape, &QShortcut::activated, page, &QObject::deleteLater);
    const QRect all = room.rect();
    page->setGeometry(all.adjusted(all.width() / 5, 60, -all.width() / 5, -60));
    page->show();
    page->raise();
    text->setFocus();
}

}  // namespace bricol
