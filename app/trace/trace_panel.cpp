// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/trace/trace_panel.h"

#include <QLabel>
#include <QPushButton>

#include "app/theme/small_parts.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"

namespace bricol {

namespace {}  // namespace

TracePanel::TracePanel(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("tracePanel");
    using theme::Role;
    setStyleSheet(QString("#tracePanel{background:%1;border:1px solid %2;border-radius:4px;}")
                      .arg(theme::color(Role::card).name(), theme::color(Role::line).name()));
    rows_ = new QVBoxLayout(this);
    rows_->setContentsMargins(10, 8, 10, 8);
    rows_->setSpacing(2);
    hide();
    connect(&session, &Session::recipeChanged, this, &TracePanel::forget);
}

TracePanel::~TracePanel() { stop(); }

void TracePanel::stop() {
    stop_ = true;
    if (thread_.joinable()) thread_.join();
    stop_ = false;
}

void TracePanel::forget() {
    ++asked_;
    stop();
    if (trace_.steps.empty() && !isVisible()) return;
    trace_ = {};
    hide();
    emit stepsFound({});
}

void TracePanel::trace(const std::string& part, const Vec3& spot) {
    if (!session_.made()) return;
    stop();
    const int asked = ++asked_;
    part_ = part;
    trace_ = trace_spot(session_.made_recipe(), *session_.made(), part, DVec3(spot));
    std::vector<std::string> here;
    for (const TracedStep& step : trace_.steps)
        if (step.part == session_.part()) here.push_back(step.step);
    emit stepsFound(here);
    show_trace(true);
    thread_ = std::thread([this, asked, part, spot, trace = trace_, recipe = session_.made_recipe(),
                           environment = session_.environment()]() mutable {
        MakeOptions options;
        options.environment = std::move(environment);
        options.stop = &stop_;
        Maker maker(std::size_t(256) << 20);
        find_moving_numbers(trace, recipe, part, DVec3(spot), maker, options);
        QMetaObject::invokeMethod(this, [this, asked, trace] {
            if (asked != asked_) return;
            trace_.numbers = trace.numbers;
            show_trace(false);
            emit numbersFound();
        });
    });
}

void TracePanel::show_trace(bool looking) {
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    const auto head = [&](const QString& text) {
        auto* label = new HeadLabel(text, this);
        rows_->addWidget(label);
    };
    const auto link = [&](const QString& text, const QString& tip, auto act) {
        auto* button = link_button(text, this);
        button->setCursor(Qt::PointingHandCursor);
        button->setToolTip(tip);
        button->setStyleSheet("text-align:left;");
        connect(button, &QPushButton::clicked, this, act);
        rows_->addWidget(button);
    };
    head("This spot");
    int n = 0;
    for (const TracedStep& step : trace_.steps) {
        if (++n > 12) break;
        const std::string part = step.part, id = step.step;
        link(QString("%1  %2 %3")
                 .arg(n)
                 .arg(QString::fromStdString(part == session_.part() ? id : part + "." + id),
                      text_of(trace_role_name(step.role))),
             "Choose this step", [this, part, id] { session_.choose(part, id); });
    }
    if (n > 12) rows_->addWidget(new QLabel(QString("and %1 more").arg(trace_.steps.size() - 12), this));
    rows_->addSpacing(4);
    head(looking ? "Trying its numbers…" : trace_.numbers.empty() ? "No number moves it" : "Moved by");
    n = 0;
    for (const TracedNumber& number : trace_.numbers) {
        if (++n > 8) break;
        const std::string unit = session_.recipe().unit;
        const QString text = QString("%1   %2").arg(
            QString::fromStdString(number.name),
            QString::fromStdString(format_value(number.moves, Quantity::length, number.moves < 0.1 ? "mm" : unit)));
        const std::string part = number.part, step = number.step;
        link(text,
             QString("%1 turned by %2 moves the spot this far")
                 .arg(QString::fromStdString(number.name), QString::fromStdString(format_number(number.change, 3))),
             [this, part, step] {
                 if (!step.empty()) session_.choose(part, step);
             });
    }
    auto* close = new QPushButton("Close", this);
    close->setObjectName("traceClose");
    connect(close, &QPushButton::clicked, this, &TracePanel::forget);
    rows_->addWidget(close, 0, Qt::AlignRight);
    setMinimumWidth(210);
    show();
    raise();
    adjustSize();
}

}  // namespace bricol
