// SPDX-License-Identifier: GPL-3.0-or-later
// The actions of a tool as two short columns of buttons over the picture.
#pragma once

#include <QFrame>
#include <QGridLayout>
#include <QToolButton>
#include <vector>

#include "app/theme/theme.h"
#include "app/viewport/tool_action.h"

namespace bricol {

template <class Tool>
class ToolBar : public QFrame {
public:
    ToolBar(const QString& name, Tool& tool, std::span<const ToolAction<Tool>> actions, QWidget* parent)
        : QFrame(parent), tool_(tool) {
        setObjectName(name);
        setCursor(Qt::ArrowCursor);
        grid_ = new QGridLayout(this);
        grid_->setContentsMargins(0, 0, 0, 0);
        grid_->setSpacing(3);
        for (const auto& action : actions)
            if (action.name) add(action);
    }
    /// Shows what is on and what can be done.
    void refresh() {
        for (const auto& [action, button] : buttons_) {
            button->setEnabled(!action->enabled || action->enabled(tool_));
            if (action->on) button->setChecked(action->on(tool_));
        }
        adjustSize();
    }
    /// Puts a widget of its own over both columns, in front of the button of this name.
    void insert(QWidget* widget, const QString& before) {
        std::vector<QWidget*> later;
        for (const auto& [action, button] : buttons_)
            if (!later.empty() || button->objectName() == before) later.push_back(button);
        for (QWidget* button : later) grid_->removeWidget(button);
        place_ -= static_cast<int>(later.size());
        place_ += place_ % 2;
        grid_->addWidget(widget, place_ / 2, 0, 1, 2, Qt::AlignLeft);
        place_ += 2;
        for (QWidget* button : later) put(button);
    }

private:
    void add(const ToolAction<Tool>& action) {
        auto* button = new QToolButton(this);
        button->setObjectName(action.name);
        button->setIcon(theme::glyph_icon(action.glyph, 18));
        button->setIconSize({18, 18});
        const QString key = key_text(action.key);
        button->setToolTip(key.isEmpty() ? QString::fromUtf8(action.words)
                                         : QString::fromUtf8(action.words) + " (" + key + ")");
        button->setCheckable(action.on != nullptr);
        button->setFocusPolicy(Qt::NoFocus);
        connect(button, &QToolButton::clicked, this, [this, run = action.run] {
            run(tool_);
            refresh();
        });
        buttons_.emplace_back(&action, button);
        put(button);
    }
    void put(QWidget* button) {
        grid_->addWidget(button, place_ / 2, place_ % 2, Qt::AlignLeft);
        ++place_;
    }

    Tool& tool_;
    QGridLayout* grid_;
    std::vector<std::pair<const ToolAction<Tool>*, QToolButton*>> buttons_;
    int place_ = 0;
};

}  // namespace bricol
