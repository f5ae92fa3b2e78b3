// SPDX-License-Identifier: GPL-3.0-or-later
// A trial run beside the window.
#pragma once

#include <QObject>
#include <atomic>
#include <memory>
#include <thread>

#include "core/inspect/trial.h"

namespace bricol {

class TrialJob : public QObject {
    Q_OBJECT
public:
    explicit TrialJob(QObject* parent = nullptr);
    ~TrialJob() override { stop(); }
    void start(const Recipe& recipe, const Environment& environment, const TrialOrder& order);
    void stop();
    bool busy() const { return busy_; }
    int run() const { return run_; }

signals:
    void progressed(double share, const QString& what, int run);
    void finished(std::shared_ptr<const bricol::Trial> trial, int run);

private:
    std::atomic<bool> stop_ = false, busy_ = false;
    int run_ = 0;
    std::thread thread_;
};

}  // namespace bricol

Q_DECLARE_METATYPE(std::shared_ptr<const bricol::Trial>)
