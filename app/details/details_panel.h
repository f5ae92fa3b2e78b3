// SPDX-License-Identifier: GPL-3.0-or-later
// The one step in hand: purpose, inputs, numbers, findings.
#pragma once

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
    void add_header(const Step& step, const StepInfo* info);
    void add_name(const Step& step);
    void add_setting(const Step& step, const ParameterInfo& info);
    bool shown(const ParameterInfo& info, const Values& values) const;

    Session& session_;
    QScrollArea* scroll_;
    QWidget* body_ = nullptr;
    QVBoxLayout *rows_ = nullptr, *findings_ = nullptr;
    std::vector<std::function<void(const Values&)>> refreshers_;
    std::string built_for_;
    std::optional<std::vector<Finding>> shown_findings_;  ///< nothing: to be built anew
};

}  // namespace bricol
