// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/trial/trial_panel.h"

#include <QScrollArea>

#include "app/details/count_box.h"
#include "app/dials/dial_row.h"
#include "app/kinds/editor.h"
#include "app/panels/panel.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/viewport/viewport.h"
#include "app/trial/range_rows.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

constexpr QSize broken_picture_size(64, 48);

/// The dials in which a setting differs from the recipe that was tried.
QString differing(const Recipe& recipe, const WrittenDials& dials) {
    QStringList words;
    for (const Dial& dial : recipe.dials) {
        const auto written = dials.find(dial.name);
        if (written == dials.end() || written->second == dial_value(dial)) continue;
        if (const auto there = turned(dial, written->second, Outside::held))
            words << QString::fromStdString(dial.name).replace('_', ' ') + " " +
                         QString::fromStdString(dial_words(*there));
    }
    return words.isEmpty() ? "as saved" : words.join(", ");
}

}  // namespace

TrialPanel::TrialPanel(Session& session, const std::function<void(const QString&)>& retitle, Renderer* renderer,
                       QWidget* parent)
    : QWidget(parent), session_(session), retitle_(retitle), renderer_(renderer) {
    setObjectName("trialPanel");
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(12, 8, 4, 4);
    across->setSpacing(14);
    across->addWidget(make_side());
    dials_ = make_list(across, 6);
    findings_ = make_list(across, 5);
    connect(&job_, &TrialJob::progressed, this, [this](double share, const QString& what, int run) {
        if (run != job_.run()) return;
        bar_->setValue(static_cast<int>(share * 1000));
        words_->setText(what);
    });
    connect(&job_, &TrialJob::finished, this, [this](const std::shared_ptr<const Trial>& trial, int run) {
        if (run == job_.run()) take(trial);
    });
    connect(&maker_, &VariantMaker::made, this, [this](const std::shared_ptr<const VariantMade>& made, int run) {
        maker_.seen();
        if (run == maker_.run()) take_picture(*made);
    });
    connect(&session, &Session::opened, this, [this] {
        job_.stop();
        maker_.stop();
        trial_.reset();
        refresh();
    });
    connect(&session, &Session::recipeChanged, this, [this] {
        if (trial_ && session_.recipe().dials.size() != tried_.dials.size()) refresh();
    });
    refresh();
}

QWidget* TrialPanel::make_side() {
    auto* side = new QWidget(this);
    side->setFixedWidth(222);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 4);
    column->setSpacing(6);
    auto* counts = new QHBoxLayout;
    samples_ = count_box(side, "trial", "trialSamples", 0, 1000000, 200,
                         "Settings of all dials at once, besides the ends and the corners of every two");
    seed_ = count_box(side, "trial", "trialSeed", 0, 1000000, 0, "Another number, other settings");
    counts->addWidget(samples_);
    for (auto [words, box] : {std::pair{"at once", static_cast<QSpinBox*>(nullptr)}, {"seed", seed_}}) {
        auto* label = soft_label(words, side);
        counts->addWidget(label);
        if (box) counts->addWidget(box);
    }
    counts->addStretch();
    column->addLayout(counts);
    cautions_ = new QCheckBox("Cautions count too", side);
    cautions_->setObjectName("trialCautions");
    cautions_->setToolTip("Off: only errors count as breaking");
    column->addWidget(cautions_);
    column->addStretch();
    words_ = soft_lines("", side);
    column->addWidget(words_);
    bar_ = new QProgressBar(side);
    bar_->setRange(0, 1000);
    bar_->setTextVisible(false);
    bar_->setFixedHeight(6);
    column->addWidget(bar_);
    narrow_all_ = new QPushButton("Narrow the dials to what holds", side);
    narrow_all_->setObjectName("trialNarrowAll");
    narrow_all_->setToolTip("Gives every dial the range inside which nothing broke");
    connect(narrow_all_, &QPushButton::clicked, this, [this] { narrow({}); });
    column->addWidget(narrow_all_);
    start_ = new QPushButton("Try", side);
    start_->setObjectName("trialStart");
    start_->setToolTip("Turns every dial to its ends, every two to their corners, all at once, and looks what breaks");
    connect(start_, &QPushButton::clicked, this, &TrialPanel::start_or_stop);
    column->addWidget(start_);
    return side;
}

