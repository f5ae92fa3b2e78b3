// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/knot_rows.h"

#include "app/theme/small_parts.h"

namespace bricol {

ParameterInfo knot_info(std::string_view help, Quantity quantity, double low, double high, double soft_low,
                        double soft_high) {
    ParameterInfo info;
    info.help = help;
    info.quantity = quantity;
    info.low = low, info.high = high, info.soft_low = soft_low, info.soft_high = soft_high;
    return info;
}

KnotRows::KnotRows(const EditorPlace& place, KnotListing listing)
    : place_(place), listing_(std::move(listing)), holder(new QWidget) {
    column_ = new QVBoxLayout(holder);
    column_->setContentsMargins(0, 4, 0, 0);
    column_->setSpacing(3);
}

void KnotRows::rebuild() {
    empty_layout(column_);
    rows_.clear();
    const auto& chosen = place_.session->knots();
    if (chosen.size() != 1) {
        auto* hint = soft_lines(chosen.empty() ? QString("Choose a knot to type its place.")
                                               : QString("%1 knots chosen.").arg(chosen.size()));
        column_->addWidget(hint);
        return;
    }
    const int k = *chosen.begin();
    auto* title = new HeadLabel(QString("Knot %1").arg(k + 1));
    column_->addWidget(title);
    const std::string base = listing_.place(k);
    for (const KnotNumber& number : listing_.numbers(k)) {
        const NumberPlace at{place_.part, place_.step, "", -1, base + number.path};
        auto* row = new NumberRow(*place_.session, at, number.info, number.name, nullptr);
        column_->addWidget(row);
        rows_.push_back({row, at, number.standard});
    }
    if (listing_.more)
        if (QWidget* more = listing_.more(k)) column_->addWidget(more);
    refresh();
}

void KnotRows::refresh() const {
    for (const Row& row : rows_) {
        if (!row.widget) continue;
        const Json written = written_at(place_.session->recipe(), row.at);
        const auto value =
            written.is_null() ? Result<double>(row.standard) : place_.session->resolver().number(place_.part, written);
        row.widget->refresh(value ? *value : 0);
    }
}

Editor knot_rows_editor(const EditorPlace& place, KnotListing listing) {
    const auto rows = std::make_shared<KnotRows>(place, std::move(listing));
    QObject::connect(place.session, &Session::knotsChanged, rows->holder, [rows] { rows->rebuild(); });
    rows->rebuild();
    return {rows->holder, [rows](const Values&) { rows->refresh(); }};
}

}  // namespace bricol
