// SPDX-License-Identifier: GPL-3.0-or-later
// Where the recipe breaks when its dials are turned: one line a dial, what breaks together, every finding with a
// setting that shows it.
#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "app/trial/trial_job.h"
#include "app/variants/variant_maker.h"

namespace bricol {

class TrialPanel : public QWidget {
    Q_OBJECT
public:
    TrialPanel(Session& session, const std::function<void(const QString&)>& retitle, Renderer* renderer,
               QWidget* parent);
    TrialJob& job() { return job_; }
    const Trial* trial() const { return trial_.get(); }

private:
    QWidget* make_side();
    QVBoxLayout* make_list(QHBoxLayout* across, int share);
    void start_or_stop();
    void take(std::shared_ptr<const Trial> trial);
    void refresh();
    void add_dial_rows();
    void add_finding_rows();
    void add_finding(const QString& head, const QString& text, Severity severity, const WrittenDials& dials,
                     const QString& tip);
    /// Begins to make what is named again, for its pictures.
    void make_pictures();
    void take_picture(const VariantMade& made);
    void narrow(const std::string& only);
    void open(const WrittenDials& dials);

    Session& session_;
    std::function<void(const QString&)> retitle_;
    Renderer* renderer_;
    TrialJob job_;
    VariantMaker maker_;
    std::shared_ptr<const Trial> trial_;
    Recipe tried_;  ///< the recipe when it was tried
    QSpinBox *samples_, *seed_;
    QCheckBox* cautions_;
    QPushButton *start_, *narrow_all_;
    QProgressBar* bar_;
    QLabel* words_;
    QVBoxLayout *dials_, *findings_;
    std::vector<WrittenDials> named_;  ///< settings of what broke, in the order of the list
    std::vector<QLabel*> pictures_;    ///< and where their pictures stand
};

}  // namespace bricol
