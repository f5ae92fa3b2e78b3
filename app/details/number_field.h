// SPDX-License-Identifier: GPL-3.0-or-later
// A field for one number: typed with units or as a formula, dragged, stepped by wheel and arrow keys.
#pragma once

#include <QLineEdit>

#include "core/formula/units.h"

namespace bricol {

class NumberField : public QLineEdit {
    Q_OBJECT
public:
    struct Range {
        double low = -1e6, high = 1e6;       ///< held
        double soft_low = 0, soft_high = 1;  ///< sets how far a drag goes
    };
    explicit NumberField(QWidget* parent = nullptr);

    void set_kind(Quantity quantity, const QString& length_unit, Range range);
    /// Shows a value; `formula` (with its "=") when it is not a plain number.
    void show_value(double value, const QString& formula = {});
    double value() const { return value_; }
    QString formula() const { return formula_; }
    /// Size of one step of wheel or arrow keys, stored unit.
    double step() const;

signals:
    /// A plain number in stored units; `moving` while a drag goes on.
    void numberGiven(double value, bool moving);
    void formulaGiven(const QString& formula);
    void refused(const QString& why);

protected:
    bool event(QEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void take_text();
    void give(double value, bool moving);
    QString value_text(int digits = 6) const;

    Quantity quantity_ = Quantity::plain;
    QString length_unit_ = "m", formula_;
    Range range_;
    double value_ = 0, drag_value_ = 0;
    int drag_from_ = 0;
    bool pressed_ = false, dragging_ = false, typed_ = false;
};

}  // namespace bricol
