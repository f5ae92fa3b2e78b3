// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/dials_panel.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <cmath>

#include "app/theme/theme.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

Quantity quantity_of(const std::string& unit) {
    return unit == "m"       ? Quantity::length
           : unit == "deg"   ? Quantity::angle
           : unit == "count" ? Quantity::count
                             : Quantity::plain;
}

/// "bollard_height" → "Bollard height"
QString spoken(const std::string& name) {
    QString text = QString::fromStdString(name).replace('_', ' ');
    if (!text.isEmpty()) text[0] = text[0].toUpper();
    return text;
}

QString field_unit_of(const Session& session, const Dial& dial) {
    const auto unit = field_unit(session.recipe().unit, dial.high);
    return QString::fromUtf8(unit.data(), static_cast<int>(unit.size()));
}

double step_of(const Dial& dial) {
    if (dial.unit == "count") return 1;
    return std::pow(10, std::floor(std::log10(std::max(dial.high - dial.low, 1e-9) / 100)));
}

}  // namespace

DialsPanel::DialsPanel(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("panel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 3, 4);
    column->setSpacing(4);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel("Dials", this);
    title->setObjectName("head");
    head->addWidget(title, 1);
    auto* add = new QToolButton(this);
    add->setObjectName("quiet");
    add->setText("+");
    add->setFixedSize(20, 20);
    add->setToolTip("Add a dial; or make one from a number on the right");
    connect(add, &QToolButton::clicked, this, [this] {
        Dial dial;
        dial.name = "dial";
        dial.value = 0.5;
        std::string made;
        if (session_.edit(add_dial(session_.recipe(), dial, &made), "Add a dial")) {
            editing_ = made;
            rebuild();
        }
    });
    head->addWidget(add);
    column->addLayout(head);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_, 1);
    connect(&session, &Session::recipeChanged, this, &DialsPanel::refresh);
    rebuild();
}

void DialsPanel::rebuild() {
    shown_.clear();
    names_.clear();
    auto* body = new QWidget;
    rows_ = new QVBoxLayout(body);
    rows_->setContentsMargins(0, 0, 3, 0);
    rows_->setSpacing(2);
    for (const Dial& dial : session_.recipe().dials) {
        add_row(dial);
        names_.push_back(dial.name);
    }
    if (names_.empty()) {
        auto* hint =
            new QLabel("No dials yet. Open the ⋮ beside a number on the right and choose “Make it a dial”.", body);
        hint->setObjectName("soft");
        hint->setWordWrap(true);
        rows_->addWidget(hint);
    }
    rows_->addStretch();
    scroll_->setWidget(body);
    refresh();
}

void DialsPanel::add_row(const Dial& dial) {
    auto* line = new QWidget;
    auto* grid = new QGridLayout(line);
    grid->setContentsMargins(0, 0, 0, 4);
    grid->setVerticalSpacing(0);
    grid->setHorizontalSpacing(4);
    auto* label = new QLabel(spoken(dial.name), line);
    label->setToolTip(
        QString::fromStdString(dial.help.empty() ? dial.name : dial.help + "\nIn formulas: " + dial.name));
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // a long name gives way, not the field
    auto* field = new NumberField(line);
    field->setObjectName("dial:" + QString::fromStdString(dial.name));
    field->setFixedWidth(76);
    auto* menu = new QToolButton(line);
    menu->setObjectName("quiet");
    menu->setText("⋮");
    menu->setFixedSize(13, 22);
    menu->setToolTip("Rename, range, delete");
    auto* slider = new Slider(line);
    slider->setObjectName("slider:" + QString::fromStdString(dial.name));
    slider->setToolTip(label->toolTip());
    grid->addWidget(label, 0, 0);
    grid->addWidget(field, 0, 1);
    grid->addWidget(menu, 0, 2);
    grid->addWidget(slider, 1, 0, 1, 3);
    grid->setColumnStretch(0, 1);
    const std::string name = dial.name;
    const auto turn = [this, name](double value, bool moving) {
        session_.edit(turn_dial(session_.recipe(), name, value), "Turn " + spoken(name).toLower(),
                      "dial " + QString::fromStdString(name));
        if (!moving) session_.part_edits();
    };
    connect(field, &NumberField::numberGiven, this, turn);
    connect(slider, &Slider::moved, this, turn);
    connect(field, &NumberField::refused, this, [this](const QString& why) { session_.say(why, true); });
    connect(field, &NumberField::formulaGiven, this, [this] {
        session_.say("A dial holds a plain number, so that it can be turned. Put the formula into a step.", true);
    });
    connect(menu, &QToolButton::clicked, this, [this, name, menu] { open_menu(name, menu); });
    shown_[name] = {field, slider};
    rows_->addWidget(line);
    if (editing_ == name) rows_->addWidget(make_editor(dial));
}

