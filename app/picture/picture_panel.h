// SPDX-License-Identifier: GPL-3.0-or-later
// Cameras, lights and backdrop as a list, and finished pictures of them.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/picture/picture_job.h"
#include "app/picture/stage_edits.h"
#include "app/viewport/viewport.h"

namespace bricol {

class PicturePanel : public QWidget {
    Q_OBJECT
public:
    PicturePanel(Session& session, Viewport& viewport, QWidget* parent);

    PictureJob& job() { return job_; }
    void take_picture(const QString& file);
    void take_row(const QString& out, int frames);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    QWidget* make_list();
    QWidget* make_taking();
    QLayout* make_guides();
    QPushButton* push(const char* name, const char* text, const char* tip, std::function<void()> run);
    QCheckBox* check(const char* name, const char* text, const char* tip);
    QWidget* make_progress();
    void refresh();
    QWidget* row_of(const StageRow& row);
    void add(const StepInfo& info);
    void switch_on(const StageName& name, bool on);
    void aim_by_click();
    void set_out_lights();
    void ask_for_picture();
    void ask_for_row();
    StillOrder order() const;
    RowOrder row_order(int frames) const;
    void begin_progress(const QString& words);

    Session& session_;
    Viewport& viewport_;
    PictureJob job_;
    QVBoxLayout* rows_ = nullptr;
    std::vector<StageRow> shown_;
    StageName chosen_shown_;
    std::optional<StageName> through_shown_;
    std::string alone_shown_;
    bool filled_ = false;
    QLabel *standard_, *thumbnail_, *words_;
    QPushButton *set_out_, *aim_, *from_view_, *stop_;
    QComboBox *camera_, *turn_;
    QSpinBox *samples_, *noise_, *frames_, *rate_, *width_, *height_;
    QCheckBox *thirds_, *margin_, *dark_, *plain_;
    QProgressBar* bar_;
};

}  // namespace bricol
