// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/handover/handover_panel.h"

#include <QDesktopServices>
#include <QFileDialog>
#include <QScrollArea>
#include <QSettings>
#include <QUrl>

#include "app/details/count_box.h"
#include "app/kinds/editor.h"
#include "app/panels/panel.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/files/handover_words.h"
#include "core/formula/units.h"

namespace bricol {

namespace {

QString remembered(const QString& name, const QString& usual) {
    return QSettings().value("handover/" + name, usual).toString();
}
void remember(const QString& name, const QVariant& value) { QSettings().setValue("handover/" + name, value); }

QVBoxLayout* column_of(QWidget* widget, const QString& head) {
    auto* column = new QVBoxLayout(widget);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    auto* label = new QLabel(head, widget);
    label->setFont(theme::text_font(9.75, 600));
    column->addWidget(label);
    return column;
}

QWidget* make_handover_panel(const PanelPlace& place) { return new HandoverPanel(place.session, place.parent); }

const RegisteredPanel handover_panel({.id = "handover",
                                      .title = "Hand over",
                                      .tip = "A folder that an engine or a renderer takes as it is",
                                      .side = PanelSide::band,
                                      .place = 8,
                                      .tall = true,
                                      .make = make_handover_panel});

}  // namespace

HandoverPanel::HandoverPanel(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("handoverPanel");
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(12, 8, 6, 6);
    across->setSpacing(22);
    across->addWidget(make_kinds());
    across->addWidget(make_shapes());
    across->addWidget(make_rest());
    across->addWidget(make_outcome(), 1);
    connect(&job_, &HandoverJob::progressed, this, [this](const QString& what) { words_->setText(what); });
    connect(&job_, &HandoverJob::finished, this, &HandoverPanel::take);
    connect(&session, &Session::opened, this, [this] {
        job_.stop();
        empty_layout(outcome_);
        words_->clear();
        problem_->clear();
        refresh();
    });
    refresh();
}

QCheckBox* HandoverPanel::add_check(QVBoxLayout* column, const QString& name, const QString& words, bool usual,
                                    const QString& tip) {
    auto* box = new QCheckBox(words, this);
    box->setObjectName("handover:" + name);
    box->setToolTip(tip);
    box->setChecked(remembered(name, usual ? "true" : "false") == "true");
    connect(box, &QCheckBox::toggled, this, [this, name](bool on) {
        remember(name, on ? "true" : "false");
        refresh();
    });
    column->addWidget(box);
    return box;
}

QLineEdit* HandoverPanel::add_field(QGridLayout* grid, int row, const QString& label, const QString& name,
                                    const QString& usual, const QString& tip) {
    auto* words = soft_label(label, this);
    grid->addWidget(words, row, 0);
    auto* field = new QLineEdit(remembered(name, usual), this);
    field->setObjectName("handover:" + name);
    field->setToolTip(tip);
    words->setBuddy(field);
    connect(field, &QLineEdit::editingFinished, this, [name, field] { remember(name, field->text()); });
    connect(field, &QLineEdit::returnPressed, this, &HandoverPanel::start_or_stop);
    grid->addWidget(field, row, 1);
    return field;
}

QComboBox* HandoverPanel::add_choice(QGridLayout* grid, int row, const QString& label, const QString& name,
                                     const QList<std::pair<QString, QString>>& choices, const QString& tip) {
    auto* words = soft_label(label, this);
    grid->addWidget(words, row, 0);
    auto* box = new QComboBox(this);
    box->setObjectName("handover:" + name);
    box->setToolTip(tip);
    for (const auto& [key, shown] : choices) box->addItem(shown, key);
    box->setCurrentIndex(std::max(0, box->findData(remembered(name, choices.front().first))));
    connect(box, &QComboBox::currentIndexChanged, this, [this, name, box] {
        remember(name, box->currentData());
        refresh();
    });
    words->setBuddy(box);
    grid->addWidget(box, row, 1);
    return box;
}

QWidget* HandoverPanel::make_kinds() {
    auto* widget = new QWidget(this);
    widget->setFixedWidth(176);
    auto* column = column_of(widget, "Files");
    for (const FormatInfo* format : all_formats()) {
        const QString suffix = text_of(format->suffix);
        QCheckBox* box = add_check(column, "kind." + suffix, text_of(format->name) + "  ." + suffix, suffix == "glb",
                                   text_of(format->customs));
        kinds_.emplace_back(format->suffix, box);
    }
    column->addSpacing(8);
    apart_ = add_check(column, "apart", "A file a part", false, "Each part's pivot at its file's origin");
    page_ = add_check(column, "page", "A page to look at it", true,
                      "preview.html: the shapes turn in any browser, presets are buttons; nothing is fetched");
    column->addStretch();
    return widget;
}

QWidget* HandoverPanel::make_shapes() {
    auto* widget = new QWidget(this);
    widget->setFixedWidth(252);
    auto* column = column_of(widget, "Shapes");
    auto* grid = new QGridLayout;
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    column->addLayout(grid);
    pivot_ =
        add_choice(grid, 0, "Pivot", "pivot",
                   {{"own", "The part's origin"}, {"foot", "Its foot"}, {"middle", "Its middle"}, {"point", "A point"}},
                   "Where each part is held, turned and sized");
    point_ = add_field(grid, 1, "Point", "point", "0, 0, 0", "Metres in the recipe's space: x, y, z");
    levels_ = add_field(grid, 2, "Levels", "levels", "", "Lighter levels in percent of the triangles: 50, 25, 10");
    levels_->setPlaceholderText("none (50, 25, 10 …)");
    collision_ = add_choice(grid, 3, "Collide with", "collision",
                            {{"none", "Nothing"},
                             {"hull", "A hull round a part"},
                             {"boxes", "A box a loose piece"},
                             {"pieces", "Convex pieces"}},
                            "Simple shapes that bodies bump into");
    most_ = count_box(widget, "handover", "handoverMost", 1, 1024, 16, "Shapes to collide with, a part at most");
    auto* most = soft_label("At most", widget);
    grid->addWidget(most, 4, 0);
    grid->addWidget(most_, 4, 1);
    collision_name_ = add_field(grid, 5, "Called", "collisionName", "{part}_collision_{n}",
                                "What an engine knows them by; {part} and {n} stand for the part and a number");
    column->addStretch();
    return widget;
}

QWidget* HandoverPanel::make_rest() {
    auto* widget = new QWidget(this);
    widget->setFixedWidth(226);
    auto* column = column_of(widget, "What goes along");
    light_ = add_check(column, "light", "UVs for baked light", false, "A second set without overlaps, packed");
    values_ = add_check(column, "values", "Values and sets of your own", true, "glTF: as _NAME on points");
    presets_ = add_check(column, "presets", "Presets", true, "USD: a variant set; the page: buttons");
    joined_ = add_check(column, "joined", "Copies joined in one node", false,
                        "glTF's EXT_mesh_gpu_instancing: light, but not every engine reads it");
    cages_ = add_check(column, "cages", "Creased meshes as cages", false, "USD: to be smoothed by the renderer");
    auto* grid = new QGridLayout;
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    column->addLayout(grid);
    frames_ = add_field(grid, 0, "Frames", "frames", "", "What these values of “frame” move goes along: 0..24");
    frames_->setPlaceholderText("still (0..24)");
    rate_ = count_box(widget, "handover", "handoverRate", 1, 240, 25, "Frames a second");
    auto* rate = soft_label("A second", widget);
    grid->addWidget(rate, 1, 0);
    grid->addWidget(rate_, 1, 1);
    unit_ = add_choice(
        grid, 2, "Unit", "unit",
        {{"", "The format's own"}, {"m", "Metres"}, {"cm", "Centimetres"}, {"mm", "Millimetres"}, {"in", "Inches"}},
        "What one in the files means");
    up_ =
        add_choice(grid, 3, "Up", "up", {{"", "The format's own"}, {"y", "y"}, {"z", "z"}}, "The axis that points up");
    column->addStretch();
    return widget;
}

QWidget* HandoverPanel::make_outcome() {
    auto* widget = new QWidget(this);
    auto* column = column_of(widget, "Folder");
    auto* line = new QHBoxLayout;
    folder_ = new QLineEdit(remembered("folder", ""), widget);
    folder_->setObjectName("handover:folder");
    folder_->setPlaceholderText("Where to write");
    folder_->setToolTip("What an earlier hand-over left there is replaced; other files stay");
    connect(folder_, &QLineEdit::editingFinished, this, [this] { remember("folder", folder_->text()); });
    connect(folder_, &QLineEdit::returnPressed, this, &HandoverPanel::start_or_stop);
    line->addWidget(folder_, 1);
    auto* choose = new QPushButton("…", widget);
    choose->setObjectName("handoverFolder");
    choose->setToolTip("Choose a folder");
    choose->setFixedWidth(34);
    connect(choose, &QPushButton::clicked, this, &HandoverPanel::choose_folder);
    line->addWidget(choose);
    start_ = new QPushButton("Hand over", widget);
    start_->setObjectName("handoverStart");
    connect(start_, &QPushButton::clicked, this, &HandoverPanel::start_or_stop);
    line->addWidget(start_);
    column->addLayout(line);
    words_ = soft_label("", widget);
    column->addWidget(words_);
    problem_ = new QLabel(widget);
    problem_->setObjectName("handoverProblem");
    problem_->setWordWrap(true);
    column->addWidget(problem_);
    auto* scroll = new QScrollArea(widget);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(scroll);
    outcome_ = new QVBoxLayout(inside);
    outcome_->setContentsMargins(0, 0, 6, 0);
    outcome_->setSpacing(3);
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    return widget;
}

void HandoverPanel::choose_folder() {
    const QString folder = QFileDialog::getExistingDirectory(
        this, "Hand over to", folder_->text().isEmpty() ? session_.folder() : folder_->text());
    if (folder.isEmpty()) return;
    folder_->setText(folder);
    remember("folder", folder);
}

std::optional<HandoverWish> HandoverPanel::wish() {
    HandoverWish out;
    const auto refuse = [this](const Problem& problem) {
        problem_->setText(QString::fromStdString(problem.text()));
        return std::nullopt;
    };
    if (folder_->text().trimmed().isEmpty())
        return refuse({"There is no folder to write to.", "", "Name one above, or choose it with “…”."});
    out.recipe = session_.recipe();
    out.environment = session_.environment();
    out.folder = folder_->text().trimmed().toStdString();
    for (const auto& [suffix, box] : kinds_)
        if (box->isChecked()) out.suffixes.push_back(suffix);
    out.page = page_->isChecked();
    if (out.suffixes.empty() && !out.page) return refuse({"No kind of file is chosen.", "", "Tick one on the left."});
    out.apart = apart_->isChecked();
    out.presets = presets_->isChecked();
    Dressing& dressing = out.dressing;
    const QString pivot = pivot_->currentData().toString();
    if (auto problem = read_pivot((pivot == "point" ? point_->text() : pivot).toStdString(), dressing))
        return refuse(*problem);
    const auto levels = typed_levels(levels_->text().toStdString());
    if (!levels) return refuse(levels.problem());
    dressing.levels = *levels;
    dressing.light_uvs = light_->isChecked();
    dressing.collision = static_cast<CollisionKind>(collision_->currentIndex());
    dressing.most_pieces = static_cast<std::size_t>(most_->value());
    dressing.collision_name = collision_name_->text().toStdString();
    if (dressing.collision != CollisionKind::none)
        if (auto problem = collision_name_problem(dressing.collision_name)) return refuse(*problem);
    const auto frames = typed_frames(frames_->text().toStdString(), rate_->value());
    if (!frames) return refuse(frames.problem());
    out.frames = *frames;
    out.options.attributes = values_->isChecked();
    out.options.joined_copies = joined_->isChecked();
    out.options.cages = cages_->isChecked();
    if (const std::string unit = unit_->currentData().toString().toStdString(); !unit.empty())
        out.options.scale = 1 / find_unit(unit)->factor;
    if (const QString up = up_->currentData().toString(); !up.isEmpty())
        out.options.up = up == "y" ? UpAxis::y : UpAxis::z;
    return out;
}

void HandoverPanel::start_or_stop() {
    if (job_.busy()) {
        job_.stop();
        words_->setText("Stopped.");
        refresh();
        return;
    }
    problem_->clear();
    empty_layout(outcome_);
    const auto wanted = wish();
    if (!wanted) {
        words_->clear();
        refresh();
        return;
    }
    job_.start(*wanted);
    refresh();
}

void HandoverPanel::take(const std::shared_ptr<const HandoverReport>& report) {
    words_->setText(report->stopped   ? "Stopped."
                    : report->problem ? QString()
                                      : QString("%1 files handed over.").arg(report->files.size() + 1));
    if (report->problem) problem_->setText(QString::fromStdString(report->problem->text()));
    const QString folder = folder_->text().trimmed();
    for (const HandedFile& file : report->files) {
        auto* line = new QPushButton(QString("%1   %2 kB")
                                         .arg(QString::fromStdString(file.name))
                                         .arg(static_cast<double>(file.bytes) / 1000, 0, 'f', 1));
        line->setObjectName("handedFile");
        line->setFlat(true);
        line->setStyleSheet("QPushButton{text-align:left;padding:1px 4px;}");
        line->setToolTip("Opens it");
        connect(line, &QPushButton::clicked, this, [path = folder + "/" + QString::fromStdString(file.name)] {
            QDesktopServices::openUrl(QUrl::fromLocalFile(path));
        });
        outcome_->addWidget(line);
    }
    for (const std::string& note : report->notes) {
        auto* line = new QLabel(breakable(QString::fromStdString(note)));
        line->setObjectName("handoverNote");
        line->setWordWrap(true);
        line->setStyleSheet(QString("color:%1;padding:1px 4px;").arg(theme::color(theme::Role::caution).name()));
        outcome_->addWidget(line);
    }
    outcome_->addStretch();
    refresh();
}

void HandoverPanel::refresh() {
    if (!outcome_) return;
    start_->setText(job_.busy() ? "Stop" : "Hand over");
    point_->setEnabled(pivot_->currentData() == "point");
    const bool collides = collision_->currentData() != "none";
    most_->setEnabled(collides && collision_->currentData() != "hull");
    collision_name_->setEnabled(collides);
    problem_->setStyleSheet(QString("color:%1;").arg(theme::color(theme::Role::error).name()));
    problem_->setVisible(!problem_->text().isEmpty());
}

}  // namespace bricol
