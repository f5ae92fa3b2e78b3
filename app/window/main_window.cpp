// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/window/main_window.h"

#include <QApplication>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QSettings>
#include <QVBoxLayout>

#include "app/commands/field_keys.h"
#include "app/document/step_edits.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/recipe/clip.h"
#include "core/files/export.h"
#include "core/recipe/recipe_json.h"
#include "core/files/kits.h"
#include "core/files/recipe_file.h"
#include "core/kernels/fuse.h"

namespace bricol {

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent) {
    setObjectName("room");
    setWindowTitle("Bricol");
    qApp->installEventFilter(new FieldKeys(this));
    QString why;
    renderer_ = Renderer::create(&why);
    auto* desk = new QWidget(this);
    desk->setObjectName("desk");
    setCentralWidget(desk);
    viewport_ = new Viewport(session_, renderer_.get(), why, this);
    time_bar_ = new TimeBar(session_, *viewport_, this);
    trace_ = new TracePanel(session_, viewport_);
    layout_room();
    strip_ = findChild<StripView*>();
    sheets_ = findChild<SheetPages*>();
    table_ = findChild<AttributeTable*>();
    parts_ = findChild<PartsPanel*>();
    make_menus();

    connect(strip_, &StripView::addWanted, add_bar_, &AddBar::start);
    connect(&sheet(), &StepSheet::addWanted, pointer_bar_, &AddBar::start_at);
    connect(sheets_, &SheetPages::shown, this, [this] { show_panel("sheet"); });
    connect(findChild<DetailsPanel*>(), &DetailsPanel::blocksWanted, sheets_, &SheetPages::open_mixer);
    connect(&sheet(), &StepSheet::kitSaveWanted, this, &MainWindow::save_kit_with_dialog);
    connect(viewport_, &Viewport::viewChanged, this, [this] { session_.worker().hand_moved(); });
    connect(viewport_, &Viewport::spotClicked, this, [this](const std::string& part, const Vec3& at, std::size_t face) {
        if (part != session_.part()) session_.choose_part(part);
        trace_->trace(part, at);
        trace_->move(12, 44);
        if (panel() == "table") table_->go_to(Domain::face, face);
    });
    connect(viewport_, &Viewport::faceClicked, this, [this](const std::string& part, std::size_t face) {
        // The table lists the chosen step; a click means its rows only while that is what is shown.
        const StepOutcome* chosen = session_.outcome(part, session_.step());
        const PartOutcome* shown = session_.made() ? session_.made()->part(session_.made_recipe(), part) : nullptr;
        if (panel() == "table" && chosen && shown && chosen->shape == shown->shape) table_->go_to(Domain::face, face);
    });
    connect(trace_, &TracePanel::stepsFound, &sheet(), &StepSheet::light);
    connect(trace_, &TracePanel::stepsFound, strip_, &StripView::light);
    connect(parts_, &PartsPanel::pictureWanted, this, &MainWindow::choose_reference_picture);
    connect(&session_, &Session::said, this, &MainWindow::say);
    connect(&session_, &Session::asked, this, [this](const QString& path) {
        notice(QFileInfo(path).fileName() + " was changed by someone else since you opened it.",
               {{"Save over it", [this, path] { session_.save(path, true); }},
                {"Save under another name…", [this] { save_as(); }}});
    });
    connect(&session_, &Session::outsideRefused, this, [this](const QStringList& files) {
        notice(QString("%1 names files outside its folder, which were not read: %2")
                   .arg(QFileInfo(session_.path()).fileName(), files.join(", ")),
               {{"Read them from now on", [this] { session_.allow_outside(); }}});
    });
    connect(&session_, &Session::recipeChanged, this, &MainWindow::follow_recipe);
    connect(&session_, &Session::madeChanged, this, &MainWindow::refresh_status);
    connect(&session_, &Session::choiceChanged, this, &MainWindow::refresh_status);
    connect(&session_, &Session::fileChanged, this, &MainWindow::refresh_status);
    connect(&progress_timer_, &QTimer::timeout, this, &MainWindow::show_progress);
    connect(&session_.worker(), &Worker::busyChanged, this, [this](bool busy) {
        if (busy && !progress_timer_.isActive()) progress_timer_.start(300);
        if (busy) return;
        progress_timer_.stop();
        progress_->hide();
        strip_->set_at_work({});
    });

    QSettings settings;
    if (settings.value("night").toBool()) theme::set_night(true);
    resize(1280, 800);
    restoreGeometry(settings.value("geometry").toByteArray());
    across_->restoreState(settings.value("across").toByteArray());
    down_->restoreState(settings.value("down").toByteArray());
    const ShadingInfo* shading = find_shading(settings.value("shading").toString().toStdString());
    if (shading && !shading->paints_attribute) viewport_->set_shading(*shading);
    session_.start_new(Recipe{});
    refresh_undo();
}

