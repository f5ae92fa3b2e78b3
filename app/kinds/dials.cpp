// SPDX-License-Identifier: GPL-3.0-or-later
#include <QPointer>
#include <QVBoxLayout>
#include <fmt/format.h>

#include "app/kinds/editor.h"
#include "app/details/number_row.h"
#include "core/files/kits.h"

namespace bricol {

namespace {

Editor dials_editor(const EditorPlace& place) {
    const ParameterInfo& p = place.info;
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(3);
    auto shown = std::make_shared<std::string>("\n");
    auto rows = std::make_shared<std::vector<std::pair<std::string, QPointer<NumberRow>>>>();
    const auto refresh = [box, column, place, p, shown, rows](const Values&) {
        const auto inner = recipe_inside(place.session->recipe(), place.part, place.step,
                                         place.session->environment().find_kit, place.session->folder().toStdString());
        std::string names;
        if (inner)
            for (const Dial& dial : inner->dials)
                names += dial.name + dial.unit + format_number(dial.low) + format_number(dial.high) + "\n";
        if (*shown != names) {
            *shown = names;
            rows->clear();
            empty_layout(column);
            if (inner && !inner->dials.empty()) column->addWidget(setting_label(p, box));
            if (inner)
                for (const Dial& dial : inner->dials) {
                    ParameterInfo info;
                    info.label = "";
                    info.quantity = dial.unit == "m"       ? Quantity::length
                                    : dial.unit == "deg"   ? Quantity::angle
                                    : dial.unit == "count" ? Quantity::count
                                                           : Quantity::plain;
                    info.low = info.soft_low = dial.low, info.high = info.soft_high = dial.high;
                    info.standard = dial.value;
                    auto* row = new NumberRow(
                        *place.session, {place.part, place.step, "", -1, fmt::format("/{}/{}", place.key(), dial.name)},
                        info, QString::fromStdString(dial.name).replace('_', ' '), box);
                    row->setToolTip(QString::fromStdString(dial.help));
                    column->addWidget(row);
                    rows->emplace_back(dial.name, row);
                }
        }
        if (!inner) return;
        for (const auto& [name, row] : *rows) {
            if (!row) continue;
            const Json written = written_at(place.session->recipe(),
                                            {place.part, place.step, "", -1, fmt::format("/{}/{}", place.key(), name)});
            const auto value = written.is_null() ? Result<double>(inner->dial(name)->value)
                                                 : place.session->resolver().number(place.part, written);
            row->refresh(value ? *value : 0);
        }
    };
    return {box, refresh};
}

const EditorOf dials_kind(ParameterKind::dials, dials_editor);

}  // namespace

}  // namespace bricol
