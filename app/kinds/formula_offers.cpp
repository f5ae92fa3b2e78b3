// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/formula_offers.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>

#include "app/document/step_edits.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/formula/elements.h"
#include "core/formula/functions.h"
#include "core/formula/tokens.h"
#include "core/make/made_numbers.h"

namespace bricol {

namespace {

constexpr int most_offered = 60, rows_seen = 8, row_height = 20;
constexpr int says_role = Qt::UserRole;

class OfferRow : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {280, row_height}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        using theme::Role;
        painter->save();
        if (option.state & QStyle::State_Selected) painter->fillRect(option.rect, theme::color(Role::act_soft));
        painter->setPen(theme::color(Role::ink));
        painter->setFont(theme::number_font(8.75));
        const QString name = index.data().toString();
        const QRect line = option.rect.adjusted(8, 0, -6, 0);
        painter->drawText(line, Qt::AlignVCenter, name);
        const int used = painter->fontMetrics().horizontalAdvance(name) + 12;
        painter->setPen(theme::color(Role::soft_ink));
        painter->setFont(theme::text_font(8.25));
        painter->drawText(line.adjusted(used, 0, 0, 0), Qt::AlignVCenter,
                          painter->fontMetrics().elidedText(index.data(says_role).toString(), Qt::ElideRight,
                                                            std::max(0, line.width() - used)));
        painter->restore();
    }
};

/// Numbers that other formulas may ask a step for, behind `before` ("post." or "base.post.").
void add_numbers(std::vector<Offer>& offers, const Step& step, const QString& before) {
    const StepInfo* info = find_step_info(step.type);
    if (!info) return;
    const QString title = step.title.empty() ? text_of(info->name) : QString::fromStdString(step.title);
    for (const OutputInfo& output : info->outputs)
        offers.push_back({before + text_of(output.key), text_of(output.help)});
    if (info->named_numbers)
        for (const std::string& name : info->named_numbers.names(step.settings))
            offers.push_back({before + QString::fromStdString(name), title});
    for (const ParameterInfo& p : info->parameters)
        for (const NumberOf& number : numbers_of(p))
            offers.push_back(
                {before + text_of(p.key) + text_of(number.suffix), title + ": " + number_label(p, number)});
    if (info->aside) return;
    for (const MadePath& path : made_paths())
        offers.push_back(
            {before + "made." + QString::fromStdString(path.path), title + ", as made: " + text_of(path.says)});
}

}  // namespace

std::vector<Offer> formula_offers(const Session& session, const std::string& part, const std::string& step,
                                  std::optional<Domain> on) {
    std::vector<Offer> offers;
    const Recipe& recipe = session.recipe();
    for (const Dial& dial : recipe.dials) {
        const QString name = QString::fromStdString(dial.name), help = "dial " + QString::fromStdString(dial.help);
        if (dial.kind != DialKind::colour)
            offers.push_back({name, help});
        else
            for (const char* of : {".red", ".green", ".blue"}) offers.push_back({name + of, help});
    }
    if (on)
        if (const Part* holder = recipe.part(part))
            if (const StepOutcome* before =
                    session.outcome(part, source_of(*holder, step_index(*holder, step), "shape"));
                before && before->shape)
                for (const ElementName& name : element_names(*before->shape, *on))
                    offers.push_back({QString::fromStdString(name.name), QString::fromStdString(name.help)});
    for (const FunctionInfo& function : all_functions())
        offers.push_back(
            {text_of(function.name) + "(", QString::fromStdString(function.call()) + ": " + text_of(function.help)});
    offers.push_back({"frame", "the frame of the time bar"});
    offers.push_back({"seed", "the seed the recipe is made with"});
    offers.push_back({"pi", "3.14159…"});
    for (const auto& one : recipe.parts)
        for (const auto& other : one->steps) {
            if (one->name == part && other->id == step) continue;
            const QString id = QString::fromStdString(other->id) + ".";
            add_numbers(offers, *other, one->name == part ? id : QString::fromStdString(one->name) + "." + id);
        }
    return offers;
}

FormulaOffers::FormulaOffers(QLineEdit* field, std::function<std::vector<Offer>()> gather, bool everywhere)
    : QObject(field), field_(field), gather_(std::move(gather)), everywhere_(everywhere) {
    field->installEventFilter(this);
    connect(field, &QLineEdit::textEdited, this, &FormulaOffers::look);
}

