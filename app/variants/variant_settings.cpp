// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/variant_settings.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QScrollArea>
#include <QSettings>
#include <fmt/format.h>

#include "app/details/count_box.h"
#include "app/dials/dial_row.h"
#include "app/theme/small_parts.h"
#include "core/files/csv.h"
#include "core/files/files.h"

namespace bricol {

namespace {

enum How { at_random, evenly, rows_and_columns, from_table };

}  // namespace

VariantSettings::VariantSettings(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    how_ = new QComboBox(this);
    how_->setObjectName("variantsHow");
    how_->addItems({"at random", "evenly spread", "rows and columns", "from a table…"});
    how_->setToolTip("How the dials that take part are turned");
    column->addWidget(how_);
    spread_ = new QWidget(this);
    auto* spread = new QHBoxLayout(spread_);
    spread->setContentsMargins(0, 0, 0, 0);
    count_ = number("variantsCount", 1, 100000, 24, "How many variants are made");
    seed_ = number("variantsSeed", 0, 1000000, 0, "Another number, other variants");
    spread->addWidget(count_);
    spread->addWidget(soft_label("seed", spread_));
    spread->addWidget(seed_);
    spread->addStretch();
    column->addWidget(spread_);
    grid_ = new QWidget(this);
    auto* grid = new QGridLayout(grid_);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(3);
    rows_ = new QComboBox(grid_);
    rows_->setObjectName("variantsRows");
    columns_ = new QComboBox(grid_);
    columns_->setObjectName("variantsColumns");
    row_steps_ = number("variantsRowSteps", 2, 100, 4, "Steps through its range");
    column_steps_ = number("variantsColumnSteps", 2, 100, 5, "Steps through its range");
    const std::tuple<const char*, QComboBox*, QSpinBox*> lines[] = {{"rows", rows_, row_steps_},
                                                                    {"columns", columns_, column_steps_}};
    int line = 0;
    for (const auto& [label, dial, steps] : lines) {
        dial->setFixedWidth(92);
        grid->addWidget(soft_label(label, grid_), line, 0);
        grid->addWidget(dial, line, 1);
        grid->addWidget(steps, line++, 2);
    }
    column->addWidget(grid_);
    table_label_ = soft_label("no table", this);
    column->addWidget(table_label_);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    dials_holder_ = scroll;
    auto* inside = new QWidget(scroll);
    dials_ = new QVBoxLayout(inside);
    dials_->setContentsMargins(0, 0, 4, 0);
    dials_->setSpacing(2);
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    connect(how_, &QComboBox::activated, this, [this](int how) {
        if (how == from_table) choose_table();
        QSettings().setValue("variants/how", how);
        show_what_counts();
    });
    how_->setCurrentIndex(std::clamp(QSettings().value("variants/how").toInt(), 0, how_->count() - 1));
    table_ = QSettings().value("variants/table").toString();
    if (!QFileInfo::exists(table_)) table_.clear();
    connect(&session, &Session::opened, this, [this] {
        names_.clear();
        refresh();
    });
    connect(&session, &Session::recipeChanged, this, &VariantSettings::refresh);
    refresh();
    show_what_counts();
}

QSpinBox* VariantSettings::number(const char* name, int low, int high, int usual, const QString& tip) {
    return count_box(this, "variants", name, low, high, usual, tip);
}

void VariantSettings::show_what_counts() {
    const int how = how_->currentIndex();
    spread_->setVisible(how == at_random || how == evenly);
    dials_holder_->setVisible(how == at_random || how == evenly);
    grid_->setVisible(how == rows_and_columns);
    table_label_->setVisible(how == from_table);
    table_label_->setText(table_.isEmpty() ? "No table chosen" : QFileInfo(table_).fileName());
}

void VariantSettings::choose_table() {
    const QString file = QFileDialog::getOpenFileName(this, "A table whose first row names dials", session_.folder(),
                                                      "Tables (*.csv *.tsv *.txt)");
    if (file.isEmpty()) return;
    table_ = file;
    QSettings().setValue("variants/table", table_);
}

QString VariantSettings::ticks_key() const {
    return session_.path().isEmpty() ? QString() : "variants/varies/" + QString(session_.path()).replace('/', '|');
}

/// Which dials vary, by recipe; nothing is kept where those that vary are the usual ones.
void VariantSettings::remember_ticks() const {
    if (ticks_key().isEmpty()) return;
    const std::vector<std::string> usual = usual_dials(session_.recipe());
    QStringList varying;
    bool as_usual = true;
    for (const auto* box : dials_holder_->findChildren<QCheckBox*>()) {
        const QString name = box->property("dial").toString();
        if (box->isChecked()) varying << name;
        as_usual &= box->isChecked() == (std::ranges::find(usual, name.toStdString()) != usual.end());
    }
    if (as_usual)
        QSettings().remove(ticks_key());
    else
        QSettings().setValue(ticks_key(), varying);
}

void VariantSettings::refresh() {
    std::vector<std::string> names;
    for (const Dial& dial : session_.recipe().dials) names.push_back(dial.name);
    if (names == names_) return;
    names_ = names;
    const std::vector<std::string> usual = usual_dials(session_.recipe());
    while (QLayoutItem* item = dials_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    rows_->clear();
    columns_->clear();
    const QVariant kept = ticks_key().isEmpty() ? QVariant() : QSettings().value(ticks_key());
    for (const Dial& dial : session_.recipe().dials) {
        auto* box = new QCheckBox(spoken_dial(dial.name));
        box->setObjectName("varies:" + QString::fromStdString(dial.name));
        box->setProperty("dial", QString::fromStdString(dial.name));
        box->setToolTip(QString::fromStdString(dial_range_words(dial)));
        box->setChecked(kept.isValid() ? kept.toStringList().contains(QString::fromStdString(dial.name))
                                       : std::ranges::find(usual, dial.name) != usual.end());
        connect(box, &QCheckBox::clicked, this, &VariantSettings::remember_ticks);
        dials_->addWidget(box);
        if (dial.kind == DialKind::colour) continue;
        rows_->addItem(spoken_dial(dial.name), QString::fromStdString(dial.name));
        columns_->addItem(spoken_dial(dial.name), QString::fromStdString(dial.name));
    }
    if (columns_->count() > 1) columns_->setCurrentIndex(1);
    dials_->addStretch();
}

Result<VariantPlan> VariantSettings::plan() const {
    const Recipe& recipe = session_.recipe();
    if (recipe.dials.empty())
        return Problem{"The recipe has no dials to turn.", "", "Make some of its settings dials first."};
    if (how_->currentIndex() == rows_and_columns) {
        const auto one = [&](const QComboBox* dial, const QSpinBox* steps) {
            const std::string name = dial->currentData().toString().toStdString();
            const Dial* found = recipe.dial(name);
            return found && found->kind == DialKind::number ? fmt::format("{}={}", name, steps->value()) : name;
        };
        return grid_plan(recipe, one(rows_, row_steps_) + "," + one(columns_, column_steps_));
    }
    if (how_->currentIndex() == from_table) {
        if (table_.isEmpty()) return Problem{"No table is chosen.", "", "Choose “from a table…” again."};
        const auto text = read_file(table_.toStdString());
        if (!text) return text.problem();
        const auto rows = read_csv(*text);
        return rows ? table_plan(recipe, *rows) : Result<VariantPlan>(rows.problem());
    }
    std::vector<std::string> names;
    for (const auto* box : dials_holder_->findChildren<QCheckBox*>())
        if (box->isChecked() && recipe.dial(box->property("dial").toString().toStdString()))
            names.push_back(box->property("dial").toString().toStdString());
    if (names.empty()) return Problem{"No dial takes part.", "", "Tick those that are to vary."};
    const auto count = static_cast<std::size_t>(count_->value());
    const auto seed = static_cast<std::uint64_t>(seed_->value());
    return how_->currentIndex() == evenly ? even_plan(recipe, names, count, seed)
                                          : random_plan(recipe, names, count, seed);
}

}  // namespace bricol
