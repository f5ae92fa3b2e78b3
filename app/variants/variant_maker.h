// SPDX-License-Identifier: GPL-3.0-or-later
// Makes variants beside the window, those in sight first.
#pragma once

#include <QObject>
#include <atomic>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

#include "app/viewport/shape_picture.h"
#include "core/inspect/variant_plan.h"

namespace bricol {

/// What is shown of one variant besides its picture.
struct VariantMade {
    std::size_t number = 0;
    WrittenDials dials;  ///< all of the recipe's
    PartShapes shapes;   ///< let go once the picture is drawn
    std::size_t faces = 0;
    bool over_budget = false;
    int errors = 0, cautions = 0;
    QString findings;  ///< a line each, for the tooltip
    double milliseconds = 0;
};

class VariantMaker : public QObject {
    Q_OBJECT
public:
    explicit VariantMaker(QObject* parent = nullptr);
    ~VariantMaker() override;

    /// Begins with the settings of a plan; what is at work ends. Signals of an earlier run that come late have another
    /// run number.
    void start(const Recipe& recipe, const Environment& environment, const VariantPlan& plan);
    /// These are wanted next, the first of them first.
    void prefer(const std::vector<std::size_t>& numbers);
    /// One that was handed out is drawn, and its shapes let go. Making waits while many are not: shapes of a thousand
    /// variants would fill the memory where drawing is slower than making.
    void seen();
    void stop();
    bool busy() const { return busy_; }
    int run() const { return run_; }

signals:
    void made(std::shared_ptr<const bricol::VariantMade> variant, int run);
    void finished(int run);

private:
    std::size_t next();

    std::mutex mutex_;
    std::condition_variable room_;
    int undrawn_ = 0;
    std::deque<std::size_t> preferred_;
    std::vector<bool> taken_;
    std::size_t from_ = 0;  ///< all before were taken
    std::atomic<bool> stop_ = false, busy_ = false;
    int run_ = 0;
    std::thread thread_;
};

}  // namespace bricol

Q_DECLARE_METATYPE(std::shared_ptr<const bricol::VariantMade>)
