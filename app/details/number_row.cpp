// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/number_row.h"

#include <QHBoxLayout>
#include <QMenu>

#include "app/kinds/formula_offers.h"
#include "app/theme/small_parts.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr const char* link_glyph = "M5 6v5a3 3 0 0 0 3 3h10 M14.5 10 L18.5 14 L14.5 18";

QString shown_unit_of(const Session& session, const ParameterInfo& info) {
    const auto unit = field_unit(session.recipe().unit, info.soft_high);
    return QString::fromUtf8(unit.data(), static_cast<int>(unit.size()));
}

}  // namespace

NumberRow::NumberRow(Session& session, NumberPlace place, ParameterInfo info, const QString& label, QWidget* parent)
    : QWidget(parent), session_(session), place_(std::move(place)), info_(std::move(info)), label_text_(label) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(4);
    label_ = new QLabel(label, this);
    const QString help = QString::fromUtf8(info_.help.data(), static_cast<int>(info_.help.size()));
    label_->setToolTip(help);
    field_ = new NumberField(this);
    const QString object =
        place_.pointer.empty()
            ? QString::fromStdString(place_.key +
                                     (place_.component < 0 ? "" : std::string(".") + "xyz"[place_.component]))
            : QString::fromStdString(place_.pointer);
    field_->setObjectName("number:" + object);
    field_->setFixedWidth(112);
    field_->set_kind(info_.quantity, shown_unit_of(session, info_),
                     {info_.low, info_.high, info_.soft_low, info_.soft_high});
    new FormulaOffers(field_, [this] { return formula_offers(session_, place_.part, place_.step); });
    button_ = quiet_button("Dial, links, reset, explain", {20, 22}, this);
    button_->setProperty("row", object);
    button_->setIconSize({16, 16});
    row->addWidget(label_, 1);
    row->addWidget(field_);
    row->addWidget(button_);
    connect(field_, &NumberField::numberGiven, this, [this](double value, bool moving) {
        send(value, moving || drag_ ? "number " + field_->objectName() : QString());
        drag_ = moving;
        if (!moving) session_.part_edits();
    });
    connect(field_, &NumberField::formulaGiven, this,
            [this](const QString& formula) { send(formula.toStdString(), {}); });
    connect(field_, &NumberField::refused, this,
            [this](const QString& why) { session_.say(name() + ": " + why, true); });
    connect(button_, &QToolButton::clicked, this, &NumberRow::open_menu);
    label_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(label_, &QLabel::customContextMenuRequested, this, &NumberRow::open_menu);
}

QString NumberRow::name() const { return label_text_; }

void NumberRow::send(const Json& value, const QString& merge) {
    session_.edit(set_number(session_.recipe(), place_, value), "Change " + name().toLower(), merge);
}

void NumberRow::refresh(double value) {
    value_ = value;
    const Json written = written_at(session_.recipe(), place_);
    const bool formula = written.is_string();
    field_->set_kind(info_.quantity, shown_unit_of(session_, info_),
                     {info_.low, info_.high, info_.soft_low, info_.soft_high});
    const QString help = QString::fromUtf8(info_.help.data(), static_cast<int>(info_.help.size()));
    field_->setToolTip(
        (formula ? QString::fromStdString(written.get<std::string>()) + "\n" : QString()) + help +
        "\nType a number, a unit (38 mm) or = a formula. Drag sideways, wheel or arrow keys; Shift coarse, Ctrl fine.");
    field_->show_value(value, formula ? QString::fromStdString(written.get<std::string>()) : QString());
    const char* glyph = theme::menu_glyph;
    if (formula) {
        const auto names = names_in(std::string_view(written.get_ref<const std::string&>()).substr(1));
        const bool dial = names.size() == 1 && session_.recipe().dial(names[0]);
        glyph = dial ? theme::dial_glyph : link_glyph;
    }
    if (shown_glyph_ != glyph || shown_night_ != theme::night()) button_->setIcon(theme::glyph_icon(glyph, 16));
    shown_glyph_ = glyph;
    shown_night_ = theme::night();
}

