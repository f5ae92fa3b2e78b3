// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/trial/trial_job.h"

namespace bricol {

TrialJob::TrialJob(QObject* parent) : QObject(parent) { qRegisterMetaType<std::shared_ptr<const Trial>>(); }

void TrialJob::stop() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
    stop_ = busy_ = false;
}

void TrialJob::start(const Recipe& recipe, const Environment& environment, const TrialOrder& order) {
    stop();
    busy_ = true;
    const int run = ++run_;
    thread_ = std::thread([this, recipe, environment, order, run] {
        MakeOptions making;
        making.environment = environment;
        making.stop = &stop_;
        const Trial trial = try_dials(recipe, making, order, [this, run](double share, const std::string& what) {
            emit progressed(share, QString::fromStdString(what), run);
        });
        busy_ = false;
        emit finished(std::make_shared<const Trial>(trial), run);
    });
}

}  // namespace bricol
