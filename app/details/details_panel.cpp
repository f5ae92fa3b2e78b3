// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/details_panel.h"

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>

#include "app/details/number_row.h"
#include "app/details/value_editors.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/recipe/remedy.h"
#include "core/shape/sets.h"

namespace bricol {

namespace {

QLabel* soft_label(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setObjectName("soft");
    label->setWordWrap(true);
    return label;
}

QFrame* hairline(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setFixedHeight(1);
    line->setStyleSheet("background:" + theme::color(theme::Role::line).name());
    return line;
}

void clear(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
}

/// A combo that leaves the wheel to the panel while it is not in hand.
class Combo : public QComboBox {
public:
    using QComboBox::QComboBox;
    void wheelEvent(QWheelEvent* event) override { hasFocus() ? QComboBox::wheelEvent(event) : event->ignore(); }
};

}  // namespace

QWidget* finding_card(Session& session, const std::string& part, const std::string& step, const Finding& finding,
                      std::function<void(const std::vector<Vec3>&)> show, QWidget* parent) {
    using theme::Role;
    auto* card = new QFrame(parent);
    card->setObjectName("finding:" + QString::fromStdString(finding.code));
    const Role role = finding.severity == Severity::error     ? Role::error
                      : finding.severity == Severity::caution ? Role::caution
                                                              : Role::soft_ink;
    card->setStyleSheet(QString("QFrame{background:%1;border-left:3px solid %2;} QLabel{border:none;}")
                            .arg(theme::color(Role::card).name(), theme::color(role).name()));
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(10, 6, 8, 6);
    column->setSpacing(3);
    auto* text = new QLabel(
        QString("<b>%1</b> %2")
            .arg(text_of(severity_name(finding.severity)), QString::fromStdString(finding.text).toHtmlEscaped()),
        card);
    text->setWordWrap(true);
    column->addWidget(text);
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    if (finding.remedy) {
        auto* button = new QPushButton(QString::fromStdString(finding.remedy->label), card);
        button->setObjectName("link");
        button->setCursor(Qt::PointingHandCursor);
        button->setProperty("remedy", QString::fromStdString(finding.code));
        QObject::connect(button, &QPushButton::clicked, card, [&session, part, step, remedy = *finding.remedy] {
            session.edit(with_remedy(session.recipe(), part, step, remedy), QString::fromStdString(remedy.label));
        });
        row->addWidget(button);
    }
    if (!finding.places.empty()) {
        auto* button = new QPushButton("show", card);
        button->setObjectName("link");
        button->setCursor(Qt::PointingHandCursor);
        QObject::connect(button, &QPushButton::clicked, card, [show, places = finding.places] { show(places); });
        row->addWidget(button);
    }
    row->addStretch();
    if (row->count() > 1)
        column->addLayout(row);
    else
        delete row;
    return card;
}

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
    connect(&session, &Session::knotsChanged, this, &DetailsPanel::rebuild_knots);
    rebuild();
}