QVBoxLayout* TrialPanel::make_list(QHBoxLayout* across, int share) {
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(scroll);
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, 6, 0);
    column->setSpacing(4);
    scroll->setWidget(inside);
    across->addWidget(scroll, share);
    return column;
}

void TrialPanel::start_or_stop() {
    if (job_.busy()) {
        job_.stop();
        refresh();
        return;
    }
    if (session_.recipe().dials.empty()) {
        session_.say("The recipe has no dials to turn. Make some of its settings dials first.", true);
        return;
    }
    tried_ = session_.recipe();
    trial_.reset();
    TrialOrder order;
    order.samples = static_cast<std::size_t>(samples_->value());
    order.seed = static_cast<std::uint64_t>(seed_->value());
    order.cautions = cautions_->isChecked();
    job_.start(tried_, session_.environment(), order);
    refresh();
}

void TrialPanel::take(std::shared_ptr<const Trial> trial) {
    trial_ = std::move(trial);
    refresh();
}

void TrialPanel::refresh() {
    maker_.stop();
    named_.clear();
    pictures_.clear();
    empty_layout(dials_);
    empty_layout(findings_);
    start_->setText(job_.busy() ? "Stop" : "Try");
    bar_->setVisible(job_.busy());
    bar_->setValue(0);
    const bool any = trial_ && std::ranges::any_of(trial_->dials, [](const DialTrial& dial) { return dial.narrowed; });
    narrow_all_->setVisible(any);
    retitle_(trial_ && trial_->broke ? QString("Trial  %1").arg(trial_->broke) : QString("Trial"));
    if (!trial_) {
        words_->setText(job_.busy() ? "beginning" : "");
        if (!job_.busy()) {
            auto* hint = soft_lines(
                "A trial turns the dials to their ends, to the corners of every two, and all at "
                "once, and shows where the recipe breaks.",
                this);
            dials_->addWidget(hint);
        }
        dials_->addStretch();
        findings_->addStretch();
        return;
    }
    QString words = QString("%1 settings made, %2 broke, %3 s.")
                        .arg(trial_->made)
                        .arg(trial_->broke)
                        .arg(trial_->seconds, 0, 'f', 1);
    if (trial_->stopped) words += " Stopped before its end.";
    if (trial_->base_broken) words = "The recipe is broken as it stands; mend that first.";
    if (any) words += QString(" Inside the brackets %1 of %2 broke.").arg(trial_->safe_broke).arg(trial_->safe_tried);
    words_->setText(words);
    add_dial_rows();
    add_finding_rows();
    make_pictures();
}

void TrialPanel::add_dial_rows() {
    for (const DialTrial& one : trial_->dials) {
        const Dial* dial = tried_.dial(one.name);
        if (!dial || !one.turned) continue;
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 0, 0);
        row->setSpacing(8);
        auto* name = new QLabel(spoken_dial(one.name), line);
        name->setFixedWidth(110);
        row->addWidget(name);
        row->addWidget(new RangeBar(*dial, one, line), 1);
        auto* range = new QLabel(line);
        range->setFont(theme::number_font(8.5));
        range->setFixedWidth(128);
        range->setText(one.narrowed ? QString("%1 to %2")
                                          .arg(QString::fromStdString(format_number(one.safe_low)),
                                               QString::fromStdString(format_number(one.safe_high)))
                                    : QString::fromStdString(dial_range_words(*dial)));
        row->addWidget(range);
        auto* button = new QPushButton("Narrow", line);
        button->setObjectName("narrow:" + QString::fromStdString(one.name));
        button->setToolTip("Gives this dial the range that holds");
        button->setVisible(one.narrowed);
        QSizePolicy keeps = button->sizePolicy();
        keeps.setRetainSizeWhenHidden(true);
        button->setSizePolicy(keeps);
        connect(button, &QPushButton::clicked, this, [this, n = one.name] { narrow(n); });
        row->addWidget(button);
        dials_->addWidget(line);
    }
    dials_->addStretch();
}

