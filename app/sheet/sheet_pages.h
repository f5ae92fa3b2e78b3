// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet of a part, and in its place the sheet of a mixer that was opened.
#pragma once

#include <QStackedWidget>

#include "app/sheet/mixer_sheet.h"
#include "app/sheet/step_sheet.h"

namespace bricol {

class SheetPages : public QStackedWidget {
    Q_OBJECT
public:
    SheetPages(Session& session, QWidget* parent);
    StepSheet& steps() { return *steps_; }
    MixerSheet& mixer() { return *mixer_; }
    /// The part's own sheet is in front.
    bool on_steps() const { return currentWidget() == steps_; }
    void open_mixer(const std::string& step);
    /// Gives the keyboard to the sheet in front.
    void take_focus();

signals:
    void shown();  ///< a mixer was opened and wants to be seen

private:
    Session& session_;
    StepSheet* steps_;
    MixerSheet* mixer_;
};

}  // namespace bricol