MainWindow::~MainWindow() {
    // Nobody is told of anything while what listens is taken down.
    session_.worker().end();
    stop_exporting();
    // Views look at the session and the renderer, which are members: the views go first.
    delete takeCentralWidget();
}

QWidget* MainWindow::make_top_bar() {
    auto* top = new QFrame(this);
    top->setObjectName("topbar");
    top->setFixedHeight(38);
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(12, 0, 12, 0);
    auto* name = new QLabel("Bricol", top);
    name->setStyleSheet("font-size:11pt;font-weight:600;");
    row->addWidget(name);
    menu_bar_ = new QMenuBar(top);
    menu_bar_->setNativeMenuBar(false);
    menu_bar_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Maximum);
    row->addWidget(menu_bar_, 0, Qt::AlignVCenter);
    add_bar_ = new AddBar(session_, centralWidget(), top);
    add_bar_->setFixedWidth(300);
    row->addSpacing(16);
    row->addWidget(add_bar_);
    row->addStretch();
    file_label_ = soft_label("", top);
    row->addWidget(file_label_);
    row->addSpacing(10);
    status_label_ = new QLabel(top);
    status_label_->setObjectName("status");
    status_label_->setFont(theme::number_font(9.5));
    row->addWidget(status_label_);
    return top;
}

void MainWindow::make_notice() {
    notice_ = new QFrame(this);
    notice_->setObjectName("notice");
    notice_row_ = new QHBoxLayout(notice_);
    notice_row_->setContentsMargins(16, 5, 12, 5);
    notice_text_ = new QLabel(notice_);
    notice_text_->setObjectName("noticeText");
    notice_text_->setWordWrap(true);
    notice_row_->addWidget(notice_text_, 1);
    notice_->hide();
    notice_timer_.setSingleShot(true);
    connect(&notice_timer_, &QTimer::timeout, notice_, &QWidget::hide);
}

void MainWindow::make_progress() {
    progress_ = new QFrame(this);
    progress_->setObjectName("progress");
    auto* progress_row = new QHBoxLayout(progress_);
    progress_row->setContentsMargins(16, 4, 12, 4);
    progress_text_ = new QLabel("Making", progress_);
    progress_text_->setObjectName("progressText");
    progress_text_->setMinimumWidth(300);  // so that the bar stands still while the words change
    progress_bar_ = new QProgressBar(progress_);
    progress_bar_->setFixedHeight(14);
    progress_bar_->setTextVisible(false);  // it would lie half on the bar; the words say it
    auto* stop = new QPushButton("Stop", progress_);
    stop->setObjectName("stop");
    connect(stop, &QPushButton::clicked, this, [this] {
        session_.worker().stop();
        session_.say("Stopped. The picture shows the last finished shape; any edit starts making again.");
    });
    progress_row->addWidget(progress_text_);
    progress_row->addWidget(progress_bar_, 1);
    progress_row->addWidget(stop);
    progress_->hide();
}

