// SPDX-License-Identifier: GPL-3.0-or-later
// What is handed over, where to, and what came of it.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "app/handover/handover_job.h"

namespace bricol {

class HandoverPanel : public QWidget {
    Q_OBJECT
public:
    HandoverPanel(Session& session, QWidget* parent);
    HandoverJob& job() { return job_; }

private:
    QWidget* make_kinds();
    QWidget* make_shapes();
    QWidget* make_rest();
    QWidget* make_outcome();
    QCheckBox* add_check(QVBoxLayout* column, const QString& name, const QString& words, bool usual,
                         const QString& tip);
    QLineEdit* add_field(QGridLayout* grid, int row, const QString& label, const QString& name, const QString& usual,
                         const QString& tip);
    QComboBox* add_choice(QGridLayout* grid, int row, const QString& label, const QString& name,
                          const QList<std::pair<QString, QString>>& choices, const QString& tip);
    void choose_folder();
    void start_or_stop();
    /// What the fields say; nothing, and a line that says why, when one of them cannot be read.
    std::optional<HandoverWish> wish();
    void take(const std::shared_ptr<const HandoverReport>& report);
    void refresh();

    Session& session_;
    HandoverJob job_;
    std::vector<std::pair<std::string, QCheckBox*>> kinds_;
    QCheckBox *apart_, *light_, *values_, *joined_, *cages_, *presets_, *page_;
    QComboBox *pivot_, *collision_, *unit_, *up_;
    QLineEdit *folder_, *point_, *levels_, *collision_name_, *frames_;
    QSpinBox *most_, *rate_;
    QPushButton* start_;
    QLabel *words_, *problem_;
    QVBoxLayout* outcome_ = nullptr;
};

}  // namespace bricol
