// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/variants_panel.h"

#include <QFileDialog>
#include <QMenu>
#include <QVBoxLayout>
#include <fmt/format.h>

#include "app/panels/panel.h"
#include "app/theme/small_parts.h"
#include "app/theme/text.h"
#include "app/viewport/viewport.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

constexpr std::size_t most_in_sheet = 100000, more_at_once = 24, between_at_once = 7;
constexpr double near_share = 0.12;

/// A dial's value as the sheet tells it, to three digits in the recipe's unit.
QString short_value(const Recipe& recipe, const Dial& dial) {
    if (dial.kind != DialKind::number) return QString::fromStdString(dial_words(dial));
    if (dial.unit == "m") {
        const auto unit = field_unit(recipe.unit, dial.high);
        return QString("%1 %2").arg(
            QString::fromStdString(format_number(shown_value(dial.value, Quantity::length, unit), 3)), text_of(unit));
    }
    return QString::fromStdString(format_number(dial.value, 3)) + (dial.unit == "deg" ? "°" : "");
}

/// The values of what varies: "girth 94 cm  sides 32".
QString words_of(const Recipe& recipe, const WrittenDials& dials) {
    QStringList words;
    for (const Dial& dial : recipe.dials) {
        const auto written = dials.find(dial.name);
        if (written == dials.end()) continue;
        const auto there = turned(dial, written->second, Outside::held);
        if (there)
            words << QString::fromStdString(dial.name).replace('_', ' ') + QChar(0xA0) +
                         short_value(recipe, *there).replace(' ', QChar(0xA0));
    }
    return words.join("  ");
}

/// Whether what steps say is the same: variants of it still show what the recipe makes.
bool same_but_for_dials(const Recipe& a, const Recipe& b) {
    Recipe without = b;
    without.dials = a.dials;
    without.presets = a.presets;
    return same(a, without);
}

}  // namespace

VariantsPanel::VariantsPanel(Session& session, Renderer* renderer, QWidget* parent)
    : QWidget(parent), session_(session) {
    setObjectName("variantsPanel");
    auto* across = new QHBoxLayout(this);
    across->setContentsMargins(12, 8, 4, 4);
    across->setSpacing(12);
    across->addWidget(make_side());
    auto* right = new QVBoxLayout;
    right->setSpacing(4);
    right->addLayout(make_bar());
    pages_ = new QStackedWidget(this);
    sheet_ = new VariantSheet(renderer, pages_);
    compare_ = new CompareView(renderer, pages_);
    pages_->addWidget(sheet_);
    pages_->addWidget(compare_);
    right->addWidget(pages_, 1);
    across->addLayout(right, 1);
    connect(order_, &QComboBox::activated, this,
            [this](int order) { sheet_->set_order(static_cast<VariantOrderOf>(order)); });
    connect(&maker_, &VariantMaker::made, this, &VariantsPanel::take);
    connect(&maker_, &VariantMaker::finished, this, [this](int run) {
        if (run == maker_.run()) refresh();
    });
    connect(sheet_, &VariantSheet::sightChanged, this, [this] { maker_.prefer(sheet_->in_sight()); });
    connect(sheet_, &VariantSheet::chosenChanged, this, &VariantsPanel::refresh);
    connect(sheet_, &VariantSheet::drawn, this, [this] { maker_.seen(); });
    connect(&comparing_, &VariantMaker::made, this, &VariantsPanel::take_compared);
    connect(sheet_, &VariantSheet::openWanted, this, &VariantsPanel::open_as_dials);
    connect(sheet_, &VariantSheet::pinWanted, this, &VariantsPanel::pin);
    connect(sheet_, &VariantSheet::menuWanted, this, [this](std::size_t, const QPoint& at) { open_menu(at); });
    connect(compare_, &CompareView::left, this, [this] {
        pages_->setCurrentWidget(sheet_);
        refresh();
    });
    connect(&export_, &VariantExport::progressed, this,
            [this](int done, int of) { words_->setText(QString("%1 of %2 written").arg(done).arg(of)); });
    connect(&export_, &VariantExport::finished, this, [this](const QString& words, bool failed) {
        session_.say(words, failed);
        refresh();
    });
    connect(&session, &Session::recipeChanged, this, &VariantsPanel::refresh);
    connect(&session, &Session::opened, this, [this] {
        maker_.stop();
        comparing_.stop();
        sheet_->set_cells({}, 0);
        refresh();
    });
    refresh();
}