QWidget* DialsPanel::make_editor(const Dial& dial) {
    auto* form = new QFrame;
    form->setObjectName("dialEditor");
    auto* grid = new QGridLayout(form);
    grid->setContentsMargins(6, 2, 0, 8);
    grid->setSpacing(3);
    const Quantity quantity = quantity_of(dial.unit);
    auto* name = new QLineEdit(QString::fromStdString(dial.name), form);
    name->setObjectName("dialName");
    auto* unit = new QComboBox(form);
    for (const auto& [text, key] :
         {std::pair{"length", "m"}, {"angle", "deg"}, {"whole number", "count"}, {"plain number", ""}})
        unit->addItem(text, key);
    unit->setCurrentIndex(unit->findData(QString::fromStdString(dial.unit)));
    auto* low = new NumberField(form);
    auto* high = new NumberField(form);
    for (auto [field, value] : {std::pair{low, dial.low}, {high, dial.high}}) {
        field->set_kind(quantity, field_unit_of(session_, dial), {-1e6, 1e6, dial.low, dial.high});
        field->show_value(value);
    }
    low->setObjectName("dialLow");
    high->setObjectName("dialHigh");
    auto* help = new QLineEdit(QString::fromStdString(dial.help), form);
    help->setObjectName("dialHelp");
    const std::pair<const char*, QWidget*> rows[] = {
        {"name", name}, {"kind", unit}, {"from", low}, {"to", high}, {"help", help}};
    int row = 0;
    for (const auto& [label, field] : rows) {
        auto* text = new QLabel(label, form);
        text->setObjectName("soft");
        grid->addWidget(text, row, 0);
        grid->addWidget(field, row++, 1);
    }
    auto* done = new QPushButton("Done", form);
    done->setObjectName("dialDone");
    grid->addWidget(done, row, 1);
    connect(done, &QPushButton::clicked, this, [this, old = dial.name, name, unit, low, high, help] {
        const Dial* now = session_.recipe().dial(old);
        if (!now) return;
        Dial changed = *now;
        changed.unit = unit->currentData().toString().toStdString();
        changed.low = low->value();
        changed.high = high->value();
        changed.help = help->text().toStdString();
        Edited edited = set_dial(session_.recipe(), changed);
        const std::string wanted = name_from(name->text().toStdString());
        if (edited && wanted != old) edited = rename_dial(*edited, old, wanted);
        if (!session_.edit(edited, "Change a dial")) return;
        editing_.clear();
        rebuild();
    });
    return form;
}

void DialsPanel::open_menu(const std::string& name, QWidget* at) {
    auto* menu = new QMenu(this);
    menu->setObjectName("dialMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction("Name and range…", this, [this, name] {
        editing_ = editing_ == name ? "" : name;
        rebuild();
    });
    menu->addAction("Delete, keeping its value", this,
                    [this, name] { session_.edit(remove_dial(session_.recipe(), name), "Delete a dial"); });
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

void DialsPanel::refresh() {
    std::vector<std::string> names;
    for (const Dial& dial : session_.recipe().dials) names.push_back(dial.name);
    if (names != names_) {
        const bool grew = names.size() > names_.size();
        rebuild();
        // A new dial stands last; bring it into sight once the layout has settled.
        if (grew && !names.empty())
            QTimer::singleShot(0, this, [this] {
                scroll_->widget()->layout()->activate();
                scroll_->verticalScrollBar()->setValue(scroll_->verticalScrollBar()->maximum());
            });
        return;
    }
    for (const Dial& dial : session_.recipe().dials) {
        const Row& row = shown_[dial.name];
        row.field->set_kind(quantity_of(dial.unit), field_unit_of(session_, dial),
                            {dial.low, dial.high, dial.low, dial.high});
        row.field->show_value(dial.value);
        row.slider->set_range(dial.low, dial.high, step_of(dial));
        row.slider->show_value(dial.value);
    }
}

}  // namespace bricol
