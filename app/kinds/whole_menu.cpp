// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/whole_menu.h"

#include <QMenu>
#include <QToolButton>

#include "app/document/step_edits.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/ground/colour.h"

namespace bricol {

namespace {

/// The setting as it stands now, with formulas worked out.
Value value_now(const EditorPlace& place) {
    const Json written = place.written();
    const Step* step = place.step_now();
    const StepInfo* info = step ? find_step_info(step->type) : nullptr;
    const Part* part = place.session->recipe().part(place.part);
    if (written.is_null() || !info || !part) return kind_info(place.info).standard(place.info);
    std::vector<Finding> findings;
    return place.session->resolver().parameters(*part, *step, *info, findings).at(place.key());
}

Json as_written(const Value& value) {
    if (const bool* yes = std::get_if<bool>(&value)) return *yes;
    if (const DVec3* colour = std::get_if<DVec3>(&value)) return Json::array({colour->x, colour->y, colour->z});
    return std::get<std::string>(value);
}

DialKind dial_kind(ParameterKind kind) {
    return kind == ParameterKind::choice   ? DialKind::choice
           : kind == ParameterKind::toggle ? DialKind::toggle
                                           : DialKind::colour;
}

/// Whether a dial can stand for the setting: a choice has to know each of the dial's words.
bool can_follow(const ParameterInfo& info, const Dial& dial) {
    if (dial.kind != dial_kind(info.kind)) return false;
    return dial.kind != DialKind::choice || std::ranges::all_of(dial.choices, [&](const std::string& word) {
               return std::ranges::find(info.choices, word, &Choice::key) != info.choices.end();
           });
}

void make_whole_dial(const EditorPlace& place) {
    Session& session = *place.session;
    std::string made;
    Value value = value_now(place);
    if (DVec3* colour = std::get_if<DVec3>(&value); colour && place.info.on_screen)
        *colour = linear_from_screen(*colour);  // dials hold linear light
    const auto edited =
        make_dial_of(session.recipe(), {place.part, place.step, place.key()}, place.info, as_written(value), &made);
    if (session.edit(edited, "Make a dial of " + place.name().toLower()))
        session.say("New dial “" + QString::fromStdString(made) + "”. Rename it on the left.");
}

void open_menu(const EditorPlace& place, QToolButton* button) {
    auto* menu = new QMenu(button);
    menu->setObjectName("wholeMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const Json written = place.written();
    const bool formula = written.is_string() && written.get_ref<const std::string&>().starts_with('=');
    menu->addAction("Make it a dial", button, [place] { make_whole_dial(place); });
    auto* links = menu->addMenu("Link to");
    for (const Dial& dial : place.session->recipe().dials)
        if (can_follow(place.info, dial))
            links->addAction(QString::fromStdString(dial.name), button,
                             [place, name = dial.name] { place.write("= " + name); });
    links->setEnabled(!links->isEmpty());
    menu->addSeparator();
    menu->addAction("Keep the value, drop the formula", button, [place] { place.write(as_written(value_now(place))); })
        ->setEnabled(formula);
    menu->addAction("Reset", button,
                    [place] {
                        place.session->edit(reset_setting(place.session->recipe(), place.part, place.step, place.key()),
                                            "Reset " + place.name().toLower());
                    })
        ->setEnabled(!written.is_null());
    menu->addAction("Explain", button, [place, written, formula] {
        const QString from =
            formula ? QString(" It follows “%1”.").arg(QString::fromStdString(written.get<std::string>())) : QString();
        place.session->say(place.name() + ": " + text_of(place.info.help) + from);
    });
    menu->popup(button->mapToGlobal(QPoint(0, button->height())));
}

}  // namespace

void add_whole_menu(QHBoxLayout* row, const EditorPlace& place) {
    QMargins margins = row->contentsMargins();
    margins.setRight(0);
    row->setContentsMargins(margins);
    auto* button = quiet_button("", {20, 22}, row->parentWidget());
    button->setProperty("row", QString::fromStdString(place.key()));
    button->setIconSize({16, 16});
    const auto show = [place, button] {
        const Json written = place.written();
        const bool formula = written.is_string() && written.get_ref<const std::string&>().starts_with('=');
        button->setIcon(theme::glyph_icon(formula ? theme::dial_glyph : theme::menu_glyph, 16));
        button->setToolTip((formula ? QString::fromStdString(written.get<std::string>()) + "\n" : QString()) +
                           "Dial, links, reset, explain");
    };
    show();
    QObject::connect(place.session, &Session::recipeChanged, button, show);
    QObject::connect(button, &QToolButton::clicked, button, [place, button] { open_menu(place, button); });
    row->addWidget(button);
}

}  // namespace bricol
