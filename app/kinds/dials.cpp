// SPDX-License-Identifier: GPL-3.0-or-later
// The dials of a recipe that stands in this one, as settings of its step.
#include <QCheckBox>
#include <QColorDialog>
#include <QPointer>
#include <QVBoxLayout>
#include <fmt/format.h>

#include "app/details/number_row.h"
#include "app/dials/dial_row.h"
#include "app/kinds/editor.h"
#include "app/kinds/screen_colour.h"
#include "core/files/kits.h"

namespace bricol {

namespace {

/// One dial's row, shown anew with the inner dial and what is written for it (null when the recipe's own value holds).
struct InnerRow {
    std::string name;
    QPointer<QWidget> widget;
    std::function<void(const Dial& dial, const Json& written)> show;
};

/// What is written for a dial, worked out: the dial as it stands inside.
Dial standing(const EditorPlace& place, Dial dial, const Json& written) {
    if (written.is_null()) return dial;
    Json value = written;
    if (const auto named = place.session->resolver().named(written)) {
        if (const auto* word = std::get_if<std::string>(&*named)) value = *word;
        if (const auto* colour = std::get_if<DVec3>(&*named)) value = Json::array({colour->x, colour->y, colour->z});
    } else if (written.is_string() && written.get_ref<const std::string&>().starts_with('=')) {
        const auto number = place.session->resolver().number(place.part, written);
        if (number) value = *number;
    }
    const auto there = turned(dial, value, Outside::held);
    return there ? *there : dial;
}

void write_dial(const EditorPlace& place, const std::string& name, const Json& value) {
    place.session->edit(
        set_setting(place.session->recipe(), place.part, place.step, fmt::format("/{}/{}", place.key(), name), value),
        "Change " + spoken_dial(name).toLower());
}

/// A line with the dial's name, and room for a field as wide as the other rows'.
QHBoxLayout* named_row(QWidget* line, const Dial& dial) {
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    row->addWidget(new QLabel(QString::fromStdString(dial.name).replace('_', ' '), line), 1);
    line->setToolTip(QString::fromStdString(dial.help));
    return row;
}

InnerRow number_row(const EditorPlace& place, const Dial& dial, QWidget* box) {
    ParameterInfo info;
    info.label = "";
    info.quantity = dial_quantity(dial);
    info.low = info.soft_low = dial.low, info.high = info.soft_high = dial.high;
    info.standard = dial.value;
    auto* row =
        new NumberRow(*place.session, {place.part, place.step, "", -1, fmt::format("/{}/{}", place.key(), dial.name)},
                      info, QString::fromStdString(dial.name).replace('_', ' '), box);
    row->setToolTip(QString::fromStdString(dial.help));
    return {dial.name, row, [row, place](const Dial& now, const Json& written) {
                const auto value = written.is_null() ? Result<double>(now.value)
                                                     : place.session->resolver().number(place.part, written);
                row->refresh(value ? *value : 0);
            }};
}

InnerRow choice_row(const EditorPlace& place, const Dial& dial, QWidget* box) {
    auto* line = new QWidget(box);
    auto* combo = new Combo(line);
    combo->setObjectName("inner:" + QString::fromStdString(dial.name));
    combo->setFixedSize(112, 24);
    for (const std::string& word : dial.choices) combo->addItem(QString::fromStdString(word));
    named_row(line, dial)->addWidget(combo);
    QObject::connect(combo, &QComboBox::activated, line,
                     [place, combo, name = dial.name] { write_dial(place, name, combo->currentText().toStdString()); });
    return {dial.name, line, [combo, place](const Dial& now, const Json& written) {
                combo->setCurrentIndex(static_cast<int>(standing(place, now, written).value));
            }};
}

InnerRow toggle_row(const EditorPlace& place, const Dial& dial, QWidget* box) {
    auto* check = new QCheckBox(QString::fromStdString(dial.name).replace('_', ' '), box);
    check->setObjectName("inner:" + QString::fromStdString(dial.name));
    check->setToolTip(QString::fromStdString(dial.help));
    QObject::connect(check, &QCheckBox::clicked, check,
                     [place, name = dial.name](bool on) { write_dial(place, name, on); });
    return {dial.name, check, [check, place](const Dial& now, const Json& written) {
                check->setChecked(standing(place, now, written).value != 0);
            }};
}

InnerRow colour_row(const EditorPlace& place, const Dial& dial, QWidget* box) {
    auto* line = new QWidget(box);
    auto* button = new QPushButton(line);
    button->setObjectName("inner:" + QString::fromStdString(dial.name));
    button->setFixedSize(112, 24);
    named_row(line, dial)->addWidget(button);
    auto now_at = std::make_shared<DVec3>(dial.colour);
    QObject::connect(button, &QPushButton::clicked, line, [place, now_at, button, name = dial.name] {
        const QColor picked = QColorDialog::getColor(screen_colour(*now_at), button, spoken_dial(name));
        if (!picked.isValid()) return;
        const DVec3 c = linear_colour(picked);
        write_dial(place, name, Json::array({c.x, c.y, c.z}));
    });
    return {dial.name, line, [button, now_at, place](const Dial& now, const Json& written) {
                *now_at = standing(place, now, written).colour;
                show_swatch(*button, screen_colour(*now_at));
            }};
}

InnerRow inner_row(const EditorPlace& place, const Dial& dial, QWidget* box) {
    switch (dial.kind) {
        case DialKind::choice:
            return choice_row(place, dial, box);
        case DialKind::toggle:
            return toggle_row(place, dial, box);
        case DialKind::colour:
            return colour_row(place, dial, box);
        case DialKind::number:
            break;
    }
    return number_row(place, dial, box);
}

/// What decides which rows there are.
std::string rows_wanted(const Recipe& inner) {
    std::string names;
    for (const Dial& dial : inner.dials)
        names += fmt::format("{} {} {} {}\n", dial.name, dial_kind_word(dial.kind), dial.unit, dial_range_words(dial));
    return names;
}

Editor dials_editor(const EditorPlace& place) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(3);
    auto shown = std::make_shared<std::string>("\n");
    auto rows = std::make_shared<std::vector<InnerRow>>();
    const auto refresh = [box, column, place, shown, rows](const Values&) {
        auto inner = recipe_inside(place.session->recipe(), place.part, place.step,
                                   place.session->environment().find_kit, place.session->folder().toStdString());
        if (const Step* step = place.step_now(); inner && step) inner = at_named_preset(*inner, *step);
        const std::string wanted = inner ? rows_wanted(*inner) : std::string();
        if (*shown != wanted) {
            *shown = wanted;
            rows->clear();
            empty_layout(column);
            if (inner && !inner->dials.empty()) column->addWidget(setting_label(place.info, box));
            if (inner)
                for (const Dial& dial : inner->dials) {
                    rows->push_back(inner_row(place, dial, box));
                    column->addWidget(rows->back().widget);
                }
        }
        if (!inner) return;
        for (const InnerRow& row : *rows) {
            if (!row.widget) continue;
            const Json written = written_at(place.session->recipe(), {place.part, place.step, "", -1,
                                                                      fmt::format("/{}/{}", place.key(), row.name)});
            row.show(*inner->dial(row.name), written);
        }
    };
    return {box, refresh};
}

const EditorOf dials_kind(ParameterKind::dials, dials_editor);

}  // namespace

}  // namespace bricol
