// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/variant_maker.h"

#include "core/inspect/told.h"
#include "core/inspect/tries.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

constexpr int most_undrawn = 48;

VariantMade seen_of(const Recipe& turned, const Made& made) {
    VariantMade out;
    out.dials = dials_of(turned);
    out.shapes = delivered_shapes(turned, made);
    out.faces = made.faces(turned);
    out.over_budget = turned.budget > 0 && out.faces > turned.budget;
    out.milliseconds = made.milliseconds;
    each_told(
        turned, made, [&](const std::string& part, const std::string& step, const std::vector<Finding>& findings) {
            const std::string where = part.empty() ? "recipe" : step.empty() ? part : part + "." + step;
            for (const Finding& finding : findings) {
                if (finding.severity == Severity::note) continue;
                ++(finding.severity == Severity::error ? out.errors : out.cautions);
                if (out.errors + out.cautions <= 6)
                    out.findings +=
                        QString("%1: %2\n").arg(QString::fromStdString(where), QString::fromStdString(finding.text));
            }
        });
    return out;
}

}  // namespace

VariantMaker::VariantMaker(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const VariantMade>>();
}

VariantMaker::~VariantMaker() { stop(); }

void VariantMaker::stop() {
    {
        const std::scoped_lock lock(mutex_);
        stop_ = true;
    }
    room_.notify_all();
    if (thread_.joinable()) thread_.join();
    stop_ = busy_ = false;
}

void VariantMaker::seen() {
    {
        const std::scoped_lock lock(mutex_);
        --undrawn_;
    }
    room_.notify_one();
}

void VariantMaker::prefer(const std::vector<std::size_t>& numbers) {
    const std::scoped_lock lock(mutex_);
    preferred_.assign(numbers.begin(), numbers.end());
}

std::size_t VariantMaker::next() {
    const std::scoped_lock lock(mutex_);
    while (!preferred_.empty()) {
        const std::size_t number = preferred_.front();
        preferred_.pop_front();
        if (number >= taken_.size() || taken_[number]) continue;
        taken_[number] = true;
        return number;
    }
    while (from_ < taken_.size() && taken_[from_]) ++from_;
    if (from_ < taken_.size()) taken_[from_] = true;
    return from_;
}

void VariantMaker::start(const Recipe& recipe, const Environment& environment, const VariantPlan& plan) {
    stop();
    const int run = ++run_;
    taken_.assign(plan.count, false);
    preferred_.clear();
    from_ = 0;
    undrawn_ = 0;
    busy_ = true;
    thread_ = std::thread([this, recipe, environment, plan, run] {
        // Which setting a making is of is decided when it begins, by what is in sight then.
        std::mutex numbers_mutex;
        std::vector<std::size_t> numbers(plan.count);
        TriesOrder order{recipe, {}, plan.count, {}, {}, {}};
        order.making.environment = environment;
        order.making.stop = &stop_;
        order.at = [&](std::size_t i) {
            const std::size_t number = next();
            const std::scoped_lock lock(numbers_mutex);
            numbers[i] = number;
            return plan.at(number);
        };
        order.done = [&](std::size_t i, const Recipe& turned, const Result<Made>& result) {
            auto variant = std::make_shared<VariantMade>(result ? seen_of(turned, *result) : VariantMade{});
            if (!result) variant->errors = 1, variant->findings = QString::fromStdString(result.problem().text());
            {
                const std::scoped_lock lock(numbers_mutex);
                variant->number = numbers[i];
            }
            {
                std::unique_lock lock(mutex_);
                room_.wait(lock, [&] { return undrawn_ < most_undrawn || stop_; });
                ++undrawn_;
            }
            emit made(variant, run);
        };
        Tries().run(order);
        busy_ = false;
        emit finished(run);
    });
}

}  // namespace bricol
