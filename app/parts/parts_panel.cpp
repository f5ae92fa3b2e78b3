// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/parts/parts_panel.h"

#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QToolButton>

#include "app/details/number_field.h"
#include "app/document/step_edits.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr int faces_role = Qt::UserRole + 1, hidden_role = Qt::UserRole + 2, tint_role = Qt::UserRole + 3,
              helper_role = Qt::UserRole + 4;

class PartRow : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {100, 26}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        using theme::Role;
        const QRect r = option.rect;
        const bool chosen = option.state & QStyle::State_Selected, hidden = index.data(hidden_role).toBool(),
                   helper = index.data(helper_role).toBool();
        painter->save();
        painter->setRenderHint(QPainter::Antialiasing);
        if (chosen) {
            painter->fillRect(r, theme::color(Role::act_soft));
            painter->fillRect(QRect(r.left(), r.top(), 3, r.height()), theme::color(Role::act));
        }
        painter->setPen(QPen(theme::color(Role::ink), 0.8));
        painter->setBrush(hidden || helper ? QBrush(Qt::NoBrush) : QBrush(index.data(tint_role).value<QColor>()));
        painter->drawEllipse(QRectF(r.left() + 12, r.center().y() - 4, 9, 9));
        painter->setPen(theme::color(hidden ? Role::soft_ink : Role::ink));
        painter->setFont(theme::text_font(9.75, chosen ? 600 : 400));
        painter->drawText(r.adjusted(28, 0, -60, 0), Qt::AlignVCenter,
                          QString(index.data().toString()).replace('_', ' '));
        painter->setPen(theme::color(Role::soft_ink));
        painter->setFont(theme::number_font(8.5));
        painter->drawText(r.adjusted(0, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight,
                          hidden   ? "hidden"
                          : helper ? "helper"
                                   : index.data(faces_role).toString());
        painter->restore();
    }
};

}  // namespace

PartsPanel::PartsPanel(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("panel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 8, 1, 4);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(11, 0, 7, 0);
    auto* title = new HeadLabel("Parts", this);
    head->addWidget(title, 1);
    auto* add = quiet_button("Add a part, or a reference picture", {20, 20}, this);
    add->setText("+");
    connect(add, &QToolButton::clicked, this, [this, add] {
        auto* menu = new QMenu(this);
        menu->setAttribute(Qt::WA_DeleteOnClose);
        menu->addAction("New part", this, [this] {
            std::string name;
            if (session_.edit(add_part(session_.recipe(), "part", &name), "Add a part")) session_.choose_part(name);
        });
        menu->addAction("Reference picture…", this, &PartsPanel::pictureWanted);
        menu->popup(add->mapToGlobal(QPoint(0, add->height())));
    });
    head->addWidget(add);
    column->addLayout(head);
    list_ = new QListWidget(this);
    list_->setObjectName("parts");
    list_->setItemDelegate(new PartRow(list_));
    list_->setContextMenuPolicy(Qt::CustomContextMenu);
    list_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item && !filling_) session_.choose_part(item->data(Qt::UserRole).toString().toStdString());
    });
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (filling_) return;
        const std::string old = item->data(Qt::UserRole).toString().toStdString(),
                          wanted = name_from(item->text().toStdString());
        if (session_.edit(rename_part(session_.recipe(), old, wanted), "Rename a part"))
            session_.choose_part(wanted);
        else
            refresh();
    });
    connect(list_, &QListWidget::customContextMenuRequested, this, &PartsPanel::part_menu);
    column->addWidget(list_, 1);
    auto* holder = new QWidget(this);
    pictures_ = new QVBoxLayout(holder);
    pictures_->setContentsMargins(11, 0, 8, 0);
    pictures_->setSpacing(2);
    column->addWidget(holder);
    connect(&session, &Session::recipeChanged, this, &PartsPanel::refresh);
    connect(&session, &Session::madeChanged, this, &PartsPanel::refresh);
    connect(&session, &Session::choiceChanged, this, &PartsPanel::refresh);
    refresh();
}

void PartsPanel::refresh() {
    filling_ = true;
    const auto& parts = session_.recipe().parts;
    while (list_->count() > static_cast<int>(parts.size())) delete list_->takeItem(list_->count() - 1);
    while (list_->count() < static_cast<int>(parts.size())) list_->addItem(new QListWidgetItem);
    for (int i = 0; i < list_->count(); ++i) {
        const Part& part = *parts[static_cast<std::size_t>(i)];
        QListWidgetItem* item = list_->item(i);
        const PartOutcome* made = session_.made() ? session_.made()->part(session_.made_recipe(), part.name) : nullptr;
        const QString name = QString::fromStdString(part.name);
        if (item->text() != name) item->setText(name);
        item->setData(Qt::UserRole, name);
        item->setData(faces_role, made ? grouped(made->measures.faces) : "");
        item->setData(hidden_role, part.hidden);
        item->setData(helper_role, part.helper);
        item->setData(tint_role, theme::part_clay(i));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        item->setToolTip("Double-click renames; right-click for more");
        if (part.name == session_.part() && list_->currentRow() != i) list_->setCurrentRow(i);
    }
    filling_ = false;
    if (shown_pictures_ != session_.recipe().pictures) refresh_pictures();
}

