// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/input_rows.h"

#include "app/kinds/editor.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"

namespace bricol {

void add_input_rows(Session& session, const Step& step, const StepInfo& info, QVBoxLayout* rows,
                    std::function<void()> refused) {
    const Part& part = *session.chosen_part();
    for (const InputInfo& input : info.inputs) {
        const std::string key(input.key);
        if (key == "shape" && !step.inputs.contains("shape") && info.inputs.size() == 1 &&
            step_index(part, step.id) > 0)
            continue;
        auto* line = new QWidget;
        auto* row = new QHBoxLayout(line);
        row->setContentsMargins(0, 0, 24, 0);
        auto* label = soft_label(text_of(input.label), line);
        row->addWidget(label, 1);
        auto* combo = new Combo(line);
        combo->setObjectName("input:" + QString::fromStdString(key));
        combo->setFixedWidth(112);
        combo->setFixedHeight(24);
        combo->setToolTip("What feeds this input: a step of this part, or another part's result");
        combo->addItem(key == "shape" && !stands_aside(step) && !starts_chain(step) ? "step before" : "nothing", "");
        if (key == "shape") combo->addItem("nothing", "-");
        for (const auto& other : part.steps)
            if (other->id != step.id && !stands_aside(*other))
                combo->addItem(QString::fromStdString(other->id), QString::fromStdString(other->id));
        for (const auto& other : session.recipe().parts)
            if (other->name != part.name)
                combo->addItem("part " + QString::fromStdString(other->name),
                               "part:" + QString::fromStdString(other->name));
        const auto link = step.inputs.find(key);
        combo->setCurrentIndex(std::max(
            0, link == step.inputs.end()
                   ? 0
                   : combo->findData(link->second.empty() ? QString("-") : QString::fromStdString(link->second))));
        QObject::connect(combo, &QComboBox::activated, line, [&session, refused, combo, key, id = step.id] {
            const std::string source = combo->currentData().toString().toStdString();
            if (!session.edit(source == "-" ? cut_input(session.recipe(), session.part(), id, key)
                                            : link_input(session.recipe(), session.part(), id, key, source),
                              "Link an input"))
                refused();
        });
        row->addWidget(combo);
        rows->addWidget(line);
    }
}

}  // namespace bricol