void MainWindow::show_progress() {
    progress_timer_.setInterval(100);
    const MakeProgress at = session_.worker().progress();
    progress_bar_->setValue(static_cast<int>(at.share * 100));
    const QString part = QString::fromStdString(at.part), what = QString::fromStdString(at.what);
    const QString far = at.of_step >= 0 ? QString(", %1 %").arg(at.of_step * 100, 0, 'f', 0) : QString();
    progress_text_->setText(what.isEmpty() ? QString("Making") : QString("Making “%1” of %2%3").arg(what, part, far));
    progress_->show();
    strip_->set_at_work(at);
}

void MainWindow::make_side_panels() {
    left_ = new QFrame(this);
    auto* left_column = new QVBoxLayout(left_);
    left_column->setContentsMargins(0, 0, 0, 0);
    left_column->setSpacing(0);
    left_split_ = new QSplitter(Qt::Vertical, left_);
    left_split_->setObjectName("leftSplit");
    connect(left_split_, &QSplitter::splitterMoved, this, [this] { left_side_by_hand_ = true; });
    right_ = new QStackedWidget(this);
    for (const PanelInfo* info : all_panels()) {
        if (info->side == PanelSide::left) left_split_->addWidget(info->make({session_, *viewport_, left_split_, {}}));
        if (info->side == PanelSide::right) right_->addWidget(info->make({session_, *viewport_, right_, {}}));
    }
    left_split_->setStretchFactor(0, 2);
    left_split_->setStretchFactor(1, 3);
    left_split_->setSizes({190, 380});
    left_split_->setHandleWidth(6);
    left_column->addWidget(left_split_);
}

void MainWindow::follow_recipe() {
    refresh_undo();
    refresh_status();
    // What is begun from the add bar, New part or by pasting is begun in sight.
    if (start_page_ && !session_.recipe().parts.empty()) leave_start_page();
    share_left_side();
}

/// Gives the parts list the rows it needs of what the dials leave free, until somebody sets the border by hand.
void MainWindow::share_left_side() {
    const QList<int> sizes = left_split_->sizes();
    if (left_side_by_hand_ || sizes.size() != 2) return;
    constexpr int head = 44, row = 26, dial = 46;  // heights in the panels, pixels
    const int whole = sizes[0] + sizes[1];
    if (whole < 200) return;
    const int parts = head + row * static_cast<int>(session_.recipe().parts.size()),
              dials = head + dial * static_cast<int>(session_.recipe().dials.size());
    const int wanted = std::clamp(parts, std::min(190, whole / 3), std::max(whole / 3, whole - dials));
    if (wanted != sizes[0]) left_split_->setSizes({wanted, whole - wanted});
}

void MainWindow::layout_room() {
    auto* column = new QVBoxLayout(centralWidget());
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(make_top_bar());
    pointer_bar_ = new AddBar(session_, centralWidget(), centralWidget());
    pointer_bar_->setObjectName("pointerBar");
    pointer_bar_->setFixedWidth(260);
    pointer_bar_->hide();

    make_notice();
    column->addWidget(notice_);
    make_progress();
    column->addWidget(progress_);
    make_side_panels();

    middle_ = new QStackedWidget(this);
    middle_->addWidget(viewport_);
    across_ = new QSplitter(Qt::Horizontal, this);
    across_->addWidget(left_);
    across_->addWidget(middle_);
    across_->addWidget(right_);
    across_->setSizes({204, 806, 262});
    across_->setStretchFactor(1, 1);
    across_->setHandleWidth(8);
    across_->setChildrenCollapsible(false);
    left_->setMinimumWidth(190);
    right_->setMinimumWidth(262);

    band_ = new Band(session_, *viewport_, this);
    band_->add_below(time_bar_);
    time_bar_->setVisible(QSettings().value("timeBar", false).toBool());
    connect(band_, &Band::heightWanted, this, &MainWindow::fit_band);

    down_ = new QSplitter(Qt::Vertical, this);
    down_->addWidget(across_);
    down_->addWidget(band_);
    down_->setSizes({576, 176});
    down_->setStretchFactor(0, 1);
    down_->setHandleWidth(8);
    down_->setChildrenCollapsible(false);
    auto* room = new QWidget(this);
    auto* room_column = new QVBoxLayout(room);
    room_column->setContentsMargins(0, 8, 0, 0);
    room_column->addWidget(down_);
    column->addWidget(room, 1);
}

