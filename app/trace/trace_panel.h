// SPDX-License-Identifier: GPL-3.0-or-later
// What a trace found: the steps in order, and the numbers that move the spot.
#pragma once

#include <QFrame>
#include <QVBoxLayout>
#include <thread>

#include "app/document/session.h"
#include "core/inspect/trace.h"

namespace bricol {

class TracePanel : public QFrame {
    Q_OBJECT
public:
    explicit TracePanel(Session& session, QWidget* parent = nullptr);
    ~TracePanel() override;
    /// Traces a spot of the made shape; steps at once, numbers when they have been tried on a thread of their own.
    void trace(const std::string& part, const Vec3& spot);
    void forget();
    const Trace& found() const { return trace_; }

signals:
    void stepsFound(const std::vector<std::string>& steps);
    void numbersFound();

private:
    void show_trace(bool looking);
    void stop();
    Session& session_;
    QVBoxLayout* rows_;
    Trace trace_;
    std::string part_;
    std::thread thread_;
    std::atomic<bool> stop_ = false;
    int asked_ = 0;
};

}  // namespace bricol
