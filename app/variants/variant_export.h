// SPDX-License-Identifier: GPL-3.0-or-later
// Writes variants to a folder beside the window.
#pragma once

#include <QObject>
#include <atomic>
#include <thread>

#include "core/files/variant_folder.h"

namespace bricol {

class VariantExport : public QObject {
    Q_OBJECT
public:
    explicit VariantExport(QObject* parent = nullptr) : QObject(parent) {}
    ~VariantExport() override { stop(); }

    void start(const Recipe& recipe, const Environment& environment, const VariantPlan& plan, const QString& folder);
    void stop();
    bool busy() const { return busy_; }

signals:
    void progressed(int done, int of);
    void finished(const QString& words, bool failed);

private:
    std::atomic<bool> stop_ = false, busy_ = false;
    std::thread thread_;
};

}  // namespace bricol
