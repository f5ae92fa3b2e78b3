// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stock/stock_panel.h"

#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

#include "app/document/step_edits.h"
#include "app/panels/panel.h"
#include "app/theme/theme.h"
#include "app/viewport/viewport.h"
#include "core/files/recipe_file.h"
#include "core/files/stock.h"

namespace bricol {

namespace {

constexpr QSize stock_picture_size(132, 96), stock_cell_size(140, 124);
constexpr int stock_name_role = Qt::UserRole, stock_words_role = Qt::UserRole + 1, stock_family_role = Qt::UserRole + 2;

/// A picture with its name below.
class PartCell : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return stock_cell_size; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        using theme::Role;
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        const QRectF card = QRectF(option.rect).adjusted(2.5, 2.5, -2.5, -2.5);
        const bool chosen = option.state & QStyle::State_Selected;
        painter->setPen(QPen(theme::color(chosen ? Role::chosen : Role::line), chosen ? 2 : 1));
        painter->setBrush(theme::color(Role::card));
        painter->drawRoundedRect(card, 4, 4);
        const QRect picture(option.rect.left() + 4, option.rect.top() + 4, option.rect.width() - 8,
                            stock_picture_size.height());
        const QPixmap pixmap = index.data(Qt::DecorationRole).value<QPixmap>();
        if (pixmap.isNull())
            painter->fillRect(picture, theme::color(Role::view_low));
        else
            painter->drawPixmap(picture, pixmap);
        painter->setPen(theme::color(Role::ink));
        painter->setFont(theme::text_font(8.75));
        painter->drawText(QRect(option.rect.left() + 6, picture.bottom() + 1, option.rect.width() - 12, 20),
                          Qt::AlignCenter, index.data(Qt::DisplayRole).toString());
        painter->restore();
    }
};

QString value_words(const Recipe& recipe, const Dial& dial) {
    if (dial.kind != DialKind::number || dial.unit != "m") return QString::fromStdString(dial_words(dial));
    return QString::fromStdString(format_value(dial.value, Quantity::length, field_unit(recipe.unit, dial.high)));
}

/// Its dials in words, a line each.
QString dial_lines(const Recipe& recipe) {
    QStringList lines;
    for (const Dial& dial : recipe.dials)
        lines << QString("<b>%1</b>&nbsp; %2 <span style='color:%3'>%4</span>")
                     .arg(QString::fromStdString(dial.name).replace('_', ' '),
                          value_words(recipe, dial).toHtmlEscaped(), theme::color(theme::Role::soft_ink).name(),
                          QString::fromStdString(dial.help).toHtmlEscaped());
    return lines.join("<br>");
}

}  // namespace

StockPanel::StockPanel(Session& session, Renderer* renderer, QWidget* parent)
    : QWidget(parent), session_(session), renderer_(renderer) {
    setObjectName("stockPanel");
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(12, 8, 8, 6);
    across->setSpacing(10);
    across->addWidget(make_side());
    parts_ = new QListWidget(this);
    parts_->setObjectName("stockParts");
    parts_->setViewMode(QListView::IconMode);
    parts_->setResizeMode(QListView::Adjust);
    parts_->setMovement(QListView::Static);
    parts_->setUniformItemSizes(true);
    parts_->setGridSize(stock_cell_size);
    parts_->setItemDelegate(new PartCell(parts_));
    parts_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    parts_->setAccessibleName("Parts of the stock");
    for (const StockPart& part : stock_parts()) {
        auto* item = new QListWidgetItem(QString::fromStdString(part.title), parts_);
        item->setData(stock_name_role, QString::fromStdString(part.name));
        item->setData(stock_words_role,
                      QString::fromStdString(part.title + " " + part.words + " " + part.about).toLower());
        item->setData(stock_family_role, QString::fromStdString(part.family));
        item->setToolTip(QString::fromStdString(part.about));
        items_[part.name] = item;
    }
    across->addWidget(parts_, 1);
    across->addWidget(make_about());
    connect(parts_, &QListWidget::currentItemChanged, this, &StockPanel::show_chosen);
    connect(parts_, &QListWidget::itemActivated, this, &StockPanel::add_chosen);
    connect(search_, &QLineEdit::textChanged, this, &StockPanel::show_found);
    connect(search_, &QLineEdit::returnPressed, this, &StockPanel::add_chosen);
    connect(families_, &QListWidget::currentRowChanged, this, &StockPanel::show_found);
    connect(&pictures_, &RecipePictures::made, this, [this](const QString& path, const auto& shapes) {
        for (const StockPart& part : stock_parts()) {
            if (QString::fromStdString(part.path) != path) continue;
            const double ratio = devicePixelRatioF();
            QPixmap picture = QPixmap::fromImage(
                picture_of_shapes(*renderer_, *shapes, (QSizeF(stock_picture_size) * ratio).toSize()));
            picture.setDevicePixelRatio(ratio);
            items_.at(part.name)->setData(Qt::DecorationRole, picture);
            ++pictured_;
        }
    });
    show_found();
}

