// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/addbar/add_bar.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>
#include <optional>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/files/stock.h"

namespace bricol {

namespace {

constexpr int why_role = Qt::UserRole + 1;

/// What a row shows: a step, or a part of the stock.
struct RowWords {
    std::string_view glyph;
    QString name, purpose;
};

constexpr std::string_view stock_glyph = "M12 2.5l8 4.6v9.8l-8 4.6-8-4.6V7.1z M12 8.2a3.8 3.8 0 1 0 0.01 0z";

std::optional<RowWords> row_words(const std::string& key) {
    if (const StepInfo* info = find_step_info(key))
        return RowWords{info->glyph, text_of(info->name), text_of(info->purpose)};
    if (const StockPart* part = find_stock_part(key))
        return RowWords{stock_glyph, QString::fromStdString(part->title),
                        "Stock: " + QString::fromStdString(part->about)};
    return std::nullopt;
}

class StepRow : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {300, 42}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        using theme::Role;
        const auto words = row_words(index.data(Qt::UserRole).toString().toStdString());
        if (!words) return;
        const QString why = index.data(why_role).toString();
        const QRect r = option.rect;
        painter->save();
        if (option.state & QStyle::State_Selected) painter->fillRect(r, theme::color(Role::act_soft));
        const QColor ink = theme::color(why.isEmpty() ? Role::ink : Role::soft_ink);
        painter->drawPixmap(r.left() + 10, r.top() + 9, theme::glyph(words->glyph, 24, ink, 2));
        painter->setPen(ink);
        painter->setFont(theme::text_font(9.75, 600));
        painter->drawText(r.adjusted(46, 4, -8, -20), Qt::AlignVCenter, words->name);
        painter->setFont(theme::text_font(8.5));
        painter->setPen(theme::color(why.isEmpty() ? Role::soft_ink : Role::caution));
        painter->drawText(
            r.adjusted(46, 20, -8, -3), Qt::AlignVCenter,
            painter->fontMetrics().elidedText(why.isEmpty() ? words->purpose : why, Qt::ElideRight, r.width() - 56));
        painter->restore();
    }
};

}  // namespace

namespace {

int score_of(const QString& wanted, const QString& name, const QString& words, const QString& purpose) {
    if (wanted.isEmpty()) return 1;
    if (name == wanted) return 100;
    if (name.startsWith(wanted)) return 80;
    int score = 0;
    for (const QString& word : words.split(' '))
        if (word.startsWith(wanted)) score = std::max(score, word == wanted ? 70 : 60);
    if (name.contains(wanted)) score = std::max(score, 50);
    if (purpose.contains(wanted)) score = std::max(score, 30);
    return score;
}

int match_score(const StockPart& part, const QString& typed) {
    return score_of(typed.trimmed().toLower(), QString::fromStdString(part.title).toLower(),
                    QString::fromStdString(part.words).toLower(), QString::fromStdString(part.about).toLower());
}

}  // namespace

int match_score(const StepInfo& info, const QString& typed) {
    return score_of(typed.trimmed().toLower(), text_of(info.name).toLower(), text_of(info.words).toLower(),
                    text_of(info.purpose).toLower());
}

AddBar::AddBar(Session& session, QWidget* overlay_parent, QWidget* parent) : QLineEdit(parent), session_(session) {
    setObjectName("addBar");
    setPlaceholderText("/ add a step…");
    setToolTip("Finds steps by name, purpose or the word you know (/). Enter adds it behind the chosen step.");
    setFixedHeight(26);
    list_ = new QListWidget(overlay_parent);
    list_->setObjectName("addList");
    list_->setItemDelegate(new StepRow(list_));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->hide();
    connect(this, &QLineEdit::textChanged, this, [this] {
        if (hasFocus()) fill();
    });
    connect(list_, &QListWidget::itemClicked, this, &AddBar::add_item);
}

void AddBar::start() {
    setFocus(Qt::ShortcutFocusReason);
    selectAll();
}