void NumberRow::open_menu() {
    auto* menu = new QMenu(this);
    menu->setObjectName("numberMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const Json written = written_at(session_.recipe(), place_);
    menu->addAction("Make it a dial", this, [this] {
        std::string made;
        const Edited edited = make_dial(session_.recipe(), place_, info_, value_, &made);
        if (session_.edit(edited, "Make a dial of " + name().toLower()))
            session_.say("New dial “" + QString::fromStdString(made) + "”. Rename it and set its range on the left.");
    });
    add_links(menu);
    add_copied_link(menu);
    menu->addSeparator();
    if (written.is_string()) add_formula_actions(menu, written.get_ref<const std::string&>());
    menu->addAction("Reset", this,
                    [this] {
                        if (place_.component >= 0)
                            send(info_.standard_vector[place_.component], {});
                        else if (place_.pointer.empty())
                            session_.edit(reset_setting(session_.recipe(), place_.part, place_.step, place_.key),
                                          "Reset " + name().toLower());
                    })
        ->setEnabled(place_.pointer.empty() && !written.is_null());
    menu->addAction("Explain", this, [this, written] {
        QString text =
            name() + " is " + QString::fromStdString(format_value(value_, info_.quantity, session_.recipe().unit));
        if (written.is_string()) text += ", from “" + QString::fromStdString(written.get<std::string>()) + "”";
        text += ". " + QString::fromUtf8(info_.help.data(), static_cast<int>(info_.help.size()));
        session_.say(text);
    });
    menu->popup(button_->mapToGlobal(QPoint(0, button_->height())));
}

/// Dials, and other numbers of the part that measure the same.
void NumberRow::add_links(QMenu* menu) {
    auto* links = menu->addMenu("Link to");
    links->setObjectName("linkMenu");
    for (const Dial& dial : session_.recipe().dials)
        links->addAction(QString::fromStdString(dial.name), this, [this, n = dial.name] { send("= " + n, {}); });
    if (const Part* part = session_.recipe().part(place_.part))
        for (const auto& step : part->steps) {
            const StepInfo* info = find_step_info(step->type);
            if (!info) continue;
            QMenu* of_step = nullptr;
            for (const ParameterInfo& p : info->parameters) {
                if (p.quantity != info_.quantity) continue;
                for (const NumberOf& number : numbers_of(p)) {
                    if (step->id == place_.step && p.key == place_.key && number.component == place_.component)
                        continue;
                    if (!of_step) of_step = links->addMenu(QString::fromStdString(step->id));
                    const std::string name = step->id + "." + std::string(p.key) + std::string(number.suffix);
                    of_step->addAction(number_label(p, number), this, [this, name] { send("= " + name, {}); });
                }
            }
        }
    add_made_links(links);
    links->setEnabled(!links->isEmpty());
}

/// What steps before this one, and other parts, came out as. Later steps would make a circle. A shape is measured when
/// its list is opened: measuring them all would keep the hand waiting.
void NumberRow::add_made_links(QMenu* links) {
    const auto offer = [&](const std::string& name, const std::string& part, const std::string& step) {
        if (!session_.outcome(part, step)) return;
        QMenu* menu = links->addMenu(QString::fromStdString(name) + ", made");
        connect(menu, &QMenu::aboutToShow, this, [this, menu, name, part, step] {
            if (menu->isEmpty()) fill_made_links(menu, name, session_.outcome(part, step));
        });
    };
    const Part* part = session_.recipe().part(place_.part);
    if (!part || (info_.quantity == Quantity::angle || info_.quantity == Quantity::ratio)) return;
    for (const auto& step : part->steps) {
        if (step->id == place_.step) break;
        offer(step->id, part->name, step->id);
    }
    for (const auto& other : session_.recipe().parts)
        if (const Step* result = other.get() == part ? nullptr : result_step(*other))
            offer(other->name, other->name, result->id);
}

/// Numbers of a shape that measure the same as this one: lengths, counts, or any for a plain number.
void NumberRow::fill_made_links(QMenu* menu, const std::string& name, const StepOutcome* made) {
    for (const MadePath& path : made_paths()) {
        const bool fits =
            info_.quantity == Quantity::plain || path.dimensions == (info_.quantity == Quantity::length ? 1 : 0);
        if (!fits || !made || !made->numbers || !made->numbers->at(path.path)) continue;
        const std::string link = name + ".made." + path.path;
        menu->addAction(QString::fromStdString(path.path), this, [this, link] { send("= " + link, {}); });
    }
    if (menu->isEmpty()) menu->addAction("Nothing was made there")->setEnabled(false);
}

void NumberRow::add_copied_link(QMenu* menu) {
    const std::string own = place_.link_name();
    menu->addAction("Copy link", this,
                    [this, own] {
                        session_.copied_link = own;
                        session_.copied_value = value_;
                        session_.say("Copied a link to " + QString::fromStdString(own));
                    })
        ->setEnabled(!own.empty());
    // A name of the same part is shorter without the part.
    std::string link = session_.copied_link;
    if (link.starts_with(place_.part + ".")) link = link.substr(place_.part.size() + 1);
    const bool can_paste = !link.empty() && session_.copied_link != own;
    menu->addAction("Paste link", this, [this, link] { send("= " + link, {}); })->setEnabled(can_paste);
    menu->addAction("Paste link, negated", this, [this, link] { send("= -" + link, {}); })->setEnabled(can_paste);
    menu->addAction("Paste link, keeping the offset", this,
                    [this, link] { send(with_offset("= " + link, value_ - session_.copied_value), {}); })
        ->setEnabled(can_paste);
}

/// Where the numbers of a formula stand, and how to be rid of it.
void NumberRow::add_formula_actions(QMenu* menu, const std::string& formula) {
    for (const std::string& n : names_in(std::string_view(formula).substr(1))) {
        const auto meant = session_.resolver().meant(place_.part, n);
        if (!meant) continue;
        menu->addAction("Go to " + QString::fromStdString(n), this,
                        [this, part = meant->part->name, step = meant->step->id] { session_.choose(part, step); });
    }
    menu->addAction("Keep the value, drop the formula", this, [this] { send(value_, {}); });
}

}  // namespace bricol