void DetailsPanel::rebuild() {
    refreshers_.clear();
    auto* body = new QWidget;
    rows_ = new QVBoxLayout(body);
    rows_->setContentsMargins(12, 8, 8, 8);
    rows_->setSpacing(3);
    findings_ = knots_ = nullptr;
    shown_findings_.reset();
    const Step* step = session_.chosen_step();
    built_for_ = step ? session_.part() + "\n" + step->id + "\n" + step->type : "";
    if (!step) {
        rows_->addWidget(soft_label("Choose a step on the strip, or press / to add one.", body));
    } else {
        const StepInfo* info = find_step_info(step->type);
        add_header(*step, info);
        if (info) {
            add_inputs(*step, *info);
            for (const ParameterInfo& p : info->parameters) add_parameter(*step, p);
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
        rows_->addWidget(note);
        rows_->addSpacing(6);
        rows_->addWidget(hairline(body));
        auto* holder = new QWidget(body);
        findings_ = new QVBoxLayout(holder);
        findings_->setContentsMargins(0, 4, 4, 0);
        rows_->addWidget(holder);
    }
    rows_->addStretch();
    scroll_->setWidget(body);
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
    auto* name = new QLabel(
        QString("%1 “%2”").arg(kind, QString::fromStdString(step.title.empty() ? step.id : step.title)), head);
    name->setObjectName("head");
    name->setToolTip("In formulas: " + QString::fromStdString(step.id));
    row->addWidget(name, 1);
    const Part* part = session_.chosen_part();
    auto* place = new QLabel(QString("%1 of %2").arg(step_index(*part, step.id) + 1).arg(part->steps.size()), head);
    place->setObjectName("soft");
    row->addWidget(place);
    rows_->addWidget(head);
    rows_->addWidget(
        soft_label(info ? text_of(info->purpose)
                        : "This Bricol does not know this step. It is kept as it is and passes its input through.",
                   nullptr));
    rows_->addSpacing(4);
}

void DetailsPanel::add_inputs(const Step& step, const StepInfo& info) {
    const Part& part = *session_.chosen_part();
    for (const InputInfo& input : info.inputs) {
        const std::string key(input.key);
        if (key == "shape" && !step.inputs.contains("shape") && info.inputs.size() == 1 &&
            step_index(part, step.id) > 0)
            continue;
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 24, 0);
        auto* label = new QLabel(text_of(input.label), line);
        label->setObjectName("soft");
        row->addWidget(label, 1);
        auto* combo = new Combo(line);
        combo->setObjectName("input:" + QString::fromStdString(key));
        combo->setFixedWidth(112);
        combo->setFixedHeight(24);
        combo->setToolTip("What feeds this input: a step of this part, or another part's result");
        combo->addItem(key == "shape" && !stands_aside(step) && !starts_chain(step) ? "step before" : "nothing", "");
        if (key == "shape") combo->addItem("nothing", "-");
        for (const auto& other : part.steps)
            if (other->id != step.id && !stands_aside(*other))
                combo->addItem(QString::fromStdString(other->id), QString::fromStdString(other->id));
        for (const auto& other : session_.recipe().parts)
            if (other->name != part.name)
                combo->addItem("part " + QString::fromStdString(other->name),
                               "part:" + QString::fromStdString(other->name));
        const auto link = step.inputs.find(key);
        combo->setCurrentIndex(std::max(
            0, link == step.inputs.end()
                   ? 0
                   : combo->findData(link->second.empty() ? QString("-") : QString::fromStdString(link->second))));
        connect(combo, &QComboBox::activated, this, [this, combo, key, id = step.id] {
            const std::string source = combo->currentData().toString().toStdString();
            if (!session_.edit(source == "-" ? cut_input(session_.recipe(), session_.part(), id, key)
                                             : link_input(session_.recipe(), session_.part(), id, key, source),
                               "Link an input"))
                rebuild();
        });
        row->addWidget(combo);
        rows_->addWidget(line);
    }
}

namespace {

/// A line with a parameter's label, for its field to follow.
QHBoxLayout* labelled_row(QWidget* line, const ParameterInfo& p) {
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    auto* label = new QLabel(text_of(p.label), line);
    label->setToolTip(text_of(p.help));
    row->addWidget(label, 1);
    return row;
}

}  // namespace

void DetailsPanel::add_choice(const Step& step, const ParameterInfo& p) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, p);
    const std::string key(p.key);
    auto* combo = new Combo(line);
    combo->setObjectName("choice:" + QString::fromStdString(key));
    combo->setFixedSize(112, 24);
    combo->setToolTip(text_of(p.help));
    if (p.kind == ParameterKind::choice)
        for (const Choice& choice : p.choices) combo->addItem(text_of(choice.label), text_of(choice.key));
    else
        for (const auto& other : session_.recipe().parts)
            if (other->name != session_.part())
                combo->addItem(QString::fromStdString(other->name), QString::fromStdString(other->name));
    connect(combo, &QComboBox::activated, this, [this, combo, key, id = step.id, name = text_of(p.label)] {
        session_.edit(
            set_setting(session_.recipe(), session_.part(), id, key, combo->currentData().toString().toStdString()),
            "Change " + name.toLower());
    });
    row->addWidget(combo);
    rows_->addWidget(line);
    refreshers_.push_back([this, combo, line, p](const Values& values) {
        line->setVisible(shown(p, values));
        const auto found = values.find(p.key);
        if (found != values.end())
            combo->setCurrentIndex(combo->findData(QString::fromStdString(std::get<std::string>(found->second))));
    });
}

