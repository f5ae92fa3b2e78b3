// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/sheet_pages.h"

namespace bricol {

SheetPages::SheetPages(Session& session, QWidget* parent)
    : QStackedWidget(parent),
      session_(session),
      steps_(new StepSheet(session, this)),
      mixer_(new MixerSheet(session, this)) {
    addWidget(steps_);
    addWidget(mixer_);
    connect(steps_, &StepSheet::mixerWanted, this, &SheetPages::open_mixer);
    connect(mixer_, &MixerSheet::closeWanted, this, [this] { setCurrentWidget(steps_); });
    connect(&session, &Session::choiceChanged, this, [this] {
        if (session_.step() != mixer_->graph().step()) setCurrentWidget(steps_);
    });
}

void SheetPages::open_mixer(const std::string& step) {
    mixer_->show_step(session_.part(), step);
    setCurrentWidget(mixer_);
    emit shown();
}

void SheetPages::take_focus() { on_steps() ? steps_->setFocus() : mixer_->graph().setFocus(); }

}  // namespace bricol