void AddBar::start_at(const QPoint& global, StepWhyNot why, StepAdder add) {
    why_ = std::move(why);
    add_ = std::move(add);
    const QPoint at = parentWidget()->mapFromGlobal(global);
    // Near the pointer, with room for the list below, or above where there is none.
    const int room = parentWidget()->height();
    move(std::clamp(at.x() - 20, 4, std::max(4, parentWidget()->width() - 390)),
         std::clamp(at.y() - 13, 4, std::max(4, room - 40)));
    clear();
    show();
    raise();
    start();
}

void AddBar::leave() {
    clear();
    list_->hide();
    clearFocus();
    if (add_) {
        hide();
        why_ = nullptr;
        add_ = nullptr;
    }
}

void AddBar::fill() {
    struct Found {
        int score;
        QString why;
        QString key, name;
    };
    std::vector<Found> found;
    for (const StepInfo* info : all_steps())
        if (const int score = match_score(*info, text()); score > 0)
            found.push_back(
                {score, why_ ? why_(*info) : why_not(session_, *info), text_of(info->key), text_of(info->name)});
    // Parts of the stock come when they are asked for; a step wired on the sheet is always a step.
    if (!text().trimmed().isEmpty() && !add_)
        for (const StockPart& part : stock_parts())
            if (const int score = match_score(part, text()); score > 0)
                found.push_back({score, "", QString::fromStdString(part.name), QString::fromStdString(part.title)});
    std::ranges::stable_sort(found, [](const Found& a, const Found& b) {
        return a.score != b.score ? a.score > b.score : a.why.isEmpty() > b.why.isEmpty();
    });
    list_->clear();
    for (const Found& f : found) {
        auto* item = new QListWidgetItem(list_);
        item->setData(Qt::UserRole, f.key);
        item->setData(why_role, f.why);
        item->setData(Qt::AccessibleTextRole, f.name);
    }
    if (found.empty()) {
        auto* item = new QListWidgetItem("Nothing is called that. Try “round”, “copy”, “sheet” …", list_);
        item->setFlags(Qt::NoItemFlags);
    }
    list_->setCurrentRow(0);
    const QPoint below = list_->parentWidget()->mapFromGlobal(mapToGlobal(QPoint(0, height() + 3)));
    const int tall = std::min<int>(9, std::max<int>(1, static_cast<int>(found.size()))) * 42 + 4;
    const bool upwards = below.y() + tall > list_->parentWidget()->height() && below.y() - height() - 6 > tall;
    list_->setGeometry(below.x(), upwards ? below.y() - height() - 6 - tall : below.y(), std::max(width(), 380), tall);
    list_->setStyleSheet(QString("QListWidget{background:%1;border:1px solid %2;border-radius:4px;}")
                             .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::line).name()));
    list_->show();
    list_->raise();
}

void AddBar::add_item(QListWidgetItem* item) {
    if (const StockPart* part = item ? find_stock_part(item->data(Qt::UserRole).toString().toStdString()) : nullptr) {
        leave();
        add_stock_part(session_, part->name, part->title);
        return;
    }
    const StepInfo* info = item ? find_step_info(item->data(Qt::UserRole).toString().toStdString()) : nullptr;
    if (!info) return;
    const QString why = item->data(why_role).toString();
    if (!why.isEmpty()) {
        session_.say(text_of(info->name) + " " + why, true);
        return;
    }
    const auto add = add_;
    leave();
    if (add)
        add(*info);
    else
        add_step(session_, *info);
}

void AddBar::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Down:
            list_->setCurrentRow(std::min(list_->currentRow() + 1, list_->count() - 1));
            return;
        case Qt::Key_Up:
            list_->setCurrentRow(std::max(list_->currentRow() - 1, 0));
            return;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            add_item(list_->currentItem());
            return;
        case Qt::Key_Escape:
            leave();
            return;
        default:
            QLineEdit::keyPressEvent(event);
    }
}

void AddBar::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    fill();
}

void AddBar::focusOutEvent(QFocusEvent* event) {
    QLineEdit::focusOutEvent(event);
    if (list_->underMouse()) return;
    if (add_) leave();
    list_->hide();
}

}  // namespace bricol
