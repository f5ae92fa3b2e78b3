// SPDX-License-Identifier: GPL-3.0-or-later
// A hand-over beside the window.
#pragma once

#include <QObject>
#include <atomic>
#include <memory>
#include <thread>

#include "core/files/handover.h"

namespace bricol {

/// What a hand-over is asked for, with everything it needs while the recipe changes on.
struct HandoverWish {
    Recipe recipe;
    Environment environment;
    std::string folder;
    std::vector<std::string> suffixes;
    bool apart = false, presets = false, page = false;
    Dressing dressing;
    ExportOptions options;
    std::optional<FrameRange> frames;
};

class HandoverJob : public QObject {
    Q_OBJECT
public:
    explicit HandoverJob(QObject* parent = nullptr);
    ~HandoverJob() override { stop(); }
    void start(const HandoverWish& wish);
    void stop();
    bool busy() const { return busy_; }

signals:
    void progressed(const QString& what);
    void finished(std::shared_ptr<const bricol::HandoverReport> report);

private:
    std::atomic<bool> stop_ = false, busy_ = false;
    std::thread thread_;
};

}  // namespace bricol

Q_DECLARE_METATYPE(std::shared_ptr<const bricol::HandoverReport>)