QPushButton* VariantsPanel::push(const char* name, const QString& text, const QString& tip,
                                 void (VariantsPanel::*run)()) {
    auto* button = new QPushButton(text, this);
    button->setObjectName(name);
    button->setToolTip(tip);
    connect(button, &QPushButton::clicked, this, run);
    return button;
}

QWidget* VariantsPanel::make_side() {
    auto* side = new QWidget(this);
    side->setFixedWidth(210);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 4);
    column->setSpacing(6);
    settings_ = new VariantSettings(session_, side);
    column->addWidget(settings_, 1);
    words_ = soft_lines("", side);
    column->addWidget(words_);
    make_ = push("variantsMake", "Make", "Makes the variants behind the window, those in sight first",
                 &VariantsPanel::make_or_stop);
    column->addWidget(make_);
    return side;
}

QLayout* VariantsPanel::make_bar() {
    auto* bar = new QHBoxLayout;
    bar->setSpacing(5);
    pin_ = push("variantsPin", "Pin", "Keeps the chosen ones as presets of the recipe", &VariantsPanel::pin_chosen);
    out_ = push("variantsOut", "Throw out", "Takes the chosen ones off the sheet", &VariantsPanel::throw_out);
    more_ = push("variantsMore", "More like this", "Variants near the chosen one", &VariantsPanel::more_like_this);
    between_ = push("variantsBetween", "Between these", "Variants on the way from one to the other",
                    &VariantsPanel::between_these);
    side_by_side_ =
        push("variantsCompare", "Compare", "Two or three side by side under one camera", &VariantsPanel::compare);
    open_ = push("variantsOpen", "Open", "Turns the recipe's dials to the chosen one", &VariantsPanel::open_chosen);
    export_button_ = push("variantsExport", "Export…", "Writes files of all, or of the pinned ones, to a folder",
                          &VariantsPanel::ask_export);
    for (QPushButton* button : {open_, pin_, out_, more_, between_, side_by_side_}) bar->addWidget(button);
    bar->addStretch();
    order_ = new QComboBox(this);
    order_->setObjectName("variantsOrder");
    order_->addItems({"as made", "findings first", "heaviest first"});
    order_->setToolTip("Order of the sheet");
    bar->addWidget(order_);
    bar->addWidget(export_button_);
    return bar;
}

void VariantsPanel::make_or_stop() {
    if (export_.busy()) {
        export_.stop();
    } else if (maker_.busy()) {
        maker_.stop();
    } else {
        const auto plan = settings_->plan();
        if (!plan) {
            session_.say(QString::fromStdString(plan.problem().text()), true);
            return;
        }
        make(*plan);
    }
    refresh();
}

void VariantsPanel::make(const VariantPlan& plan) {
    if (plan.count > most_in_sheet) {
        session_.say(QString("The sheet holds up to %1 variants; `bricol variants` makes more.").arg(most_in_sheet),
                     true);
        return;
    }
    made_of_ = session_.recipe();
    done_ = broken_ = 0;
    std::vector<VariantCell> cells(plan.count);
    for (std::size_t i = 0; i < plan.count; ++i) {
        cells[i].dials = plan.at(i);
        cells[i].words = words_of(made_of_, cells[i].dials);
    }
    sheet_->set_cells(std::move(cells), made_of_.budget);
    pages_->setCurrentWidget(sheet_);
    maker_.start(made_of_, session_.environment(), plan);
    maker_.prefer(sheet_->in_sight());
    refresh();
}

