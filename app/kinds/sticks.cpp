// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QLineEdit>
#include <fmt/format.h>

#include "app/kinds/knot_rows.h"

namespace bricol {

namespace {

Json stick_written(const EditorPlace& place, int k) {
    const Json list = place.written();
    return list.is_array() && k < static_cast<int>(list.size()) ? list[static_cast<std::size_t>(k)] : Json();
}

std::vector<KnotNumber> stick_numbers(const EditorPlace& place, int k) {
    static const ParameterInfo at = knot_info("Place of the knot.", Quantity::length, -1e5, 1e5, -1, 1);
    static const ParameterInfo girth = knot_info("Radius of the body here.", Quantity::length, 0, 1e5, 0, 0.5);
    static const ParameterInfo roll =
        knot_info("How far the girth is turned about the bone.", Quantity::angle, -36000, 36000, -180, 180);
    double standard = 0.05;
    if (const Step* step = place.step_now(); step && step->settings.contains("girth"))
        if (const auto value = place.session->resolver().number(place.part, step->settings["girth"])) standard = *value;
    std::vector<KnotNumber> out{{"x", "/at/0", at, 0}, {"y", "/at/1", at, 0}, {"z", "/at/2", at, 0}};
    const Json knot = stick_written(place, k);
    if (knot.is_object() && knot.contains("girth") && knot["girth"].is_array()) {
        out.push_back({"Girth across", "/girth/0", girth, standard});
        out.push_back({"Girth over", "/girth/1", girth, standard});
    } else {
        out.push_back({"Girth", "/girth", girth, standard});
    }
    out.push_back({"Roll", "/roll", roll, 0});
    return out;
}

/// The knot's name and what it is.
QWidget* stick_more(const EditorPlace& place, int k) {
    const auto put = [place, k](const char* key, const Json& value) {
        Json list = place.written();
        if (!list.is_array() || k >= static_cast<int>(list.size())) return;
        Json& knot = list[static_cast<std::size_t>(k)];
        if (value.is_null())
            knot.erase(key);
        else
            knot[key] = value;
        place.write(list);
    };
    const Json knot = stick_written(place, k);
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    auto* name = new QLineEdit(box);
    name->setObjectName("stickName");
    name->setPlaceholderText("name of its joint");
    name->setToolTip("What Pose and files call the joint that stands here");
    if (knot.is_object() && knot.contains("name") && knot["name"].is_string())
        name->setText(QString::fromStdString(knot["name"].get<std::string>()));
    QObject::connect(name, &QLineEdit::editingFinished, box, [name, put] {
        if (!name->isModified()) return;
        name->setModified(false);
        const std::string text = name->text().trimmed().toStdString();
        put("name", text.empty() ? Json() : Json(text));
    });
    column->addWidget(name);
    struct Mark {
        const char *key, *label, *help;
        bool standard;
    };
    for (const Mark& mark : {Mark{"root", "Root", "The body is held here when it is posed", false},
                             Mark{"flat", "Flat end", "An end here is flat instead of round", false},
                             Mark{"joint", "Joint", "What hangs here can be turned", true}}) {
        auto* check = new QCheckBox(mark.label, box);
        check->setObjectName(QString("stickMark:") + mark.key);
        check->setToolTip(mark.help);
        check->setChecked(knot.is_object() ? knot.value(mark.key, mark.standard) : mark.standard);
        QObject::connect(check, &QCheckBox::clicked, box,
                         [put, mark](bool on) { put(mark.key, on == mark.standard ? Json() : Json(on)); });
        column->addWidget(check);
    }
    return box;
}

Editor sticks_editor(const EditorPlace& place) {
    return knot_rows_editor(
        place, {[place](int k) { return fmt::format("/{}/{}", place.key(), k); },
                [place](int k) { return stick_numbers(place, k); }, [place](int k) { return stick_more(place, k); }});
}

const EditorOf sticks_kind(ParameterKind::sticks, sticks_editor);

}  // namespace

}  // namespace bricol