FormulaOffers::~FormulaOffers() { delete list_.data(); }

int FormulaOffers::word_begin() const {
    const QString text = field_->text();
    int begin = field_->cursorPosition();
    while (begin > 0 && text[begin - 1].unicode() < 128 && name_part(static_cast<char>(text[begin - 1].unicode())))
        --begin;
    // A number's digits begin no name: "12mm" is a length.
    return begin < field_->cursorPosition() && text[begin].isDigit() ? field_->cursorPosition() : begin;
}

void FormulaOffers::look() {
    const QString text = field_->text();
    const QString word = text.mid(word_begin(), field_->cursorPosition() - word_begin()).toLower();
    if (word.isEmpty() || (!everywhere_ && !text.trimmed().startsWith('='))) return leave();
    if (all_.empty()) all_ = gather_();
    std::vector<const Offer*> begins, holds;
    for (const Offer& offer : all_) {
        const QString name = offer.name.toLower();
        if (name == word) continue;
        if (name.startsWith(word))
            begins.push_back(&offer);
        else if (word.size() > 1 && name.contains(word))
            holds.push_back(&offer);
    }
    std::ranges::stable_sort(begins, {}, [](const Offer* offer) { return offer->name.size(); });
    begins.insert(begins.end(), holds.begin(), holds.end());
    if (begins.size() > most_offered) begins.resize(most_offered);
    if (begins.empty()) return leave();
    show_list(begins);
}

void FormulaOffers::show_list(const std::vector<const Offer*>& found) {
    if (!list_) {
        list_ = new QListWidget(field_->window());
        list_->setObjectName("formulaOffers");
        list_->setItemDelegate(new OfferRow(list_));
        list_->setFocusPolicy(Qt::NoFocus);
        list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        list_->setStyleSheet(QString("QListWidget{background:%1;border:1px solid %2;border-radius:4px;}")
                                 .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::line).name()));
        connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) { put_in(list_->row(item)); });
    }
    list_->clear();
    for (const Offer* offer : found) {
        auto* item = new QListWidgetItem(offer->name, list_);
        item->setData(says_role, offer->says);
        item->setToolTip(offer->says);
    }
    list_->setCurrentRow(-1);
    const int tall = std::min(rows_seen, list_->count()) * row_height + 4, wide = 340;
    const QWidget* window = field_->window();
    const QPoint below = field_->mapTo(window, QPoint(0, field_->height() + 2));
    const bool upwards = below.y() + tall > window->height();
    list_->setGeometry(std::clamp(below.x(), 4, std::max(4, window->width() - wide - 6)),
                       upwards ? below.y() - field_->height() - 4 - tall : below.y(), wide, tall);
    list_->show();
    list_->raise();
}

void FormulaOffers::put_in(int row) {
    QListWidgetItem* item = list_->item(row);
    if (!item) return;
    const int begin = word_begin();
    const QString name = item->text();
    leave();
    field_->setFocus();
    field_->setSelection(begin, field_->cursorPosition() - begin);
    field_->insert(name);  // an edit of the field's own: undone by it, told by it
}

void FormulaOffers::leave() {
    if (list_) list_->hide();
}

bool FormulaOffers::take_key(int key) {
    const int row = list_->currentRow();
    switch (key) {
        case Qt::Key_Down:
            list_->setCurrentRow(std::min(row + 1, list_->count() - 1));
            return true;
        case Qt::Key_Up:
            if (row < 0) return false;
            list_->setCurrentRow(row - 1);
            return true;
        case Qt::Key_Tab:
            put_in(std::max(0, row));
            return true;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (row >= 0) {
                put_in(row);
                return true;
            }
            leave();
            return false;
        case Qt::Key_Escape:
            leave();
            return true;
        default:
            return false;
    }
}

bool FormulaOffers::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusIn) all_.clear();  // dials and steps may have come and gone
    if (event->type() == QEvent::FocusOut && !(list_ && list_->underMouse())) leave();
    if (list_ && list_->isVisible() && event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Escape || key == Qt::Key_Tab) {
            event->accept();
            return true;
        }
    }
    if (list_ && list_->isVisible() && event->type() == QEvent::KeyPress &&
        take_key(static_cast<QKeyEvent*>(event)->key()))
        return true;
    return QObject::eventFilter(watched, event);
}

}  // namespace bricol
