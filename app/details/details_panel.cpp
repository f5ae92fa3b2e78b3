// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/details_panel.h"

#include <QLabel>
#include <QLineEdit>

#include "app/details/input_rows.h"
#include "app/findings/finding_card.h"
#include "app/kinds/editor.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

QFrame* hairline(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setFixedHeight(1);
    line->setStyleSheet("background:" + theme::color(theme::Role::line).name());
    return line;
}

}  // namespace

DetailsPanel::DetailsPanel(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("panel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(1, 1, 1, 1);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_);
    connect(&session, &Session::choiceChanged, this, &DetailsPanel::rebuild);
    connect(&session, &Session::recipeChanged, this, &DetailsPanel::refresh);
    connect(&session, &Session::madeChanged, this, [this] {
        refresh();
        rebuild_findings();
    });
    rebuild();
}

void DetailsPanel::rebuild() {
    refreshers_.clear();
    auto* body = new QWidget;
    rows_ = new QVBoxLayout(body);
    rows_->setContentsMargins(12, 8, 8, 8);
    rows_->setSpacing(3);
    findings_ = nullptr;
    shown_findings_.reset();
    const Step* step = session_.chosen_step();
    built_for_ = step ? session_.part() + "\n" + step->id + "\n" + step->type : "";
    if (!step) {
        rows_->addWidget(soft_lines("Choose a step on the strip, or press / to add one.", body));
    } else {
        const StepInfo* info = find_step_info(step->type);
        add_header(*step, info);
        if (info) {
            add_input_rows(session_, *step, *info, rows_, [this] { rebuild(); });
            for (const ParameterInfo& p : info->parameters) add_setting(*step, p);
        }
        auto* note = new QLineEdit(QString::fromStdString(step->note), body);
        note->setObjectName("note");
        note->setPlaceholderText("note…");
        note->setToolTip("A note about this step, kept in the recipe");
        connect(note, &QLineEdit::editingFinished, this, [this, note] {
            const Step* now = session_.chosen_step();
            if (!now || now->note == note->text().toStdString()) return;
            Step changed = *now;
            changed.note = note->text().toStdString();
            session_.edit(replace_step(session_.recipe(), session_.part(), changed), "Note");
        });
        rows_->addSpacing(6);
        add_name(*step);
        rows_->addWidget(note);
        rows_->addSpacing(6);
        rows_->addWidget(hairline(body));
        auto* holder = new QWidget(body);
        findings_ = new QVBoxLayout(holder);
        findings_->setContentsMargins(0, 4, 4, 0);
        rows_->addWidget(holder);
    }
    rows_->addStretch();
    exchange_widget(*scroll_, body);
    body_ = body;
    rebuild_findings();
    refresh();
}

void DetailsPanel::add_header(const Step& step, const StepInfo* info) {
    auto* head = new QWidget;
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 4, 0);
    if (info) {
        auto* glyph = new QLabel(head);
        glyph->setPixmap(theme::glyph(info->glyph, 20, theme::color(theme::Role::ink), devicePixelRatioF()));
        row->addWidget(glyph);
    }
    const QString kind = info ? text_of(info->name) : QString::fromStdString(step.type);
    auto* name = new HeadLabel(
        QString("%1 “%2”").arg(kind, QString::fromStdString(step.title.empty() ? step.id : step.title)), head);
    name->setToolTip(QString("In formulas: %1 (changed below, by the note)").arg(QString::fromStdString(step.id)));
    row->addWidget(name, 1);
    const Part* part = session_.chosen_part();
    auto* place = soft_label(QString("%1 of %2").arg(step_index(*part, step.id) + 1).arg(part->steps.size()), head);
    row->addWidget(place);
    rows_->addWidget(head);
    rows_->addWidget(
        soft_lines(info ? text_of(info->purpose)
                        : "This Bricol does not know this step. It is kept as it is and passes its input through.",
                   nullptr));
    rows_->addSpacing(4);
}

/// What formulas call the step; its title, which cards show, is free.
void DetailsPanel::add_name(const Step& step) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(soft_label("In formulas", line), 1);
    auto* field = new QLineEdit(QString::fromStdString(step.id), line);
    field->setObjectName("stepId");
    field->setFixedSize(160, 24);
    field->setToolTip(
        QString("The name formulas call this step by. What reads %1 anywhere in the recipe follows a change.")
            .arg(QString::fromStdString(step.id)));
    row->addWidget(field);
    connect(field, &QLineEdit::editingFinished, this, [this, field, part = session_.part(), from = step.id] {
        const std::string to = field->text().trimmed().toStdString();
        if (to == from || !field->isModified()) return;
        field->setModified(false);
        // Later: choosing the step by its new name takes this field away.
        QMetaObject::invokeMethod(
            this,
            [this, part, from, to] {
                // The choice follows the name by itself; a refused one gives way to the old.
                if (!session_.edit(rename_step_id(session_.recipe(), part, from, to), "Rename in formulas") &&
                    session_.step() == from)
                    rebuild();
            },
            Qt::QueuedConnection);
    });
    rows_->addWidget(line);
}

void DetailsPanel::add_setting(const Step& step, const ParameterInfo& info) {
    const Editor editor = editor_for(
        {&session_, session_.part(), step.id, info, [this](const std::string& id) { emit blocksWanted(id); }});
    if (!editor.widget) return;
    rows_->addWidget(editor.widget);
    refreshers_.push_back([this, editor, info](const Values& values) {
        editor.widget->setVisible(shown(info, values));
        editor.refresh(values);
    });
}

bool DetailsPanel::shown(const ParameterInfo& p, const Values& values) const {
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    return !info || asked_for(*info, p, values);
}

void DetailsPanel::refresh() {
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if ((step ? session_.part() + "\n" + step->id + "\n" + step->type : "") != built_for_) {
        rebuild();
        return;
    }
    if (!info) return;
    std::vector<Finding> ignored;
    const Values values = session_.resolver().parameters(*session_.chosen_part(), *step, *info, ignored);
    for (const auto& refresher : std::vector(refreshers_)) refresher(values);
}

void DetailsPanel::rebuild_findings() {
    if (!findings_) return;
    const Step* step = session_.chosen_step();
    if (!step) return;
    std::vector<Finding> all;
    if (const StepOutcome* outcome = session_.outcome(session_.part(), step->id)) all = outcome->findings;
    const PartOutcome* part =
        session_.made() ? session_.made()->part(session_.made_recipe(), session_.part()) : nullptr;
    if (part && part->result_step == step->id) all.insert(all.end(), part->findings.begin(), part->findings.end());
    if (shown_findings_ == all) return;  // a drag makes many shapes with the same findings
    shown_findings_ = all;
    empty_layout(findings_);
    auto* title = new QLabel(all.empty() ? "No findings" : "Findings");
    title->setObjectName(all.empty() ? "soft" : "head");
    findings_->addWidget(title);
    for (const Finding& finding : all)
        findings_->addWidget(finding_card(
            session_, session_.part(), step->id, finding, [this](const auto& places) { emit showPlaces(places); },
            nullptr));
}

}  // namespace bricol
