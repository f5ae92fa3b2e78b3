// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/start/start_page.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QTimer>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "app/theme/theme.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"

namespace bricol {

QString demo_folder() {
    for (const QString& folder :
         {QString(BRICOL_SOURCE_DEMO), QCoreApplication::applicationDirPath() + "/../share/bricol/demo"})
        if (QDir(folder).exists("buoy.bricol")) return QDir(folder).absolutePath();
    return {};
}

namespace {

/// A small picture of what a recipe makes.
QPixmap picture_of(Renderer* renderer, const QString& path, QSize size, double ratio) {
    const auto recipe = load_recipe(path.toStdString());
    if (!recipe || !renderer) return {};
    Maker maker;
    MakeOptions options;
    options.environment = environment_in(QFileInfo(path).absolutePath().toStdString());
    const Made made = maker.make(*recipe, options);
    Scene scene;
    scene.grid = false;
    scene.shading = &shading_named("materials");
    std::optional<Box> box;
    for (std::size_t p = 0; p < recipe->parts.size(); ++p) {
        if (recipe->parts[p]->hidden) continue;
        add_items(scene, made.parts[p]->shape, theme::part_clay(static_cast<int>(p)));
        if (const auto other = box_of(*made.parts[p]->shape)) {
            if (!box) box = other;
            box->low = glm::min(box->low, other->low);
            box->high = glm::max(box->high, other->high);
        }
    }
    if (!box) return {};
    Camera camera;
    camera.frame(*box, static_cast<double>(size.width()) / size.height());
    QPixmap picture = QPixmap::fromImage(renderer->render(scene, camera, (QSizeF(size) * ratio).toSize(), true));
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
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(44, 32, 44, 28);
    column->setSpacing(10);
    auto* title = new QLabel("Skerry Quay", this);
    title->setFont(theme::text_font(20, 600));
    title->setStyleSheet("font-size:20pt;font-weight:600;");
    column->addWidget(title);
    auto* line = new QLabel(
        "A small tidal harbour, made of recipes. Open a piece and turn its dials, or make one of your own.", this);
    line->setObjectName("soft");
    column->addWidget(line);
    column->addSpacing(8);
    for (const QString& autosave : Session::recoverable()) column->addWidget(recovery_row(autosave));
    auto* line_up = new QHBoxLayout;
    line_up->setSpacing(16);
    line_up->addWidget(kit_area());
    line_up->addWidget(own_card(), 0, Qt::AlignTop);
    line_up->addStretch();
    column->addLayout(line_up, 1);
    // The page stands at once; its pictures come in one after another.
    QTimer::singleShot(0, this, &StartPage::next_picture);
}

QWidget* StartPage::recovery_row(const QString& autosave) {
    auto* row = new QFrame(this);
    row->setStyleSheet(QString("QFrame{background:%1;border-left:3px solid %2;}")
                           .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::caution).name()));
    auto* inside = new QHBoxLayout(row);
    inside->addWidget(
        new QLabel(
            QString("Unsaved work of %1 was kept.").arg(QFileInfo(autosave).lastModified().toString("d MMM, HH:mm")),
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
    picture->setFixedSize(252, 158);
    picture->setAlignment(Qt::AlignCenter);
    picture->setStyleSheet("background:" + theme::color(theme::Role::view_low).name());
    waiting_.emplace_back(picture, path);
    inside->addWidget(picture);
    const auto recipe = load_recipe(path.toStdString());
    auto* name = new QLabel(recipe ? QString::fromStdString(recipe->title) : file, card);
    name->setObjectName("head");
    inside->addWidget(name);
    auto* row = new QHBoxLayout;
    if (recipe) {
        auto* about = new QLabel(QString("%1 part%2, %3 dials")
                                     .arg(recipe->parts.size())
                                     .arg(recipe->parts.size() == 1 ? "" : "s")
                                     .arg(recipe->dials.size()),
                                 card);
        about->setObjectName("soft");
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

void StartPage::next_picture() {
    if (shown_ >= waiting_.size()) return;
    const auto& [label, file] = waiting_[shown_++];
    label->setPixmap(picture_of(renderer_, file, {252, 158}, devicePixelRatioF()));
    QTimer::singleShot(0, this, &StartPage::next_picture);
}

}  // namespace bricol
