// SPDX-License-Identifier: GPL-3.0-or-later
// The one step in hand: purpose, inputs, numbers, findings.
#pragma once

#include <QComboBox>
#include <QFrame>
#include <QScrollArea>
#include <QVBoxLayout>
#include <functional>

#include "app/document/session.h"

namespace bricol {

class DetailsPanel : public QFrame {
    Q_OBJECT
public:
    explicit DetailsPanel(Session& session, QWidget* parent = nullptr);

signals:
    void showPlaces(const std::vector<bricol::Vec3>& places);
    void blocksWanted(const std::string& step);

private:
    void rebuild();
    void refresh();
    void rebuild_findings();
    void rebuild_knots();
    void add_header(const Step& step, const StepInfo* info);
    void add_inputs(const Step& step, const StepInfo& info);
    void add_parameter(const Step& step, const ParameterInfo& info);
    void add_choice(const Step& step, const ParameterInfo& info);
    void add_text(const Step& step, const ParameterInfo& info);
    void add_places(const Step& step, const ParameterInfo& info);
    std::vector<std::string> sets_before(const Step& step) const;
    bool shown(const ParameterInfo& info, const Values& values) const;

    Session& session_;
    QScrollArea* scroll_;
    QWidget* body_ = nullptr;
    QVBoxLayout *rows_ = nullptr, *findings_ = nullptr, *knots_ = nullptr;
    std::vector<std::function<void(const Values&)>> refreshers_;
    std::string built_for_;
    std::optional<std::vector<Finding>> shown_findings_;  ///< nothing: to be built anew
};

/// Lines for findings with their remedy and "show"; used by the details and by the list of all findings.
QWidget* finding_card(Session& session, const std::string& part, const std::string& step, const Finding& finding,
                      std::function<void(const std::vector<Vec3>&)> show, QWidget* parent);

}  // namespace bricol
