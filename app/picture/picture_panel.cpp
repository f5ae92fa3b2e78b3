// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/picture/picture_panel.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QScrollArea>
#include <QSettings>
#include <QToolButton>

#include "app/details/count_box.h"
#include "app/panels/panel.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr const char* eye_glyph =
    "M2.5 12 C6 6.5 18 6.5 21.5 12 C18 17.5 6 17.5 2.5 12 M12 9a3 3 0 1 0 0 6a3 3 0 1 0 0 -6";
constexpr const char* shut_glyph = "M2.5 11 C6 16 18 16 21.5 11 M6 14.2l-1.6 2.6 M12 15.2v3 M18 14.2l1.6 2.6";
constexpr const char* alone_glyph = "M12 4v3 M12 17v3 M4 12h3 M17 12h3 M12 9.5a2.5 2.5 0 1 0 0 5a2.5 2.5 0 1 0 0 -5";
constexpr const char* through_glyph = "M4 5h16v14H4z M9 12a3 3 0 1 0 6 0a3 3 0 1 0 -6 0";

/// Widgets side by side, to the left.
QHBoxLayout* row_layout(std::initializer_list<QWidget*> widgets) {
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    for (QWidget* widget : widgets) row->addWidget(widget);
    row->addStretch();
    return row;
}

void clear(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
        delete item;
    }
}

}  // namespace

