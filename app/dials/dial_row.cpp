// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/dial_row.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QColorDialog>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <cmath>

#include "app/details/number_field.h"
#include "app/dials/flow.h"
#include "app/dials/slider.h"
#include "app/kinds/editor.h"
#include "app/kinds/screen_colour.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

double step_of(const Dial& dial) {
    if (dial.unit == "count") return 1;
    return std::pow(10, std::floor(std::log10(std::max(dial.high - dial.low, 1e-9) / 100)));
}

/// The line that rows of all kinds are: name, field, menu, and room for something wide below.
struct RowFrame {
    QWidget* line;
    QGridLayout* grid;
    QString tip;
    std::function<void(const Json& value, bool moving)> turn;

    void put(QWidget* field) const { grid->addWidget(field, 0, 1, Qt::AlignRight); }
    void put_below(QWidget* wide) const { grid->addWidget(wide, 1, 0, 1, 3); }
};

RowFrame make_frame(Session& session, const Dial& dial, const std::function<void(QWidget*)>& open_menu) {
    RowFrame frame;
    frame.line = new QWidget;
    frame.grid = new QGridLayout(frame.line);
    frame.grid->setContentsMargins(0, 0, 0, 4);
    frame.grid->setVerticalSpacing(0);
    frame.grid->setHorizontalSpacing(4);
    frame.grid->setColumnStretch(0, 1);
    auto* label = new QLabel(spoken_dial(dial.name), frame.line);
    frame.tip = QString::fromStdString(dial.help.empty() ? dial.name : dial.help + "\nIn formulas: " + dial.name);
    label->setToolTip(frame.tip);
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // a long name gives way, not the field
    auto* menu = quiet_button("Name, range, place, delete", {13, 22}, frame.line);
    menu->setProperty("dial", QString::fromStdString(dial.name));
    menu->setText("⋮");
    QObject::connect(menu, &QToolButton::clicked, menu, [menu, open_menu] { open_menu(menu); });
    frame.grid->addWidget(label, 0, 0);
    frame.grid->addWidget(menu, 0, 2);
    frame.turn = [&session, name = dial.name](const Json& value, bool moving) {
        session.edit(turn_dial(session.recipe(), name, value), "Turn " + spoken_dial(name).toLower(),
                     "dial " + QString::fromStdString(name));
        if (!moving) session.part_edits();
    };
    return frame;
}

DialRow number_row(Session& session, const Dial& dial, const RowFrame& frame) {
    auto* field = new NumberField(frame.line);
    field->setObjectName("dial:" + QString::fromStdString(dial.name));
    field->setFixedWidth(76);
    auto* slider = new Slider(frame.line);
    slider->setObjectName("slider:" + QString::fromStdString(dial.name));
    slider->setToolTip(frame.tip);
    frame.put(field);
    frame.put_below(slider);
    QObject::connect(field, &NumberField::numberGiven, field,
                     [turn = frame.turn](double value, bool moving) { turn(value, moving); });
    QObject::connect(slider, &Slider::moved, slider,
                     [turn = frame.turn](double value, bool moving) { turn(value, moving); });
    QObject::connect(field, &NumberField::refused, field, [&session](const QString& why) { session.say(why, true); });
    QObject::connect(field, &NumberField::formulaGiven, field, [&session] {
        session.say("A dial holds a plain number, so that it can be turned. Put the formula into a step.", true);
    });
    return {frame.line, [&session, field, slider](const Dial& now) {
                field->set_kind(dial_quantity(now), dial_unit(session, now), {now.low, now.high, now.low, now.high});
                field->show_value(now.value);
                slider->set_range(now.low, now.high, step_of(now));
                slider->show_value(now.value);
            }};
}

/// Few short words stand side by side; more are chosen from a list.
bool fits_as_words(const Dial& dial) {
    std::size_t letters = 0;
    for (const std::string& word : dial.choices) letters += word.size() + 3;
    return dial.choices.size() <= 6 && letters <= 60;
}