void PartsPanel::part_menu(const QPoint& at) {
    QListWidgetItem* item = list_->itemAt(at);
    if (!item) return;
    const std::string name = item->data(Qt::UserRole).toString().toStdString();
    const bool hidden = item->data(hidden_role).toBool();
    auto* menu = new QMenu(this);
    menu->setObjectName("partMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(hidden ? "Show" : "Hide", this, [this, name, hidden] {
        session_.edit(set_hidden(session_.recipe(), name, !hidden), hidden ? "Show a part" : "Hide a part");
    });
    const bool helper = item->data(helper_role).toBool();
    QAction* helps = menu->addAction("Helper", this, [this, name, helper] {
        session_.edit(set_helper(session_.recipe(), name, !helper), helper ? "No helper any more" : "Make it a helper");
    });
    helps->setCheckable(true);
    helps->setChecked(helper);
    helps->setToolTip("Seen as wire while you work, never in files, pictures or counts");
    menu->setToolTipsVisible(true);
    menu->addAction("Rename\tF2", this, [this, item] { list_->editItem(item); });
    menu->addAction("Delete", this,
                    [this, name] { session_.edit(remove_part(session_.recipe(), name), "Delete a part"); });
    menu->popup(list_->viewport()->mapToGlobal(at));
}

void PartsPanel::add_picture(const QString& file) {
    Picture picture;
    const QDir folder(session_.folder());
    const QString relative = folder.relativeFilePath(file);
    picture.file =
        (session_.path().isEmpty() || relative.startsWith("..") ? QFileInfo(file).absoluteFilePath() : relative)
            .toStdString();
    Recipe recipe = session_.recipe();
    recipe.pictures.push_back(picture);
    open_picture_ = static_cast<int>(recipe.pictures.size()) - 1;
    session_.edit(recipe, "Add a picture");
}

void PartsPanel::set_picture(std::size_t index, const Picture& picture, const QString& name, const QString& merge) {
    Recipe recipe = session_.recipe();
    if (index >= recipe.pictures.size()) return;
    recipe.pictures[index] = picture;
    shown_pictures_ = recipe.pictures;  // the fields show it already
    session_.edit(recipe, name, merge);
    if (merge.isEmpty()) session_.part_edits();
}

void PartsPanel::refresh_pictures() {
    shown_pictures_ = session_.recipe().pictures;
    while (QLayoutItem* item = pictures_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (std::size_t i = 0; i < shown_pictures_.size(); ++i) {
        const Picture picture = shown_pictures_[i];
        auto* row = link_button("▫ " + QFileInfo(QString::fromStdString(picture.file)).fileName());
        row->setToolTip("Reference picture, seen in the flat view of its plane. Click for its size and place.");
        connect(row, &QPushButton::clicked, this, [this, i] {
            open_picture_ = open_picture_ == static_cast<int>(i) ? -1 : static_cast<int>(i);
            refresh_pictures();
        });
        pictures_->addWidget(row);
        if (open_picture_ != static_cast<int>(i)) continue;
        auto* form = new QWidget;
        auto* grid = new QGridLayout(form);
        grid->setContentsMargins(4, 0, 0, 4);
        grid->setSpacing(2);
        const auto label = [&](const char* text, int line) {
            auto* l = soft_label(text, form);
            grid->addWidget(l, line, 0);
        };
        auto* plane = new QComboBox(form);
        plane->addItems({"front", "side", "top"});
        plane->setCurrentText(QString::fromStdString(picture.plane));
        connect(plane, &QComboBox::activated, this, [this, i, plane] {
            if (i >= session_.recipe().pictures.size()) return;
            Picture now = session_.recipe().pictures[i];
            now.plane = plane->currentText().toStdString();
            set_picture(i, now, "Move a picture");
        });
        label("plane", 0);
        grid->addWidget(plane, 0, 1);
        int line = 1;
        const auto number = [&](const char* text, double Picture::*member, Quantity quantity, double low, double high) {
            auto* field = new NumberField(form);
            field->setObjectName(QString("picture:") + text);
            field->set_kind(quantity, QString::fromStdString(session_.recipe().unit),
                            {low, high, std::max(low, -2.0), std::min(high, 2.0)});
            field->show_value(picture.*member);
            connect(field, &NumberField::numberGiven, this, [this, i, member, text](double value, bool moving) {
                if (i >= session_.recipe().pictures.size()) return;  // undone meanwhile
                Picture now = session_.recipe().pictures[i];
                now.*member = value;
                set_picture(i, now, "Change a picture", moving ? QString("picture ") + text : QString());
            });
            label(text, line);
            grid->addWidget(field, line++, 1);
        };
        number("height", &Picture::height, Quantity::length, 0.001, 1e4);
        number("across", &Picture::across, Quantity::length, -1e4, 1e4);
        number("up", &Picture::up, Quantity::length, -1e4, 1e4);
        number("opacity", &Picture::opacity, Quantity::plain, 0, 1);
        auto* remove = link_button("Take away", form);
        connect(remove, &QPushButton::clicked, this, [this, i] {
            Recipe recipe = session_.recipe();
            if (i >= recipe.pictures.size()) return;
            recipe.pictures.erase(recipe.pictures.begin() + static_cast<std::ptrdiff_t>(i));
            open_picture_ = -1;
            session_.edit(recipe, "Take a picture away");
        });
        grid->addWidget(remove, line, 1);
        pictures_->addWidget(form);
    }
}

}  // namespace bricol