void DetailsPanel::add_parameter(const Step& step, const ParameterInfo& p) {
    const std::string key(p.key);
    switch (p.kind) {
        case ParameterKind::number: {
            auto* row = new NumberRow(session_, {session_.part(), step.id, key, -1, ""}, p, text_of(p.label), nullptr);
            rows_->addWidget(row);
            refreshers_.push_back([this, row, p](const Values& values) {
                row->setVisible(shown(p, values));
                if (const auto v = values.find(p.key); v != values.end()) row->refresh(std::get<double>(v->second));
            });
            break;
        }
        case ParameterKind::vector:
            for (int i = 0; i < 3; ++i) {
                auto* row = new NumberRow(session_, {session_.part(), step.id, key, i, ""}, p,
                                          i == 0 ? text_of(p.label) + " x" : QString("      ") + "xyz"[i], nullptr);
                rows_->addWidget(row);
                refreshers_.push_back([this, row, p, i](const Values& values) {
                    row->setVisible(shown(p, values));
                    if (const auto v = values.find(p.key); v != values.end())
                        row->refresh(std::get<DVec3>(v->second)[i]);
                });
            }
            break;
        case ParameterKind::choice:
        case ParameterKind::part:
            add_choice(step, p);
            break;
        case ParameterKind::toggle: {
            auto* box = new QCheckBox(text_of(p.label));
            box->setObjectName("toggle:" + QString::fromStdString(key));
            box->setToolTip(text_of(p.help));
            connect(box, &QCheckBox::clicked, this, [this, key, id = step.id, name = text_of(p.label)](bool on) {
                session_.edit(set_setting(session_.recipe(), session_.part(), id, key, on), "Change " + name.toLower());
            });
            rows_->addWidget(box);
            refreshers_.push_back([this, box, p](const Values& values) {
                box->setVisible(shown(p, values));
                if (const auto v = values.find(p.key); v != values.end()) box->setChecked(std::get<bool>(v->second));
            });
            break;
        }
        case ParameterKind::curves: {
            auto* holder = new QWidget;
            knots_ = new QVBoxLayout(holder);
            knots_->setContentsMargins(0, 4, 0, 0);
            knots_->setSpacing(3);
            rows_->addWidget(holder);
            rebuild_knots();
            break;
        }
        case ParameterKind::set:
        case ParameterKind::text:
            add_text(step, p);
            break;
        case ParameterKind::places:
            add_places(step, p);
            break;
        case ParameterKind::blocks: {
            auto* open = new QPushButton("Open its own sheet");
            open->setObjectName("openBlocks");
            open->setToolTip(text_of(p.help));
            connect(open, &QPushButton::clicked, this, [this, id = step.id] { emit blocksWanted(id); });
            rows_->addWidget(open, 0, Qt::AlignLeft);
            break;
        }
        default: {
            std::function<void(const Values&)> refresh;
            QWidget* editor = value_editor(session_, session_.part(), step.id, p, refresh);
            if (!editor) break;
            rows_->addWidget(editor);
            refreshers_.push_back([this, editor, p, refresh](const Values& values) {
                editor->setVisible(shown(p, values));
                refresh(values);
            });
            break;
        }
    }
}

std::vector<std::string> DetailsPanel::sets_before(const Step& step) const {
    std::vector<std::string> names;
    const Part* part = session_.chosen_part();
    if (!part) return names;
    const StepOutcome* before =
        session_.outcome(session_.part(), source_of(*part, step_index(*part, step.id), "shape"));
    if (before)
        for (const SetInfo& set : sets_of(before->shape->mesh)) names.push_back(set.name);
    return names;
}

void DetailsPanel::add_text(const Step& step, const ParameterInfo& p) {
    auto* line = new QWidget;
    QHBoxLayout* row = labelled_row(line, p);
    const std::string key(p.key);
    const auto write = [this, key, id = step.id, name = text_of(p.label)](const QString& text) {
        const Step* now = session_.chosen_step();
        const QString plain = text.trimmed();
        if (!now || now->id != id || (now->settings.contains(key) && now->settings[key] == plain.toStdString())) return;
        session_.edit(set_setting(session_.recipe(), session_.part(), id, key, plain.toStdString()),
                      "Change " + name.toLower());
    };
    if (p.kind == ParameterKind::set) {
        // The sets that exist, and anything typed: a set may be made later.
        auto* combo = new Combo(line);
        combo->setObjectName("set:" + QString::fromStdString(key));
        combo->setEditable(true);
        combo->setInsertPolicy(QComboBox::NoInsert);
        combo->setFixedSize(112, 24);
        combo->setToolTip(text_of(p.help));
        combo->lineEdit()->setPlaceholderText("everything");
        connect(combo, &QComboBox::activated, this, [write, combo] { write(combo->currentData().toString()); });
        connect(combo->lineEdit(), &QLineEdit::editingFinished, this,
                [write, combo] { write(combo->lineEdit()->text()); });
        row->addWidget(combo);
        refreshers_.push_back([this, combo, line, p, id = step.id](const Values& values) {
            line->setVisible(shown(p, values));
            const auto found = values.find(p.key);
            if (found == values.end() || combo->lineEdit()->hasFocus()) return;
            const QSignalBlocker quiet(combo);
            combo->clear();
            combo->addItem("everything", QString());
            const Step* now = session_.chosen_step();
            if (now && now->id == id)
                for (const std::string& name : sets_before(*now))
                    combo->addItem(QString::fromStdString(name), QString::fromStdString(name));
            combo->setCurrentIndex(-1);
            combo->setEditText(QString::fromStdString(std::get<std::string>(found->second)));
        });
    } else {
        auto* field = new QLineEdit(line);
        field->setObjectName("text:" + QString::fromStdString(key));
        field->setFixedSize(112, 24);
        field->setToolTip(text_of(p.help));
        field->setPlaceholderText("none");
        connect(field, &QLineEdit::editingFinished, this, [write, field] { write(field->text()); });
        row->addWidget(field);
        refreshers_.push_back([this, field, line, p](const Values& values) {
            line->setVisible(shown(p, values));
            const auto found = values.find(p.key);
            if (found != values.end() && !field->hasFocus())
                field->setText(QString::fromStdString(std::get<std::string>(found->second)));
        });
    }
    rows_->addWidget(line);
}