PicturePanel::PicturePanel(Session& session, Viewport& viewport, QWidget* parent)
    : QWidget(parent), session_(session), viewport_(viewport) {
    setObjectName("picturePanel");
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(12, 8, 12, 8);
    across->setSpacing(18);
    across->addWidget(make_list(), 4);
    across->addWidget(make_taking(), 6);
    across->addWidget(make_progress(), 3);
    connect(&session, &Session::recipeChanged, this, &PicturePanel::refresh);
    connect(&session, &Session::choiceChanged, this, &PicturePanel::refresh);
    connect(&viewport, &Viewport::throughChanged, this, &PicturePanel::refresh);
    connect(&viewport.stills(), &StillView::lightChanged, this, &PicturePanel::refresh);
    connect(&job_, &PictureJob::progressed, this, [this](double share, const QString& words, int number) {
        if (number != job_.number()) return;
        bar_->setValue(static_cast<int>(share * 1000));
        words_->setText(words);
    });
    connect(&job_, &PictureJob::seen, this, [this](const QImage& image, int number) {
        if (number != job_.number()) return;
        thumbnail_->setPixmap(QPixmap::fromImage(
            image.scaled(thumbnail_->size() * devicePixelRatioF(), Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    });
    connect(&job_, &PictureJob::finished, this, [this](const QString& words, bool failed, int number) {
        if (number != job_.number()) return;  // a newer one is at work
        bar_->hide();
        stop_->hide();
        words_->setText(failed ? "Not taken, or not whole; the line above says why." : words);
        session_.say(words, failed);
    });
    refresh();
}

QWidget* PicturePanel::make_list() {
    auto* holder = new QWidget(this);
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    for (const StepInfo* info : all_steps()) {
        if (info->family != Family::light) continue;
        auto* button = new QToolButton(holder);
        button->setObjectName("add" + text_of(info->name));
        button->setIcon(theme::glyph_icon(info->glyph, 16));
        button->setText(text_of(info->name));
        button->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
        button->setToolTip((info->parameter("focal") ? "Adds a camera that sees what the view sees. " : "Adds one. ") +
                           text_of(info->purpose));
        connect(button, &QToolButton::clicked, this, [this, info] { add(*info); });
        head->addWidget(button);
    }
    head->addStretch();
    column->addLayout(head);
    auto* scroll = new QScrollArea(holder);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    auto* inside = new QWidget(scroll);
    rows_ = new QVBoxLayout(inside);
    rows_->setContentsMargins(0, 0, 4, 0);
    rows_->setSpacing(1);
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    standard_ = soft_label("No lights of its own: the standard three shine.", holder);
    set_out_ = new QPushButton("Set them out", holder);
    set_out_->setObjectName("setOutLights");
    set_out_->setToolTip("Puts the standard lights into the recipe, to be changed from there");
    connect(set_out_, &QPushButton::clicked, this, &PicturePanel::set_out_lights);
    auto* foot = new QHBoxLayout;
    foot->addWidget(standard_);
    foot->addWidget(set_out_);
    foot->addStretch();
    column->addLayout(foot);
    return holder;
}

QPushButton* PicturePanel::push(const char* name, const char* text, const char* tip, std::function<void()> run) {
    auto* button = new QPushButton(text, this);
    button->setObjectName(name);
    button->setToolTip(tip);
    connect(button, &QPushButton::clicked, this, std::move(run));
    return button;
}

QCheckBox* PicturePanel::check(const char* name, const char* text, const char* tip) {
    auto* box = new QCheckBox(text, this);
    box->setObjectName(name);
    box->setToolTip(tip);
    box->setChecked(QSettings().value(QString("picture/%1").arg(name), false).toBool());
    connect(box, &QCheckBox::toggled, box,
            [name](bool now) { QSettings().setValue(QString("picture/%1").arg(name), now); });
    return box;
}

/// What is done to the chosen entry, and how the view shows pictures.
QLayout* PicturePanel::make_guides() {
    from_view_ = push("fromView", "Camera from the view", "The chosen camera stands where the view looks from", [this] {
        const StageName camera{session_.part(), session_.step()};
        if (session_.edit(with_view(session_.recipe(), camera, viewport_.camera()), "Camera from the view"))
            viewport_.look_through(camera);
    });
    aim_ = push("aimByClick", "Aim by a click", "The next click on a shape is what the chosen one points at",
                [this] { aim_by_click(); });
    thirds_ = check("thirds", "Thirds", "Lines at the thirds of the picture's frame");
    margin_ = check("margin", "Safe margin", "What is inside is seen on every screen");
    dark_ = check("dark", "Dark ground", "The backdrop of recipes that have none of their own");
    plain_ = check("plainCurve", "Plain brightness", "Brightness cut off where it is too bright instead of bent");
    const auto guides = [this] { viewport_.set_guides(thirds_->isChecked(), margin_->isChecked()); };
    connect(thirds_, &QCheckBox::toggled, this, guides);
    connect(margin_, &QCheckBox::toggled, this, guides);
    connect(dark_, &QCheckBox::toggled, this, [this](bool on) { viewport_.stills().set_dark(on); });
    guides();
    auto* column = new QVBoxLayout;
    column->setSpacing(7);
    width_ = count_box(this, "picture", "pictureWidth", 0, most_picture_side, 0,
                       "Pixels from side to side; 0 for the camera's own size");
    height_ = count_box(this, "picture", "pictureHeight", 0, most_picture_side, 0,
                        "Pixels from top to bottom; 0 for the camera's own size");
    for (QSpinBox* side : {width_, height_}) side->setSpecialValueText("own");
    column->addLayout(row_layout({from_view_, aim_, thirds_, margin_}));
    column->addLayout(row_layout({dark_, plain_, new QLabel("size", this), width_, new QLabel("×", this), height_}));
    return column;
}

QWidget* PicturePanel::make_taking() {
    auto* holder = new QWidget(this);
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(7);
    column->addLayout(make_guides());
    camera_ = new QComboBox(holder);
    camera_->setObjectName("pictureCamera");
    camera_->setToolTip("Through which camera pictures are taken");
    samples_ = count_box(holder, "picture", "samples", 1, 65536, 128,
                         "Light paths for every pixel: 64 for a look, 512 for a clean picture");
    noise_ = count_box(holder, "picture", "noise", 0, 100, 0,
                       "Ends sooner, as soon as the noise is below so many percent; 0 for all paths");
    noise_->setSpecialValueText("off");
    frames_ = count_box(holder, "picture", "frames", 1, 100000, 120, "Pictures once round");
    rate_ = count_box(holder, "picture", "rate", 1, 100, 25, "Pictures a second of a moving picture");
    turn_ = new QComboBox(holder);
    turn_->setObjectName("turn");
    turn_->addItems({"the shapes turn", "the camera goes round", "frames alone"});
    turn_->setToolTip("What goes round; formulas see each picture's number as “frame” whichever it is");
    column->addLayout(row_layout(
        {new QLabel("Through", holder), camera_, new QLabel("paths", holder), samples_, new QLabel("noise %", holder),
         noise_,
         push("takePicture", "Take a picture…", "One finished picture as PNG or EXR", [this] { ask_for_picture(); })}));
    column->addLayout(row_layout({new QLabel("Frames", holder), frames_, turn_, new QLabel("a second", holder), rate_,
                                  push("turntable", "Turntable…", "A row of pictures: a folder of PNGs, WebP or GIF",
                                       [this] { ask_for_row(); })}));
    column->addStretch();
    return holder;
}

QWidget* PicturePanel::make_progress() {
    auto* holder = new QWidget(this);
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, 0, 0);
    thumbnail_ = new QLabel(holder);
    thumbnail_->setObjectName("pictureSeen");
    thumbnail_->setAlignment(Qt::AlignCenter);
    thumbnail_->setMinimumSize(150, 80);
    words_ = soft_label("Pictures that are taken show here.", holder);
    words_->setWordWrap(true);
    bar_ = new QProgressBar(holder);
    bar_->setRange(0, 1000);
    bar_->setTextVisible(false);
    bar_->setFixedHeight(6);
    bar_->hide();
    stop_ = new QPushButton("Stop", holder);
    stop_->setObjectName("stopPicture");
    stop_->setToolTip("Ends it; whole frames of a row stay");
    stop_->hide();
    connect(stop_, &QPushButton::clicked, this, [this] { job_.stop(); });
    column->addWidget(thumbnail_, 1);
    column->addWidget(words_);
    column->addWidget(bar_);
    column->addWidget(stop_, 0, Qt::AlignLeft);
    return holder;
}

QWidget* PicturePanel::row_of(const StageRow& row) {
    auto* line = new QWidget;
    line->setObjectName("stageRow");
    auto* across = new QHBoxLayout(line);
    across->setContentsMargins(4, 1, 4, 1);
    across->setSpacing(6);
    const bool chosen = row.name == chosen_shown_;
    auto* glyph = new QLabel(line);
    glyph->setPixmap(theme::glyph(row.info->glyph, 16, theme::color(row.on ? theme::Role::ink : theme::Role::soft_ink),
                                  devicePixelRatioF()));
    across->addWidget(glyph);
    auto* name = link_button(row.title, line);
    name->setToolTip("Chooses it; its numbers stand on the right");
    if (chosen) name->setStyleSheet("color:" + theme::color(theme::Role::chosen).name());
    connect(name, &QPushButton::clicked, this, [this, row] { session_.choose(row.name.part, row.name.step); });
    across->addWidget(name, 1);
    const auto tool = [&](const char* id, const char* path, const QString& tip, bool on, auto toggled) {
        auto* button = new QToolButton(line);
        button->setObjectName(id);
        button->setIcon(theme::glyph_icon(path, 16));
        button->setCheckable(true);
        button->setChecked(on);
        button->setToolTip(tip);
        button->setFixedSize(26, 22);
        connect(button, &QToolButton::toggled, this, toggled);
        across->addWidget(button);
    };
    if (row.camera)
        tool("throughCamera", through_glyph, "Look through it", through_shown_ == row.name,
             [this, row](bool on) { viewport_.look_through(on ? std::optional(row.name) : std::nullopt); });
    const std::string full = row.name.part + "." + row.name.step;
    if (row.light)
        tool("lightAlone", alone_glyph, "This light alone, while you look", alone_shown_ == full,
             [this, full](bool on) { viewport_.stills().set_only_light(on ? full : ""); });
    tool("stageOn", row.on ? eye_glyph : shut_glyph,
         row.on ? "On; a click switches it off" : "Off; a click switches it on", row.on,
         [this, row](bool on) { switch_on(row.name, on); });
    return line;
}

void PicturePanel::refresh() {
    if (!isVisible() && filled_) return;
    const std::vector<StageRow> rows = stage_rows(session_.recipe());
    const StageName chosen{session_.part(), session_.step()};
    const StepInfo* info = session_.chosen_step() ? find_step_info(session_.chosen_step()->type) : nullptr;
    const bool stage = info && info->family == Family::light;
    from_view_->setEnabled(stage && info->parameter("focal"));
    aim_->setEnabled(stage && info->parameter("aim"));
    std::string alone = viewport_.stills().only_light();
    if (filled_ && rows == shown_ && chosen == chosen_shown_ && through_shown_ == viewport_.through() &&
        alone == alone_shown_)
        return;
    filled_ = true;
    shown_ = rows, chosen_shown_ = chosen, through_shown_ = viewport_.through(), alone_shown_ = alone;
    clear(rows_);
    const QString before = camera_->currentData().toString();
    camera_->clear();
    for (const StageRow& row : rows) {
        rows_->addWidget(row_of(row));
        if (row.camera && row.on) camera_->addItem(row.title, QString::fromStdString(row.name.step));
    }
    rows_->addStretch();
    if (camera_->count() == 0) camera_->addItem("one that frames the shapes", "");
    camera_->setCurrentIndex(std::max(0, camera_->findData(before)));
    const bool lights = std::ranges::any_of(rows, &StageRow::light);
    standard_->setVisible(!lights);
    set_out_->setVisible(!lights);
}

void PicturePanel::add(const StepInfo& info) {
    StageName made;
    const double aspect = static_cast<double>(viewport_.width()) / std::max(1, viewport_.height());
    const Step step = fresh_stage_step(info, viewport_.camera(), aspect, viewport_.shown_box(true));
    if (!session_.edit(with_stage_step(session_.recipe(), step, made), "Add " + text_of(info.name).toLower())) return;
    session_.choose(made.part, made.step);
}

void PicturePanel::switch_on(const StageName& name, bool on) {
    const Part* part = session_.recipe().part(name.part);
    const Step* step = part ? find_step(*part, name.step) : nullptr;
    if (!step) return;
    Step changed = *step;
    changed.skipped = !on;
    Edited edited = replace_step(session_.recipe(), name.part, changed);
    if (edited && on && part->hidden) edited = set_hidden(*edited, name.part, false);
    session_.edit(edited, on ? "Switch on" : "Switch off");
}

void PicturePanel::aim_by_click() {
    const StageName name{session_.part(), session_.step()};
    viewport_.ask_spot([this, name](const DVec3& at) {
        const auto round = [](double v) { return std::round(v * 1e4) / 1e4; };
        session_.edit(
            set_setting(session_.recipe(), name.part, name.step, "aim", {round(at.x), round(at.y), round(at.z)}),
            "Aim by a click");
    });
}

void PicturePanel::set_out_lights() {
    if (!session_.made()) return;
    const auto shapes = delivered_shapes(session_.made_recipe(), *session_.made(), {});
    const double aspect = static_cast<double>(viewport_.width()) / std::max(1, viewport_.height());
    session_.edit(with_standard_lights(session_.recipe(), shapes, viewport_.camera(), aspect), "Set out the lights");
}

StillOrder PicturePanel::order() const {
    StillOrder order;
    order.camera = camera_->currentData().toString().toStdString();
    order.samples = samples_->value();
    order.wanted_noise = noise_->value() / 100.0;
    // One side alone is no size: both, or the camera's.
    if (width_->value() > 0 && height_->value() > 0) order.width = width_->value(), order.height = height_->value();
    order.dark = dark_->isChecked();
    order.curve = plain_->isChecked() ? StillCurve::plain : StillCurve::filmic;
    return order;
}

RowOrder PicturePanel::row_order(int frames) const {
    RowOrder order;
    order.still = this->order();
    order.frames = frames;
    order.turn = turn_->currentIndex() == 0   ? FrameTurn::shapes
                 : turn_->currentIndex() == 1 ? FrameTurn::camera
                                              : FrameTurn::none;
    return order;
}

void PicturePanel::begin_progress(const QString& words) {
    bar_->setValue(0);
    bar_->show();
    stop_->show();
    words_->setText(words);
}

void PicturePanel::take_picture(const QString& file) {
    begin_progress("The shapes are made …");
    job_.take(session_.recipe(), session_.environment(), order(), file);
}

void PicturePanel::take_row(const QString& out, int frames) {
    begin_progress("The first frame …");
    job_.take_row(session_.recipe(), session_.environment(), row_order(frames), rate_->value(), out);
}

void PicturePanel::ask_for_picture() {
    const QString stem = session_.path().isEmpty() ? "piece" : QFileInfo(session_.path()).completeBaseName();
    QString file = QFileDialog::getSaveFileName(this, "Take a picture", session_.folder() + "/" + stem + ".png",
                                                "PNG, as on the screen (*.png);;EXR, linear with layers (*.exr)");
    if (file.isEmpty()) return;
    if (QFileInfo(file).suffix().isEmpty()) file += ".png";
    take_picture(file);
}

void PicturePanel::ask_for_row() {
    const QString stem = session_.path().isEmpty() ? "piece" : QFileInfo(session_.path()).completeBaseName();
    const QString file =
        QFileDialog::getSaveFileName(this, "Turntable", session_.folder() + "/" + stem + "-turn.webp",
                                     "WebP that loops (*.webp);;GIF that loops (*.gif);;A folder of PNGs (*)");
    if (!file.isEmpty()) take_row(file, frames_->value());
}

void PicturePanel::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    viewport_.set_stage_shown(true);
    filled_ = false;
    refresh();
}

void PicturePanel::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    viewport_.set_stage_shown(false);
}

namespace {

QWidget* make_picture_panel(const PanelPlace& place) {
    return new PicturePanel(place.session, place.viewport, place.parent);
}

const RegisteredPanel picture_panel({.id = "picture",
                                     .title = "Picture",
                                     .tip = "Cameras, lights, backdrop and finished pictures (Ctrl+Shift+L)",
                                     .side = PanelSide::band,
                                     .place = 5,
                                     .make = make_picture_panel});

}  // namespace

}  // namespace bricol
