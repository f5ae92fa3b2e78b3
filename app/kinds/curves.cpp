// SPDX-License-Identifier: GPL-3.0-or-later
#include <QPointer>
#include <QVBoxLayout>
#include <fmt/format.h>

#include "app/details/number_row.h"
#include "app/kinds/editor.h"

namespace bricol {

namespace {

/// A number of a knot: its name, where it is kept within the knot, how it is shown, and its value when not written.
struct KnotNumber {
    const char* name;
    const char* path;
    ParameterInfo info;
    double standard;
};

ParameterInfo knot_info(std::string_view help, Quantity quantity, double low, double high, double soft_low,
                        double soft_high) {
    ParameterInfo info;
    info.help = help;
    info.quantity = quantity;
    info.low = low, info.high = high, info.soft_low = soft_low, info.soft_high = soft_high;
    return info;
}

const std::vector<KnotNumber>& knot_numbers() {
    static const ParameterInfo place = knot_info("Place of the knot in its plane.", Quantity::length, -1e5, 1e5, -1, 1);
    static const std::vector<KnotNumber> all = {
        {"Across", "/at/0", place, 0},
        {"Up", "/at/1", place, 0},
        {"Depth", "/at/2", knot_info("Off the drawing plane.", Quantity::length, -1e5, 1e5, -1, 1), 0},
        {"Rounding", "/fillet",
         knot_info("Rounding radius of this corner; 0 for none.", Quantity::length, 0, 1e5, 0, 0.1), 0},
        {"Width", "/radius",
         knot_info("Factor on what is swept along the curve here.", Quantity::plain, -1e3, 1e3, 0, 2), 1},
        {"Roll", "/roll",
         knot_info("Turns what is swept along the curve here.", Quantity::angle, -36000, 36000, -180, 180), 0}};
    return all;
}

/// The numbers of the one chosen knot.
class KnotRows {
public:
    explicit KnotRows(const EditorPlace& place) : place_(place), holder(new QWidget) {
        column_ = new QVBoxLayout(holder);
        column_->setContentsMargins(0, 4, 0, 0);
        column_->setSpacing(3);
    }
    void rebuild() {
        empty_layout(column_);
        rows_.clear();
        const auto& chosen = place_.session->knots();
        if (chosen.size() != 1) {
            auto* hint = new QLabel(chosen.empty() ? QString("Choose a knot to type its place.")
                                                   : QString("%1 knots chosen.").arg(chosen.size()));
            hint->setObjectName("soft");
            hint->setWordWrap(true);
            column_->addWidget(hint);
            return;
        }
        const int k = *chosen.begin();
        auto* title = new QLabel(QString("Knot %1").arg(k + 1));
        title->setObjectName("head");
        column_->addWidget(title);
        const std::string base = fmt::format("/{}/{}/knots/{}", place_.key(), place_.session->curve(), k);
        for (const KnotNumber& number : knot_numbers()) {
            const NumberPlace at{place_.part, place_.step, "", -1, base + number.path};
            auto* row = new NumberRow(*place_.session, at, number.info, number.name, nullptr);
            column_->addWidget(row);
            rows_.push_back({row, at, number.standard});
        }
        refresh();
    }
    void refresh() const {
        for (const Row& row : rows_) {
            if (!row.widget) continue;
            const Json written = written_at(place_.session->recipe(), row.at);
            const auto value = written.is_null() ? Result<double>(row.standard)
                                                 : place_.session->resolver().number(place_.part, written);
            row.widget->refresh(value ? *value : 0);
        }
    }

private:
    struct Row {
        QPointer<NumberRow> widget;
        NumberPlace at;
        double standard;
    };
    EditorPlace place_;
    QVBoxLayout* column_;
    std::vector<Row> rows_;

public:
    QWidget* holder;
};

Editor curves_editor(const EditorPlace& place) {
    const auto rows = std::make_shared<KnotRows>(place);
    QObject::connect(place.session, &Session::knotsChanged, rows->holder, [rows] { rows->rebuild(); });
    rows->rebuild();
    return {rows->holder, [rows](const Values&) { rows->refresh(); }};
}

const EditorOf curves_kind(ParameterKind::curves, curves_editor);

}  // namespace

}  // namespace bricol
