// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/start/start_page.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"
#include "core/files/recipe_file.h"

namespace bricol {

QString demo_folder() {
    for (const QString& folder :
         {QString(BRICOL_SOURCE_DEMO), QCoreApplication::applicationDirPath() + "/../share/bricol/demo"})
        if (QDir(folder).exists("buoy.bricol")) return QDir(folder).absolutePath();
    return {};
}

namespace {

constexpr QSize card_picture_size(252, 158);

QPixmap picture_of(Renderer& renderer, const PartShapes& shapes, double ratio) {
    QPixmap picture =
        QPixmap::fromImage(picture_of_shapes(renderer, shapes, (QSizeF(card_picture_size) * ratio).toSize()));
    picture.setDevicePixelRatio(ratio);
    return picture;
}

QPushButton* big_button(const QString& text, QWidget* parent) {
    auto* button = new QPushButton(text, parent);
    button->setMinimumHeight(32);
    button->setStyleSheet(QString("QPushButton{background:%1;color:%2;border:none;border-radius:4px;padding:6px "
                                  "16px;font-weight:600;} QPushButton:focus{border:2px solid %3;}")
                              .arg(theme::color(theme::Role::act).name(), theme::color(theme::Role::card).name(),
                                   theme::color(theme::Role::ink).name()));
    return button;
}

}  // namespace

StartPage::StartPage(Renderer* renderer, QWidget* parent) : QFrame(parent), renderer_(renderer) {
    setObjectName("panel");
    connect(&pictures_, &RecipePictures::made, this, [this](const QString& path, const auto& shapes) {
        for (const auto& [label, file] : cards_)
            if (file == path) label->setPixmap(picture_of(*renderer_, *shapes, devicePixelRatioF()));
    });
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(44, 32, 44, 28);
    column->setSpacing(10);
    auto* title = new QLabel("Skerry Quay", this);
    title->setFont(theme::text_font(20, 600));
    title->setStyleSheet("font-size:20pt;font-weight:600;");
    column->addWidget(title);
    auto* line = soft_label(
        "A small tidal harbour, made of recipes. Open a piece and turn its dials, or make one of your own.", this);
    column->addWidget(line);
    column->addSpacing(8);
    for (const QString& autosave : Session::recoverable()) column->addWidget(recovery_row(autosave));
    auto* line_up = new QHBoxLayout;
    line_up->setSpacing(16);
    line_up->addWidget(kit_area());
    line_up->addWidget(own_card(), 0, Qt::AlignTop);
    line_up->addStretch();
    column->addLayout(line_up, 1);
}

QWidget* StartPage::recovery_row(const QString& autosave) {
    auto* row = new QFrame(this);
    row->setObjectName("recoveryRow");  // a bare QFrame would mean the label in it too
    row->setStyleSheet(QString("#recoveryRow{background:%1;border-left:3px solid %2;}")
                           .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::caution).name()));
    auto* inside = new QHBoxLayout(row);
    const QString original = Session::autosave_of(autosave);
    inside->addWidget(new QLabel(QString("Unsaved work on %1 of %2 was kept.")
                                     .arg(original.isEmpty() ? QString("a new recipe") : QFileInfo(original).fileName(),
                                          QFileInfo(autosave).lastModified().toString("d MMM, HH:mm")),
                                 row),
                      1);
    auto* open = new QPushButton("Recover it", row);
    open->setObjectName("recover");
    connect(open, &QPushButton::clicked, this, [this, autosave] { emit recoverWanted(autosave); });
    inside->addWidget(open);
    return row;
}

/// The kit three abreast, scrolled; what one makes oneself stays beside it.
QWidget* StartPage::kit_area() {
    auto* scroll = new QScrollArea(this);
    scroll->setObjectName("kit");
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* kit = new QWidget(scroll);
    auto* cards = new QGridLayout(kit);
    cards->setContentsMargins(0, 0, 8, 0);
    cards->setSpacing(14);
    constexpr int abreast = 3;
    int place = 0;
    const QDir demo(demo_folder());
    const auto files = demo_folder().isEmpty() ? QStringList{} : demo.entryList({"*.bricol"}, QDir::Files, QDir::Name);
    for (const QString& file : files) {
        cards->addWidget(demo_card(demo.filePath(file)), place / abreast, place % abreast);
        ++place;
    }
    cards->setRowStretch((place + abreast - 1) / abreast, 1);
    scroll->setWidget(kit);
    scroll->setMinimumWidth(abreast * 270 + (abreast - 1) * 14 + 26);
    return scroll;
}

QWidget* StartPage::demo_card(const QString& path) {
    const QString file = QFileInfo(path).fileName();
    auto* card = new QFrame(this);
    card->setObjectName("demoCard");
    card->setStyleSheet(QString("#demoCard{background:%1;border:1px solid %2;border-radius:5px;}")
                            .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::line).name()));
    auto* inside = new QVBoxLayout(card);
    inside->setContentsMargins(8, 6, 8, 8);
    inside->setSpacing(3);
    auto* picture = new QLabel(card);
    picture->setFixedSize(card_picture_size);
    picture->setAlignment(Qt::AlignCenter);
    picture->setStyleSheet("background:" + theme::color(theme::Role::view_low).name());
    cards_.emplace_back(picture, path);
    inside->addWidget(picture);
    const auto recipe = load_recipe(path.toStdString());
    auto* name = new HeadLabel(recipe ? QString::fromStdString(recipe->title) : file, card);
    inside->addWidget(name);
    auto* row = new QHBoxLayout;
    if (recipe) {
        auto* about = soft_label(QString("%1 part%2, %3 dials")
                                     .arg(recipe->parts.size())
                                     .arg(recipe->parts.size() == 1 ? "" : "s")
                                     .arg(recipe->dials.size()),
                                 card);
        row->addWidget(about, 1);
    }
    auto* open = new QPushButton("Open", card);
    open->setObjectName("open:" + file);
    connect(open, &QPushButton::clicked, this, [this, path] { emit openWanted(path); });
    row->addWidget(open);
    inside->addLayout(row);
    return card;
}

QWidget* StartPage::own_card() {
    auto* own = new QFrame(this);
    own->setObjectName("ownCard");
    own->setStyleSheet(QString("#ownCard{background:%1;border:1px dashed %2;border-radius:5px;}")
                           .arg(theme::color(theme::Role::act_soft).name(), theme::color(theme::Role::act).name()));
    own->setMinimumWidth(290);
    own->setMaximumHeight(260);
    auto* inside = new QVBoxLayout(own);
    inside->setContentsMargins(18, 14, 18, 14);
    auto* head = new QLabel("Make your own", own);
    head->setStyleSheet("font-size:12pt;font-weight:600;");
    inside->addWidget(head);
    for (const char* step : {"<b>1</b>&nbsp; Draw half a profile in the front view.",
                             "<b>2</b>&nbsp; Lathe turns it about the axis while you draw.",
                             "<b>3</b>&nbsp; Make a number a dial, and vary the piece."}) {
        auto* text = new QLabel(step, own);
        text->setWordWrap(true);
        inside->addWidget(text);
    }
    inside->addStretch();
    auto* start = big_button("Start with a profile", own);
    start->setObjectName("startProfile");
    connect(start, &QPushButton::clicked, this, &StartPage::newWanted);
    inside->addWidget(start);
    return own;
}

void StartPage::paintEvent(QPaintEvent* event) {
    QFrame::paintEvent(event);
    // Not before the page has been seen once: the window comes first.
    if (!renderer_) return;
    QStringList paths;
    for (const auto& [label, file] : cards_) paths << file;
    pictures_.start(paths);
}

}  // namespace bricol
