// SPDX-License-Identifier: GPL-3.0-or-later
#include <QPushButton>

#include "app/kinds/editor.h"
#include "app/theme/text.h"

namespace bricol {

namespace {

Editor blocks_editor(const EditorPlace& place) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* open = new QPushButton("Open its own sheet", line);
    open->setObjectName("openBlocks");
    open->setToolTip(text_of(place.info.help));
    QObject::connect(open, &QPushButton::clicked, line, [place] {
        if (place.open_blocks) place.open_blocks(place.step);
    });
    row->addWidget(open);
    row->addStretch();
    return {line, [](const Values&) {}};
}

const EditorOf blocks_kind(ParameterKind::blocks, blocks_editor);

}  // namespace

}  // namespace bricol
