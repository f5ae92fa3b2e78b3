// SPDX-License-Identifier: GPL-3.0-or-later
// A number of a step with its name, its field and the button that opens what else can be done with it.
#pragma once

#include <QLabel>
#include <QToolButton>
#include <QWidget>

#include "app/details/number_field.h"
#include "app/document/step_edits.h"

namespace bricol {

class NumberRow : public QWidget {
    Q_OBJECT
public:
    NumberRow(Session& session, NumberPlace place, ParameterInfo info, const QString& label, QWidget* parent);
    /// Shows the number as it now is; `value` worked out.
    void refresh(double value);

private:
    void send(const Json& value, const QString& merge);
    void open_menu();
    void add_links(QMenu* menu);
    void add_made_links(QMenu* links);
    void fill_made_links(QMenu* menu, const std::string& name, const StepOutcome* made);
    void add_copied_link(QMenu* menu);
    void add_formula_actions(QMenu* menu, const std::string& formula);
    QString name() const;

    Session& session_;
    NumberPlace place_;
    ParameterInfo info_;
    QString label_text_;
    QLabel* label_;
    NumberField* field_;
    QToolButton* button_;
    double value_ = 0;
    int drag_ = 0;
    const char* shown_glyph_ = nullptr;
    bool shown_night_ = false;
};

}  // namespace bricol
