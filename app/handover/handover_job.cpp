// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/handover/handover_job.h"

namespace bricol {

HandoverJob::HandoverJob(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const HandoverReport>>();
}

void HandoverJob::stop() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
    stop_ = busy_ = false;
}

void HandoverJob::start(const HandoverWish& wish) {
    stop();
    busy_ = true;
    thread_ = std::thread([this, wish] {
        MakeOptions making;
        making.environment = wish.environment;
        making.stop = &stop_;
        HandoverOrder order{wish.recipe, std::move(making), wish.folder};
        order.suffixes = wish.suffixes;
        order.apart = wish.apart;
        order.presets = wish.presets;
        order.page = wish.page;
        order.dressing = wish.dressing;
        order.options = wish.options;
        order.frames = wish.frames;
        order.progress = [this](const std::string& what) { emit progressed(QString::fromStdString(what)); };
        auto report = std::make_shared<const HandoverReport>(hand_over(order));
        busy_ = false;
        emit finished(std::move(report));
    });
}

}  // namespace bricol
