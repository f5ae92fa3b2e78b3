// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of the one chosen knot, for kinds of settings that hold knots.
#pragma once

#include <QPointer>
#include <QVBoxLayout>
#include <functional>

#include "app/details/number_row.h"
#include "app/kinds/editor.h"

namespace bricol {

/// A number of a knot: its name, where it is kept within the knot, how it is shown, and its value when not written.
struct KnotNumber {
    const char* name;
    std::string path;
    ParameterInfo info;
    double standard;
};

ParameterInfo knot_info(std::string_view help, Quantity quantity, double low, double high, double soft_low,
                        double soft_high);

/// How a kind writes its knots.
struct KnotListing {
    std::function<std::string(int knot)> place;  ///< in the step's settings ("/knots/3")
    std::function<std::vector<KnotNumber>(int knot)> numbers;
    std::function<QWidget*(int knot)> more;  ///< what stands below the numbers; may be empty
};

/// The rows, made anew when another knot is chosen.
class KnotRows {
public:
    KnotRows(const EditorPlace& place, KnotListing listing);
    void rebuild();
    void refresh() const;

private:
    struct Row {
        QPointer<NumberRow> widget;
        NumberPlace at;
        double standard;
    };
    EditorPlace place_;
    KnotListing listing_;
    QVBoxLayout* column_;
    std::vector<Row> rows_;

public:
    QWidget* holder;
};

/// The editor that shows them.
Editor knot_rows_editor(const EditorPlace& place, KnotListing listing);

}  // namespace bricol
