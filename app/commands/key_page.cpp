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
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

/// Two columns of groups, about as long as each other.
QString page_html() {
    const std::vector<KeyGroup> groups = key_groups();
    std::size_t all = 0, so_far = 0;
    for (const KeyGroup& group : groups) all += group.keys.size() + 2;
    const QString ink = theme::color(theme::Role::act).name();
    QString columns[2];
    for (const KeyGroup& group : groups) {
        QString& column = columns[2 * so_far >= all];
        so_far += group.keys.size() + 2;
        column += QString("<p style='margin:14px 0 4px 0'><b>%1</b></p><table cellspacing='0' cellpadding='2'>")
                      .arg(QString::fromStdString(group.title));
        for (const auto& [key, words] : group.keys)
            column += QString("<tr><td width='112' style='color:%1'>%2</td><td>%3</td></tr>")
                          .arg(ink, QString::fromStdString(key).toHtmlEscaped(),
                               QString::fromStdString(words).toHtmlEscaped());
        column += "</table>";
    }
    return QString("<table width='100%'><tr><td width='50%'>%1</td><td width='24'></td><td>%2</td></tr></table>")
        .arg(columns[0], columns[1]);
}

}  // namespace

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
    auto* title = new HeadLabel("Keys", page);
    head->addWidget(title, 1);
    auto* close = new QPushButton("Close", page);
    close->setObjectName("closeKeys");
    head->addWidget(close);
    column->addLayout(head);
    auto* text = new QTextBrowser(page);
    text->setObjectName("keyText");
    text->setFrameShape(QFrame::NoFrame);
    text->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    text->setHtml(page_html());
    text->setStyleSheet("QTextBrowser{background:transparent;border:none;}");
    column->addWidget(text);
    QObject::connect(close, &QPushButton::clicked, page, &QObject::deleteLater);
    auto* escape = new QShortcut(Qt::Key_Escape, page);
    escape->setContext(Qt::WidgetWithChildrenShortcut);
    QObject::connect(escape, &QShortcut::activated, page, &QObject::deleteLater);
    const QRect all = room.rect();
    page->setGeometry(all.adjusted(all.width() / 10, 56, -all.width() / 10, -40));
    page->show();
    page->raise();
    text->setFocus();
}

}  // namespace bricol