DialRow words_row(const Dial& dial, const RowFrame& frame) {
    auto* words = new QWidget(frame.line);
    auto* flow = new Flow(words);
    auto* group = new QButtonGroup(words);
    for (std::size_t i = 0; i < dial.choices.size(); ++i) {
        auto* button = new QPushButton(QString::fromStdString(dial.choices[i]), words);
        button->setObjectName("word");
        button->setProperty("dial", QString::fromStdString(dial.name));
        button->setCheckable(true);
        button->setToolTip(frame.tip);
        group->addButton(button, static_cast<int>(i));
        flow->addWidget(button);
    }
    QObject::connect(group, &QButtonGroup::idClicked, words, [turn = frame.turn, choices = dial.choices](int word) {
        turn(choices[static_cast<std::size_t>(word)], false);
    });
    frame.put_below(words);
    return {frame.line, [group](const Dial& now) {
                if (auto* button = group->button(static_cast<int>(now.value))) button->setChecked(true);
            }};
}

DialRow list_row(const Dial& dial, const RowFrame& frame) {
    auto* combo = new Combo(frame.line);
    combo->setObjectName("dial:" + QString::fromStdString(dial.name));
    combo->setFixedSize(100, 24);
    combo->setToolTip(frame.tip);
    for (const std::string& word : dial.choices) combo->addItem(QString::fromStdString(word));
    QObject::connect(combo, &QComboBox::activated, combo,
                     [turn = frame.turn, combo] { turn(combo->currentText().toStdString(), false); });
    frame.put(combo);
    return {frame.line, [combo](const Dial& now) { combo->setCurrentIndex(static_cast<int>(now.value)); }};
}

DialRow toggle_row(const Dial& dial, const RowFrame& frame) {
    auto* box = new QCheckBox(frame.line);
    box->setObjectName("dial:" + QString::fromStdString(dial.name));
    box->setToolTip(frame.tip);
    QObject::connect(box, &QCheckBox::clicked, box, [turn = frame.turn](bool on) { turn(on, false); });
    frame.put(box);
    return {frame.line, [box](const Dial& now) { box->setChecked(now.value != 0); }};
}

DialRow colour_row(const Dial& dial, const RowFrame& frame) {
    auto* button = new QPushButton(frame.line);
    button->setObjectName("dial:" + QString::fromStdString(dial.name));
    button->setFixedSize(76, 22);
    button->setToolTip(frame.tip);
    frame.put(button);
    auto now_at = std::make_shared<DVec3>(dial.colour);
    QObject::connect(button, &QPushButton::clicked, button, [turn = frame.turn, now_at, button, name = dial.name] {
        const QColor picked = QColorDialog::getColor(screen_colour(*now_at), button, spoken_dial(name));
        if (!picked.isValid()) return;
        const DVec3 c = linear_colour(picked);
        turn(Json::array({c.x, c.y, c.z}), false);
    });
    return {frame.line, [button, now_at](const Dial& now) {
                *now_at = now.colour;
                show_swatch(*button, screen_colour(now.colour));
            }};
}

}  // namespace

QString spoken_dial(const std::string& name) {
    QString text = QString::fromStdString(name).replace('_', ' ');
    if (!text.isEmpty()) text[0] = text[0].toUpper();
    return text;
}

Quantity dial_quantity(const Dial& dial) {
    return dial.unit == "m"       ? Quantity::length
           : dial.unit == "deg"   ? Quantity::angle
           : dial.unit == "count" ? Quantity::count
                                  : Quantity::plain;
}

QString dial_unit(const Session& session, const Dial& dial) {
    const auto unit = field_unit(session.recipe().unit, dial.high);
    return QString::fromUtf8(unit.data(), static_cast<int>(unit.size()));
}

DialRow make_dial_row(Session& session, const Dial& dial, const std::function<void(QWidget*)>& open_menu) {
    const RowFrame frame = make_frame(session, dial, open_menu);
    switch (dial.kind) {
        case DialKind::choice:
            return fits_as_words(dial) ? words_row(dial, frame) : list_row(dial, frame);
        case DialKind::toggle:
            return toggle_row(dial, frame);
        case DialKind::colour:
            return colour_row(dial, frame);
        case DialKind::number:
            break;
    }
    return number_row(session, dial, frame);
}

}  // namespace bricol