void MainWindow::fit_band(bool tall) {
    // A graph and a table want more room than a row of cards; what was set by hand is kept for each.
    const QList<int> sizes = down_->sizes();
    const int whole = sizes.value(0) + sizes.value(1);
    if (whole <= 0 || tall == band_tall_) return;
    QSettings settings;
    settings.setValue(band_tall_ ? "bandTall" : "bandLow", sizes.value(1));
    const int wanted = settings.value(tall ? "bandTall" : "bandLow", tall ? whole * 45 / 100 : 176).toInt();
    band_tall_ = tall;
    down_->setSizes({whole - wanted, wanted});
}

void MainWindow::refresh_undo() {
    const History& h = session_.history();
    undo_->setEnabled(h.can_undo());
    redo_->setEnabled(h.can_redo());
    undo_->setText(h.can_undo() ? "Undo: " + QString::fromStdString(h.undo_name()) : "Undo");
    redo_->setText(h.can_redo() ? "Redo: " + QString::fromStdString(h.redo_name()) : "Redo");
}

void MainWindow::refresh_status() {
    const QString name = session_.path().isEmpty() ? "new recipe" : QFileInfo(session_.path()).fileName();
    const bool changed = session_.changed();
    file_label_->setToolTip(session_.path());
    file_label_->setText(file_label_->fontMetrics().elidedText(name, Qt::ElideMiddle, 260) +
                         (changed                     ? " · changed"
                          : session_.path().isEmpty() ? ""
                                                      : " · saved"));
    setWindowTitle((changed ? "• " : "") + name + " — Bricol");
    if (const Made* made = session_.made()) {
        const std::size_t faces = made->faces(session_.made_recipe());
        const bool over = session_.recipe().budget > 0 && faces > session_.recipe().budget;
        // A budget of 0 is none.
        const QString budget = session_.recipe().budget > 0 ? " of " + grouped(session_.recipe().budget) : QString();
        status_label_->setText(QString("%1%2 %3 · %4")
                                   .arg(grouped(faces), budget, faces == 1 && budget.isEmpty() ? "face" : "faces",
                                        time_text(made->milliseconds)));
        const QString style =
            over ? "color:" + theme::color(theme::Role::caution).name() + ";font-weight:600;" : QString();
        if (status_label_->styleSheet() != style) status_label_->setStyleSheet(style);
        status_label_->setToolTip(
            over
                ? "Over the budget of faces"
                : QString("Faces of the shown parts, and the budget where there is one. Kept in memory: results %1 MB, "
                          "fields of fused shapes %2 MB")
                      .arg(session_.worker().memory() >> 20)
                      .arg(kept_field_bytes() >> 20));
    }
    const Part* part = session_.chosen_part();
    band_->set_note(part ? QString("%1 · %2 step%3")
                               .arg(QString::fromStdString(part->name).replace('_', ' '))
                               .arg(part->steps.size())
                               .arg(part->steps.size() == 1 ? "" : "s")
                         : "");
}

void MainWindow::say(const QString& text, bool error) {
    notice(text, {});
    using theme::Role;
    notice_->setStyleSheet(QString("#notice{background:%1;border-bottom:1px solid %2;} QLabel{color:%3;}")
                               .arg(theme::color(Role::card).name(), theme::color(Role::line).name(),
                                    theme::color(error ? Role::error : Role::ink).name()));
    notice_timer_.start(error ? 12000 : 5000);
}

