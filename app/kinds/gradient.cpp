// SPDX-License-Identifier: GPL-3.0-or-later
#include <QVBoxLayout>

#include "app/kinds/editor.h"
#include "app/kinds/gradient_edit.h"

namespace bricol {

namespace {

Editor gradient_editor(const EditorPlace& place) {
    const ParameterInfo& p = place.info;
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 24, 2);
    column->addWidget(setting_label(p, box));
    auto* edit = new GradientEdit(box);
    edit->setObjectName("gradient:" + QString::fromStdString(place.key()));
    column->addWidget(edit);
    QObject::connect(edit, &GradientEdit::changed, box, [place](const Gradient& gradient, bool done) {
        Json stops = Json::array();
        for (const GradientStop& s : gradient.stops)
            stops.push_back(Json{{"at", s.at}, {"colour", {s.colour.x, s.colour.y, s.colour.z}}});
        Json written{{"stops", stops}};
        if (gradient.smooth) written["smooth"] = true;
        place.write(written, "gradient:" + QString::fromStdString(place.step + place.key()));
        if (done) place.session->part_edits();
    });
    const auto refresh = [edit, p](const Values& values) {
        if (const auto found = values.find(p.key); found != values.end())
            edit->show_gradient(std::get<Gradient>(found->second));
    };
    return {box, refresh};
}

const EditorOf gradient_kind(ParameterKind::gradient, gradient_editor);

}  // namespace

}  // namespace bricol
