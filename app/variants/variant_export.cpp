// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/variant_export.h"

namespace bricol {

void VariantExport::stop() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
    stop_ = busy_ = false;
}

void VariantExport::start(const Recipe& recipe, const Environment& environment, const VariantPlan& plan,
                          const QString& folder) {
    stop();
    busy_ = true;
    thread_ = std::thread([this, recipe, environment, plan, out = folder.toStdString()] {
        MakeOptions making;  // by name: GCC 12 takes a nameless one here for uninitialised
        VariantOrder order{recipe, std::move(making), plan, out};
        order.making.environment = environment;
        order.making.stop = &stop_;
        order.progress = [this](std::size_t done, std::size_t of) {
            emit progressed(static_cast<int>(done), static_cast<int>(of));
        };
        const VariantsReport done = write_variants(order);
        QString words;
        if (done.problem) {
            words = QString::fromStdString(done.problem->text());
        } else if (const auto gathered = gather_variants(out); !gathered) {
            words = QString::fromStdString(gathered.problem().text());
        } else {
            words = QString("%1 written, %2 were there, %3 broken%4. The index lies beside them.")
                        .arg(done.made)
                        .arg(done.kept)
                        .arg(done.broken)
                        .arg(done.stopped ? ", stopped" : "");
        }
        busy_ = false;
        emit finished(words, done.problem.has_value());
    });
}

}  // namespace bricol