void MainWindow::notice(const QString& text, std::vector<std::pair<QString, std::function<void()>>> answers) {
    using theme::Role;
    notice_timer_.stop();
    while (notice_row_->count() > 1) {
        QLayoutItem* item = notice_row_->takeAt(1);
        item->widget()->deleteLater();
        delete item;
    }
    notice_text_->setText(breakable(text));
    notice_->setStyleSheet(QString("#notice{background:%1;border-bottom:1px solid %2;}")
                               .arg(theme::color(Role::card).name(), theme::color(Role::line).name()));
    answers.emplace_back("Close", [] {});
    for (const auto& [label, run] : answers) {
        auto* button = new QPushButton(label, notice_);
        button->setObjectName("answer:" + label);
        connect(button, &QPushButton::clicked, this, [this, run] {
            notice_->hide();
            run();
        });
        notice_row_->addWidget(button);
    }
    notice_->show();
}

void MainWindow::unless_unsaved(std::function<void()> next) {
    if (!session_.changed()) {
        next();
        return;
    }
    notice("There are unsaved changes.", {{"Save",
                                           [this, next] {
                                               save();
                                               if (!session_.changed()) next();
                                           }},
                                          {"Leave them", [this, next] {
                                               session_.discard_autosave();
                                               next();
                                           }}});
}

void MainWindow::choose_reference_picture() {
    const QString file = QFileDialog::getOpenFileName(this, "Reference picture", session_.folder(),
                                                      "Pictures (*.png *.jpg *.jpeg *.svg *.bmp *.webp)");
    if (!file.isEmpty()) parts_->add_picture(file);
}

bool MainWindow::open(const QString& path) {
    if (!session_.open(path)) return false;
    leave_start_page();
    offer_recovery();
    return true;
}

/// Unsaved work of an earlier session on the recipe that was just opened.
void MainWindow::offer_recovery() {
    for (const QString& autosave : Session::recoverable()) {
        if (Session::autosave_of(autosave) != session_.path()) continue;
        notice(QString("Unsaved work on %1 of %2 was kept.")
                   .arg(QFileInfo(session_.path()).fileName(),
                        QFileInfo(autosave).lastModified().toString("d MMM, HH:mm")),
               {{"Recover it", [this, autosave] { session_.recover(autosave); }},
                {"Throw it away", [autosave] { QFile::remove(autosave); }}});
        return;
    }
}

void MainWindow::leave_start_page() {
    middle_->setCurrentWidget(viewport_);
    left_->show();
    right_->show();
    band_->show();
    if (start_page_) {
        start_page_->deleteLater();
        start_page_ = nullptr;
    }
    viewport_->setFocus();
    share_left_side();
}

void MainWindow::show_start_page() {
    if (start_page_) return;
    session_.start_new(Recipe{});
    start_page_ = new StartPage(renderer_.get(), this);
    connect(start_page_, &StartPage::openWanted, this, &MainWindow::open);
    connect(start_page_, &StartPage::newWanted, this, &MainWindow::start_profile);
    connect(start_page_, &StartPage::recoverWanted, this, [this](const QString& file) {
        if (session_.recover(file)) leave_start_page();
    });
    middle_->addWidget(start_page_);
    middle_->setCurrentWidget(start_page_);
    left_->hide();
    right_->hide();
    band_->hide();
}

void MainWindow::start_profile() {
    QFile file(":/new-piece.bricol");
    file.open(QIODevice::ReadOnly);
    const auto recipe = recipe_from_text(file.readAll().toStdString());
    if (!recipe) return session_.say(QString::fromStdString(recipe.problem().text()), true);
    session_.start_new(*recipe);
    leave_start_page();
    const Part& part = *recipe->parts.front();
    session_.choose(part.name, part.steps.front()->id);
    viewport_->set_view(View::front);
    viewport_->frame_all();
    viewport_->knot_tool().set_drawing(true);
}

void MainWindow::show_panel(std::string_view id) {
    band_->show_panel(id);
    if (id == "sheet") sheets_->take_focus();
}

std::string_view MainWindow::panel() const { return band_->panel(); }

bool MainWindow::on_sheet() const { return band_->isVisible() && panel() == "sheet" && sheets_->on_steps(); }

}  // namespace bricol