QWidget* StockPanel::make_side() {
    auto* side = new QWidget(this);
    side->setFixedWidth(170);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    search_ = new QLineEdit(side);
    search_->setObjectName("stockSearch");
    search_->setPlaceholderText("find in the stock…");
    search_->setClearButtonEnabled(true);
    search_->setToolTip("By name, the word you know, or the number of a standard. Enter adds what is chosen.");
    column->addWidget(search_);
    families_ = new QListWidget(side);
    families_->setObjectName("stockFamilies");
    families_->addItem("All");
    families_->setFrameShape(QFrame::NoFrame);
    for (const StockPart& part : stock_parts()) {
        const QString family = QString::fromStdString(part.family);
        if (families_->findItems(family, Qt::MatchExactly).isEmpty()) families_->addItem(family);
    }
    for (int i = 0; i < families_->count(); ++i) families_->item(i)->setSizeHint(QSize(0, 24));
    families_->setCurrentRow(0);
    column->addWidget(families_, 1);
    return side;
}

QWidget* StockPanel::make_about() {
    auto* side = new QWidget(this);
    side->setFixedWidth(270);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    const auto line = [&](const char* name) {
        auto* label = new QLabel(side);
        label->setObjectName(name);
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        column->addWidget(label);
        return label;
    };
    title_ = line("head");
    about_ = line("soft");
    numbers_ = line("stockNumbers");
    column->addStretch();
    auto* buttons = new QHBoxLayout;
    add_ = new QPushButton("Add to the recipe", side);
    add_->setObjectName("stockAdd");
    add_->setToolTip("As a part of its own, with its dials as numbers (Enter, double click)");
    copy_ = new QPushButton("Save a copy…", side);
    copy_->setObjectName("stockCopy");
    copy_->setToolTip("The recipe as a file of your own, to change its steps");
    connect(add_, &QPushButton::clicked, this, &StockPanel::add_chosen);
    connect(copy_, &QPushButton::clicked, this, &StockPanel::save_copy);
    buttons->addWidget(add_, 1);
    buttons->addWidget(copy_);
    column->addLayout(buttons);
    return side;
}

std::string StockPanel::chosen() const {
    const QListWidgetItem* item = parts_->currentItem();
    return item && !item->isHidden() ? item->data(stock_name_role).toString().toStdString() : std::string();
}

void StockPanel::show_found() {
    const QString wanted = search_->text().trimmed().toLower();
    const QString family = families_->currentRow() > 0 ? families_->currentItem()->text() : QString();
    QListWidgetItem* first = nullptr;
    for (int i = 0; i < parts_->count(); ++i) {
        QListWidgetItem* item = parts_->item(i);
        bool there = family.isEmpty() || item->data(stock_family_role).toString() == family;
        for (const QString& word : wanted.split(' ', Qt::SkipEmptyParts))
            there = there && item->data(stock_words_role).toString().contains(word);
        item->setHidden(!there);
        if (there && !first) first = item;
    }
    if (chosen().empty()) parts_->setCurrentItem(first);
    show_chosen();
}

void StockPanel::show_chosen() {
    const StockPart* part = find_stock_part(chosen());
    add_->setEnabled(part);
    copy_->setEnabled(part);
    if (!part) {
        title_->setText(stock_parts().empty() ? "The stock is not there" : "Nothing is called that");
        about_->setText(stock_parts().empty() ? "It is installed with the program, in share/bricol/kits."
                                              : "Try another word: “thread”, “rope”, “wheel” …");
        numbers_->clear();
        return;
    }
    title_->setText(QString::fromStdString(part->title));
    about_->setText(QString::fromStdString(part->about));
    const auto recipe = load_recipe(part->path);
    numbers_->setText(recipe ? dial_lines(*recipe) : QString::fromStdString(recipe.problem().text()));
}

void StockPanel::add_chosen() {
    if (const StockPart* part = find_stock_part(chosen())) add_stock_part(session_, part->name, part->title);
}

void StockPanel::save_copy() {
    const StockPart* part = find_stock_part(chosen());
    if (!part) return;
    const QString path = QFileDialog::getSaveFileName(
        this, "Save a copy of the recipe",
        session_.folder() + "/" + QFileInfo(QString::fromStdString(part->path)).fileName(), "Recipes (*.bricol)");
    if (path.isEmpty()) return;
    const auto recipe = load_recipe(part->path);
    if (!recipe) return session_.say(QString::fromStdString(recipe.problem().text()), true);
    if (const auto problem = save_recipe(*recipe, path.toStdString()))
        return session_.say(QString::fromStdString(problem->text()), true);
    session_.say(QString("Saved %1. Open it to change its steps.").arg(QFileInfo(path).fileName()), false);
}

void StockPanel::paintEvent(QPaintEvent* event) {
    QWidget::paintEvent(event);
    if (!renderer_) return;
    QStringList paths;
    for (const StockPart& part : stock_parts()) paths << QString::fromStdString(part.path);
    pictures_.start(paths);
}

namespace {

QWidget* make_stock_panel(const PanelPlace& place) {
    return new StockPanel(place.session, place.viewport.renderer(), place.parent);
}

const RegisteredPanel stock_panel({.id = "stock",
                                   .title = "Stock",
                                   .tip = "Standard parts to add: fasteners, chain, fittings, gears (Ctrl+Shift+K)",
                                   .side = PanelSide::band,
                                   .place = 9,
                                   .tall = true,
                                   .make = make_stock_panel});

}  // namespace

}  // namespace bricol
