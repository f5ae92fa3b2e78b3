// SPDX-License-Identifier: GPL-3.0-or-later
// Which dials vary and how: at random, evenly, two of them as rows and columns, a table.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "core/inspect/variant_plan.h"

namespace bricol {

class VariantSettings : public QWidget {
    Q_OBJECT
public:
    explicit VariantSettings(Session& session, QWidget* parent);
    /// The plan as it is set; a problem in words when there is none.
    Result<VariantPlan> plan() const;
    void set_table(const QString& file) { table_ = file; }

private:
    void refresh();
    void show_what_counts();
    void choose_table();
    /// Under which the ticks of this recipe are remembered.
    QString ticks_key() const;
    void remember_ticks() const;
    QSpinBox* number(const char* name, int low, int high, int usual, const QString& tip);

    Session& session_;
    QComboBox *how_, *rows_, *columns_;
    QSpinBox *count_, *seed_, *row_steps_, *column_steps_;
    QLabel* table_label_;
    QWidget *spread_, *grid_, *dials_holder_;
    QVBoxLayout* dials_;
    std::vector<std::string> names_;
    QString table_;
};

}  // namespace bricol
