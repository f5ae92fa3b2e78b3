// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCheckBox>
#include <QVBoxLayout>

#include "app/kinds/editor.h"
#include "app/kinds/ramp_edit.h"

namespace bricol {

namespace {

Editor ramp_editor(const EditorPlace& place) {
    const ParameterInfo& p = place.info;
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 24, 2);
    auto* head = new QHBoxLayout;
    head->addWidget(setting_label(p, box), 1);
    auto* eased = new QCheckBox("smooth", box);
    eased->setObjectName("smooth:" + QString::fromStdString(place.key()));
    head->addWidget(eased);
    column->addLayout(head);
    auto* edit = new RampEdit(box);
    edit->setObjectName("ramp:" + QString::fromStdString(place.key()));
    column->addWidget(edit);
    const auto write = [place](const DrawnRamp& ramp, bool done) {
        Json knots = Json::array();
        for (const RampKnot& k : ramp.knots) knots.push_back({k.at, k.value});
        place.write(Json{{"knots", knots}, {"smooth", ramp.smooth}},
                    "ramp:" + QString::fromStdString(place.step + place.key()));
        if (done) place.session->part_edits();
    };
    QObject::connect(edit, &RampEdit::changed, box, write);
    QObject::connect(eased, &QCheckBox::clicked, box, [write, edit](bool on) {
        DrawnRamp ramp = edit->ramp();
        ramp.smooth = on;
        write(ramp, true);
    });
    const auto refresh = [edit, eased, p](const Values& values) {
        const auto found = values.find(p.key);
        if (found == values.end()) return;
        edit->show_ramp(std::get<DrawnRamp>(found->second));
        eased->setChecked(std::get<DrawnRamp>(found->second).smooth);
    };
    return {box, refresh};
}

const EditorOf ramp_kind(ParameterKind::ramp, ramp_editor);

}  // namespace

}  // namespace bricol