void VariantsPanel::take(const std::shared_ptr<const VariantMade>& made, int run) {
    if (run != maker_.run()) return;
    ++done_;
    broken_ += made->errors > 0;
    sheet_->take(made);
    refresh();
}

void VariantsPanel::refresh() {
    const std::size_t chosen = sheet_->chosen().size(), count = sheet_->cells().size();
    pin_->setEnabled(chosen > 0);
    const auto thrown_out = std::ranges::count_if(sheet_->cells(), &VariantCell::thrown_out);
    const bool brings_back = chosen == 0 && thrown_out > 0;
    out_->setEnabled(chosen > 0 || brings_back);
    out_->setText(brings_back ? "Bring back" : "Throw out");
    out_->setToolTip(brings_back ? "Puts what was thrown out onto the sheet again"
                                 : "Takes the chosen ones off the sheet");
    more_->setEnabled(chosen == 1);
    between_->setEnabled(chosen == 2);
    side_by_side_->setEnabled(chosen == 2 || chosen == 3 || pages_->currentWidget() == compare_);
    side_by_side_->setText(pages_->currentWidget() == compare_ ? "Back to the sheet" : "Compare");
    open_->setEnabled(chosen == 1);
    export_button_->setEnabled(count > 0 && !export_.busy());
    make_->setText(maker_.busy() || export_.busy() ? "Stop" : "Make");
    if (export_.busy()) return;
    QString words;
    if (count > 0) {
        words = QString("%1 of %2 made").arg(done_).arg(count);
        if (broken_) words += QString(", %1 broken").arg(broken_);
        if (thrown_out > 0) words += QString(", %1 thrown out").arg(thrown_out);
        if (!same_but_for_dials(made_of_, session_.recipe()))
            words += ". The recipe has changed since: make them again";
    }
    words_->setText(words);
}

WrittenDials VariantsPanel::whole(std::size_t number) const {
    WrittenDials dials = dials_of(made_of_);
    for (const auto& [name, written] : sheet_->cells()[number].dials) dials[name] = written;
    return dials;
}

void VariantsPanel::open_as_dials(std::size_t number) {
    session_.edit(with_dials(session_.recipe(), whole(number), Outside::held), "Open a variant");
    session_.part_edits();
}

void VariantsPanel::open_chosen() {
    if (sheet_->chosen().size() == 1) open_as_dials(*sheet_->chosen().begin());
}

void VariantsPanel::pin(std::size_t number) {
    VariantCell& cell = sheet_->cells()[number];
    if (!cell.preset.empty()) {
        // Somebody may have renamed or removed it among the dials: then it is theirs.
        if (session_.recipe().preset(cell.preset))
            session_.edit(remove_preset(session_.recipe(), cell.preset), "Unpin a variant");
        cell.preset.clear();
    } else {
        std::string name = fmt::format("Variant {}", number + 1);
        for (int n = 2; session_.recipe().preset(name); ++n) name = fmt::format("Variant {}, {}", number + 1, n);
        if (session_.edit(keep_preset(session_.recipe(), name, whole(number)), "Pin a variant")) cell.preset = name;
    }
    sheet_->refresh();
}

void VariantsPanel::pin_chosen() {
    for (const std::size_t number : sheet_->chosen())
        if (sheet_->cells()[number].preset.empty()) pin(number);
}

void VariantsPanel::throw_out() {
    if (sheet_->chosen().empty())
        for (VariantCell& cell : sheet_->cells()) cell.thrown_out = false;
    for (const std::size_t number : sheet_->chosen()) sheet_->cells()[number].thrown_out = true;
    sheet_->choose({});
    sheet_->refresh();
    refresh();
}

void VariantsPanel::more_like_this() {
    if (sheet_->chosen().size() != 1) return;
    const VariantCell& cell = sheet_->cells()[*sheet_->chosen().begin()];
    make(near_plan(session_.recipe(), cell.dials, more_at_once, near_share, *sheet_->chosen().begin() + 1));
}