void TrialPanel::add_finding(const QString& head, const QString& text, Severity severity, const WrittenDials& dials,
                             const QString& tip) {
    auto* button = new QPushButton(this);
    button->setObjectName("trialFinding");
    button->setToolTip(tip);
    button->setFlat(true);
    auto* across = new QHBoxLayout(button);
    across->setContentsMargins(4, 4, 8, 5);
    across->setSpacing(8);
    auto* picture = new QLabel(button);
    picture->setObjectName("trialPicture");
    picture->setFixedSize(broken_picture_size);
    picture->setAttribute(Qt::WA_TransparentForMouseEvents);
    across->addWidget(picture, 0, Qt::AlignTop);
    named_.push_back(dials);
    pictures_.push_back(picture);
    auto* column = new QVBoxLayout;
    column->setSpacing(1);
    across->addLayout(column, 1);
    auto* first = new QLabel(head, button);
    first->setWordWrap(true);
    first->setStyleSheet(
        QString("font-weight:600;color:%1;")
            .arg(theme::color(severity == Severity::error ? theme::Role::error : theme::Role::caution).name()));
    auto* second = new QLabel(breakable(text), button);
    second->setWordWrap(true);
    for (QLabel* label : {first, second}) {
        label->setAttribute(Qt::WA_TransparentForMouseEvents);
        column->addWidget(label);
    }
    button->setStyleSheet("QPushButton{text-align:left;padding:0;}");
    const int wide = std::max(180, findings_->parentWidget()->width() - 30 - broken_picture_size.width());
    button->setMinimumHeight(
        std::max(broken_picture_size.height() + 9, first->heightForWidth(wide) + second->heightForWidth(wide) + 14));
    connect(button, &QPushButton::clicked, this, [this, dials] { open(dials); });
    findings_->addWidget(button);
}

void TrialPanel::add_finding_rows() {
    for (const TrialPair& pair : trial_->pairs) {
        QStringList names;
        for (const std::string& name : pair.dials) names << spoken_dial(name).toLower();
        add_finding(QString("%1 break together").arg(names.join(" and ")),
                    QString("%1: %2").arg(QString::fromStdString(pair.code), differing(tried_, pair.setting)),
                    Severity::error, pair.setting, "Turns the dials to this setting");
    }
    for (const TrialFinding& finding : trial_->findings) {
        const std::string where = finding.part + (finding.step.empty() ? "" : "." + finding.step);
        add_finding(QString("%1 ×%2 at %3")
                        .arg(QString::fromStdString(finding.code))
                        .arg(finding.times)
                        .arg(QString::fromStdString(where.empty() ? "the recipe" : where)),
                    QString("%1: %2").arg(differing(tried_, finding.dials), QString::fromStdString(finding.text)),
                    finding.severity, finding.dials, "Turns the dials to the first setting that shows it");
    }
    if (trial_->findings.empty() && trial_->pairs.empty()) {
        auto* label = soft_label(trial_->stopped ? "Nothing broke so far." : "Nothing broke.", this);
        findings_->addWidget(label);
    }
    findings_->addStretch();
}

void TrialPanel::make_pictures() {
    if (!renderer_ || named_.empty()) return;
    VariantPlan plan;
    plan.count = named_.size();
    plan.at = [named = named_](std::size_t number) { return named[number]; };
    maker_.start(tried_, session_.environment(), plan);
}

void TrialPanel::take_picture(const VariantMade& made) {
    if (made.number >= pictures_.size()) return;
    const double ratio = devicePixelRatioF();
    QPixmap picture =
        QPixmap::fromImage(picture_of_shapes(*renderer_, made.shapes, (QSizeF(broken_picture_size) * ratio).toSize()));
    picture.setDevicePixelRatio(ratio);
    QLabel* place = pictures_[made.number];
    if (picture.isNull())
        place->setText("gone"), place->setAlignment(Qt::AlignCenter);
    else
        place->setPixmap(picture);
}

void TrialPanel::open(const WrittenDials& dials) {
    WrittenDials known;
    for (const auto& [name, written] : dials)
        if (session_.recipe().dial(name)) known[name] = written;
    session_.edit(with_dials(session_.recipe(), known, Outside::held), "Open a setting of the trial");
    session_.part_edits();
}

void TrialPanel::narrow(const std::string& only) {
    if (trial_) session_.edit(narrowed(session_.recipe(), *trial_, only), "Narrow to what holds");
}

namespace {

QWidget* make_trial_panel(const PanelPlace& place) {
    return new TrialPanel(place.session, place.retitle, place.viewport.renderer(), place.parent);
}

const RegisteredPanel trial_panel({.id = "trial",
                                   .title = "Trial",
                                   .tip = "Where the recipe breaks when its dials are turned (Ctrl+Shift+B)",
                                   .side = PanelSide::band,
                                   .place = 7,
                                   .tall = true,
                                   .make = make_trial_panel});

}  // namespace

}  // namespace bricol