void DetailsPanel::add_places(const Step& step, const ParameterInfo& p) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    auto* label = new QLabel(line);
    label->setToolTip(text_of(p.help));
    row->addWidget(label, 1);
    auto* none = new QPushButton("Clear", line);
    none->setObjectName("clear:" + QString::fromStdString(std::string(p.key)));
    none->setToolTip("Forget everything that was picked");
    connect(none, &QPushButton::clicked, this, [this, key = std::string(p.key), id = step.id] {
        session_.edit(set_setting(session_.recipe(), session_.part(), id, key, Json::array()), "Clear the picks");
    });
    row->addWidget(none);
    rows_->addWidget(line);
    refreshers_.push_back([this, label, none, line, p](const Values& values) {
        line->setVisible(shown(p, values));
        const auto found = values.find(p.key);
        if (found == values.end()) return;
        const std::size_t n = std::get<std::vector<Place>>(found->second).size();
        label->setText(text_of(p.label) + (n == 0 ? ": none yet" : QString(": %1").arg(n)));
        none->setEnabled(n > 0);
    });
}

void DetailsPanel::rebuild_knots() {
    const Step* step = session_.chosen_step();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    if (!knots_ || !info) return;
    clear(knots_);
    std::erase_if(refreshers_, [](const auto& r) { return !r; });
    std::string key;
    for (const ParameterInfo& p : info->parameters)
        if (p.kind == ParameterKind::curves) key = p.key;
    const auto& chosen = session_.knots();
    if (chosen.size() != 1) {
        knots_->addWidget(soft_label(
            chosen.empty() ? "Choose a knot to type its place." : QString("%1 knots chosen.").arg(chosen.size()),
            nullptr));
        return;
    }
    const int k = *chosen.begin();
    auto* title = new QLabel(QString("Knot %1").arg(k + 1));
    title->setObjectName("head");
    knots_->addWidget(title);
    ParameterInfo place;
    place.quantity = Quantity::length;
    place.low = -1e5;
    place.high = 1e5;
    place.soft_low = -1;
    place.soft_high = 1;
    ParameterInfo fillet = place;
    fillet.low = 0;
    fillet.soft_low = 0;
    fillet.soft_high = 0.1;
    place.help = "Place of the knot in its plane.";
    fillet.help = "Rounding radius of this corner; 0 for none.";
    const std::string base = "/" + key + "/" + std::to_string(session_.curve()) + "/knots/" + std::to_string(k);
    ParameterInfo width = place, roll = place;
    width.quantity = Quantity::plain;
    width.low = -1e3, width.high = 1e3, width.soft_low = 0, width.soft_high = 2;
    width.help = "Factor on what is swept along the curve here.";
    roll.quantity = Quantity::angle;
    roll.low = -36000, roll.high = 36000, roll.soft_low = -180, roll.soft_high = 180;
    roll.help = "Turns what is swept along the curve here.";
    ParameterInfo depth = place;
    depth.help = "Off the drawing plane.";
    const std::tuple<const char*, std::string, ParameterInfo, double> rows[] = {
        {"Across", "/at/0", place, 0},      {"Up", "/at/1", place, 0},      {"Depth", "/at/2", depth, 0},
        {"Rounding", "/fillet", fillet, 0}, {"Width", "/radius", width, 1}, {"Roll", "/roll", roll, 0}};
    for (const auto& [name, path, kind, standard] : rows) {
        auto* row = new NumberRow(session_, {session_.part(), step->id, "", -1, base + path}, kind, name, nullptr);
        knots_->addWidget(row);
        const QPointer<NumberRow> alive(row);
        const auto show = [this, alive, pointer = base + path, otherwise = standard] {
            if (!alive) return;
            const Json written = written_at(session_.recipe(), {session_.part(), session_.step(), "", -1, pointer});
            const auto value =
                written.is_null() ? Result<double>(otherwise) : session_.resolver().number(session_.part(), written);
            alive->refresh(value ? *value : 0);
        };
        show();
        refreshers_.push_back([show](const Values&) { show(); });
    }
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
    clear(findings_);
    auto* title = new QLabel(all.empty() ? "No findings" : "Findings");
    title->setObjectName(all.empty() ? "soft" : "head");
    findings_->addWidget(title);
    for (const Finding& finding : all)
        findings_->addWidget(finding_card(
            session_, session_.part(), step->id, finding, [this](const auto& places) { emit showPlaces(places); },
            nullptr));
}

}  // namespace bricol