void VariantsPanel::between_these() {
    if (sheet_->chosen().size() != 2) return;
    const VariantCell &from = sheet_->cells()[*sheet_->chosen().begin()],
                      &to = sheet_->cells()[*sheet_->chosen().rbegin()];
    make(between_plan(session_.recipe(), from.dials, to.dials, between_at_once));
}

/// Their shapes were let go when their pictures were drawn: they are made again, behind the window.
void VariantsPanel::compare() {
    comparing_.stop();
    if (pages_->currentWidget() == compare_) {
        pages_->setCurrentWidget(sheet_);
        refresh();
        return;
    }
    compared_.clear();
    auto settings = std::make_shared<std::vector<WrittenDials>>();
    for (const std::size_t number : sheet_->chosen()) {
        compared_.push_back({QString("%1:  %2").arg(number + 1).arg(sheet_->cells()[number].words), {}});
        settings->push_back(sheet_->cells()[number].dials);
    }
    comparing_.start(made_of_, session_.environment(),
                     {settings->size(), {}, [settings](std::size_t i) { return (*settings)[i]; }});
    pages_->setCurrentWidget(compare_);
    refresh();
}

void VariantsPanel::take_compared(const std::shared_ptr<const VariantMade>& made, int run) {
    if (run != comparing_.run() || made->number >= compared_.size()) return;
    compared_[made->number].shapes = made->shapes;
    compare_->show_shapes(compared_);
}

void VariantsPanel::ask_export() {
    const bool any_pinned =
        std::ranges::any_of(sheet_->cells(), [](const VariantCell& cell) { return !cell.preset.empty(); });
    auto* menu = new QMenu(this);
    menu->setObjectName("variantsExportMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto ask = [this](bool pinned) {
        const QString folder =
            QFileDialog::getExistingDirectory(this, "An empty folder, or one with variants", session_.folder());
        if (!folder.isEmpty()) export_to(folder, pinned);
    };
    menu->addAction("All on the sheet…", this, [ask] { ask(false); });
    menu->addAction("The pinned ones…", this, [ask] { ask(true); })->setEnabled(any_pinned);
    menu->popup(export_button_->mapToGlobal(QPoint(0, export_button_->height())));
}

void VariantsPanel::export_to(const QString& folder, bool pinned) {
    auto settings = std::make_shared<std::vector<WrittenDials>>();
    VariantPlan plan;
    for (const std::size_t number : sheet_->shown()) {
        const VariantCell& cell = sheet_->cells()[number];
        if (pinned && cell.preset.empty()) continue;
        settings->push_back(cell.dials);
        for (const auto& [name, written] : cell.dials)
            if (std::ranges::find(plan.dials, name) == plan.dials.end()) plan.dials.push_back(name);
    }
    plan.count = settings->size();
    plan.at = [settings](std::size_t i) { return (*settings)[i]; };
    export_.start(made_of_, session_.environment(), plan, folder);
    refresh();
}

void VariantsPanel::open_menu(const QPoint& at) {
    auto* menu = new QMenu(this);
    menu->setObjectName("variantMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const QPushButton* button : {open_, pin_, out_, more_, between_, side_by_side_})
        menu->addAction(button->text(), button, &QPushButton::click)->setEnabled(button->isEnabled());
    menu->popup(at);
}

namespace {

QWidget* make_variants_panel(const PanelPlace& place) {
    return new VariantsPanel(place.session, place.viewport.renderer(), place.parent);
}

const RegisteredPanel variants_panel({.id = "variants",
                                      .title = "Variants",
                                      .tip = "The recipe under many settings of its dials (Ctrl+Shift+A)",
                                      .side = PanelSide::band,
                                      .place = 6,
                                      .tall = true,
                                      .make = make_variants_panel});

}  // namespace

}  // namespace bricol
