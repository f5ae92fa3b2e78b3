// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dials/dials_panel.h"

#include <QLabel>
#include <QMenu>
#include <QScrollBar>
#include <QTimer>
#include <QToolButton>
#include <fmt/format.h>

#include "app/dials/dial_form.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr const char* keep_glyph = "M7 4h10v16l-5 -4l-5 4z";

/// What decides which rows stand where: a row is made anew when this changes, and only shown anew otherwise.
std::vector<std::string> layout_of(const Recipe& recipe) {
    std::vector<std::string> out;
    const std::vector<std::string> headings = dial_headings(recipe.dials);
    for (std::size_t i = 0; i < recipe.dials.size(); ++i) {
        const Dial& dial = recipe.dials[i];
        std::string words;
        for (const std::string& word : dial.choices) words += word + "\n";
        out.push_back(fmt::format("{}\t{}\t{}\t{}\t{}\t{}", dial.name, dial_kind_word(dial.kind), headings[i],
                                  dial_shown(recipe.dials, dial), dial.help, words));
    }
    return out;
}

}  // namespace

DialsPanel::DialsPanel(Session& session, QWidget* parent) : QFrame(parent), session_(session) {
    setObjectName("panel");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 8, 3, 4);
    column->setSpacing(4);
    presets_ = new PresetStrip(session, this);
    column->addLayout(make_head());
    column->addWidget(presets_);
    scroll_ = new QScrollArea(this);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(scroll_, 1);
    connect(&session, &Session::recipeChanged, this, &DialsPanel::refresh);
    rebuild();
}

QHBoxLayout* DialsPanel::make_head() {
    auto* head = new QHBoxLayout;
    auto* title = new HeadLabel("Dials", this);
    head->addWidget(title, 1);
    auto* keep = quiet_button("Keep the dials as they stand as a preset", {20, 20}, this);
    keep->setProperty("does", "keep preset");
    keep->setIcon(theme::glyph_icon(keep_glyph, 14));
    connect(keep, &QToolButton::clicked, this, [this] {
        if (session_.recipe().dials.empty())
            session_.say("A preset keeps all dials, and there are none yet.", true);
        else
            presets_->ask_for_name();
    });
    auto* add = quiet_button("Add a dial; or make one from a setting on the right", {20, 20}, this);
    add->setText("+");
    connect(add, &QToolButton::clicked, this, &DialsPanel::add_one);
    head->addWidget(keep);
    head->addWidget(add);
    return head;
}

void DialsPanel::add_one() {
    Dial dial;
    dial.name = "dial";
    dial.value = 0.5;
    std::string made;
    if (!session_.edit(add_dial(session_.recipe(), dial, &made), "Add a dial")) return;
    editing_ = made;
    rebuild();
}

void DialsPanel::rebuild() {
    shown_.clear();
    laid_out_ = layout_of(session_.recipe());
    auto* body = new QWidget;
    rows_ = new QVBoxLayout(body);
    rows_->setContentsMargins(0, 0, 3, 0);
    rows_->setSpacing(2);
    const auto& dials = session_.recipe().dials;
    const std::vector<std::string> headings = dial_headings(dials);
    std::string under;
    for (std::size_t i = 0; i < dials.size(); ++i) {
        if (!dial_shown(dials, dials[i]) && editing_ != dials[i].name) continue;
        if (headings[i] != under) {
            auto* heading = soft_label(QString::fromStdString(headings[i]), body);
            heading->setProperty("heading", true);
            heading->setContentsMargins(0, rows_->count() ? 6 : 0, 0, 2);
            rows_->addWidget(heading);
        }
        under = headings[i];
        add_row(dials[i]);
    }
    if (dials.empty()) {
        auto* hint =
            soft_lines("No dials yet. Open the ⋮ beside a setting on the right and choose “Make it a dial”.", body);
        rows_->addWidget(hint);
    }
    rows_->addStretch();
    exchange_widget(*scroll_, body);
    refresh();
}

void DialsPanel::add_row(const Dial& dial) {
    const std::string name = dial.name;
    const DialRow row = make_dial_row(session_, dial, [this, name](QWidget* at) { open_menu(name, at); });
    shown_[name] = row;
    rows_->addWidget(row.line);
    if (editing_ != name) return;
    rows_->addWidget(make_dial_form(session_, dial, [this] {
        editing_.clear();
        // Not from within the form's own button.
        QTimer::singleShot(0, this, &DialsPanel::rebuild);
    }));
}

void DialsPanel::open_menu(const std::string& name, QWidget* at) {
    auto* menu = new QMenu(this);
    menu->setObjectName("dialMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction("Name and range…", this, [this, name] {
        editing_ = editing_ == name ? "" : name;
        rebuild();
    });
    const auto& dials = session_.recipe().dials;
    const auto place = static_cast<std::size_t>(std::ranges::find(dials, name, &Dial::name) - dials.begin());
    menu->addAction(
            "Move up", this,
            [this, name, place] { session_.edit(move_dial(session_.recipe(), name, place - 1), "Move a dial"); })
        ->setEnabled(place > 0);
    menu->addAction(
            "Move down", this,
            [this, name, place] { session_.edit(move_dial(session_.recipe(), name, place + 1), "Move a dial"); })
        ->setEnabled(place + 1 < dials.size());
    menu->addAction("Delete, keeping its value", this,
                    [this, name] { session_.edit(remove_dial(session_.recipe(), name), "Delete a dial"); });
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

void DialsPanel::refresh() {
    if (const auto now = layout_of(session_.recipe()); now != laid_out_) {
        const bool grew = !laid_out_.empty() && now.size() == laid_out_.size() + 1 &&
                          std::equal(laid_out_.begin(), laid_out_.end(), now.begin());
        // A word that hides other dials is clicked in a row that goes: not from within its own click.
        laid_out_ = now;
        QTimer::singleShot(0, this, [this, grew] {
            rebuild();
            if (!grew) return;
            // A new dial stands last; bring it into sight once the layout has settled.
            scroll_->widget()->layout()->activate();
            scroll_->verticalScrollBar()->setValue(scroll_->verticalScrollBar()->maximum());
        });
        return;
    }
    for (const Dial& dial : session_.recipe().dials)
        if (const auto row = shown_.find(dial.name); row != shown_.end()) row->second.show(dial);
}

}  // namespace bricol
