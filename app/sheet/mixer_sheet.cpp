// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/sheet/mixer_sheet.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/theme/small_parts.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/formula/elements.h"
#include "core/formula/formula.h"

namespace bricol {

namespace {

constexpr double block_width = 132;

std::string text_at(const Json& block, const char* key) {
    return block.is_object() && block.contains(key) && block[key].is_string() ? block[key].get<std::string>()
                                                                              : std::string();
}
/// The block a link comes from; empty for numbers and formulas.
std::string source_at(const Json& block, std::string_view input) {
    const std::string text = text_at(block, std::string(input).c_str());
    return text.starts_with('=') ? std::string() : text.substr(0, text.find('.'));
}

/// Names a Read or Write block can have on the shape that comes into the mixer.
QStringList names_for(const Session& session, const std::string& part_name, const std::string& step) {
    QStringList names{"position", "normal"};
    const Part* part = session.recipe().part(part_name);
    const Step* one = part ? find_step(*part, step) : nullptr;
    const StepOutcome* before =
        one ? session.outcome(part_name, source_of(*part, step_index(*part, step), "shape")) : nullptr;
    if (!before) return names;
    const std::string on = one->settings.contains("on") && one->settings["on"].is_string()
                               ? one->settings["on"].get<std::string>()
                               : "vertices";
    const Domain domain = domain_of_plural(on);
    for (const ElementName& name : element_names(*before->shape, domain)) {
        const QString base = QString::fromStdString(name.name).section('.', 0, 0);
        if (!names.contains(base)) names << base;
    }
    return names;
}

}  // namespace

BlockGraph::BlockGraph(Session& session, QWidget* parent) : GraphView(parent), session_(session) {
    setObjectName("blockGraph");
    set_overview(false);
    connect(&session, &Session::recipeChanged, this, &BlockGraph::regather);
}

void BlockGraph::show_step(const std::string& part, const std::string& step) {
    part_ = part, step_ = step;
    chosen_.clear();
    primary_.clear();
    regather();
    fit(false);
}

Json BlockGraph::blocks() const {
    const Part* part = session_.recipe().part(part_);
    const Step* one = part ? find_step(*part, step_) : nullptr;
    return one && one->settings.contains("blocks") && one->settings["blocks"].is_array() ? one->settings["blocks"]
                                                                                         : Json(Json::array());
}

void BlockGraph::write(const Json& blocks, const QString& name) {
    session_.edit(set_setting(session_.recipe(), part_, step_, "blocks", blocks), name);
}

Json* BlockGraph::block(Json& blocks, const std::string& id) const {
    for (Json& one : blocks)
        if (text_at(one, "id") == id) return &one;
    return nullptr;
}

int BlockGraph::width_of(const Json& blocks, const std::string& id, int depth) const {
    if (depth > 50) return 1;
    for (const Json& one : blocks) {
        if (text_at(one, "id") != id) continue;
        const BlockInfo* info = find_block(text_at(one, "block"));
        const std::string what = text_at(one, "what");
        if (text_at(one, "block") == "read") {
            if (what == "position" || what == "normal") return 3;
            return names_for(session_, part_, step_).contains(QString::fromStdString(what)) &&
                           what == attribute_name::facing
                       ? 3
                       : 1;
        }
        if (!info) return 1;
        if (info->width > 0) return info->width;
        int widest = 1;
        for (const BlockInfo::Input& input : info->inputs)
            if (const std::string from = source_at(one, input.key);
                !from.empty() && text_at(one, std::string(input.key).c_str()).find('.') == std::string::npos)
                widest = std::max(widest, width_of(blocks, from, depth + 1));
        return widest;
    }
    return 1;
}

void BlockGraph::gather(std::vector<Card>& cards, std::vector<Wire>& wires, std::vector<Area>&) {
    const Json all = blocks();
    int n = 0;
    for (const Json& one : all) {
        const std::string id = text_at(one, "id");
        const BlockInfo* info = find_block(text_at(one, "block"));
        Card card;
        card.id = id;
        QPointF at(180 * (n % 5), 110 * (n / 5));
        ++n;
        if (one.contains("card") && one["card"].is_array() && one["card"].size() == 2 && one["card"][0].is_number() &&
            one["card"][1].is_number())
            at = QPointF(one["card"][0].get<double>(), one["card"][1].get<double>());
        const double inputs = info ? static_cast<double>(info->inputs.size()) : 0;
        card.rect = QRectF(at, QSizeF(block_width, std::max(44.0, 36 + 18 * inputs)));
        card.gives = text_at(one, "block") != "write";
        if (info)
            for (const BlockInfo::Input& input : info->inputs) {
                const std::string from = source_at(one, input.key);
                card.inputs.push_back({std::string(input.key), text_of(input.label), !from.empty()});
                if (!from.empty())
                    wires.push_back({from,
                                     id,
                                     std::string(input.key),
                                     {},
                                     width_of(all, from, 0) == 3 ? Pen::mesh : Pen::number,
                                     false});
            }
        cards.push_back(std::move(card));
    }
}

void BlockGraph::paint_card(QPainter& painter, const Card& card, bool chosen, double) {
    using theme::Role;
    Json all = blocks();
    const Json* one = block(all, card.id);
    if (!one) return;
    const BlockInfo* info = find_block(text_at(*one, "block"));
    const QRectF& r = card.rect;
    painter.setPen(QPen(theme::color(chosen ? Role::chosen : info ? Role::ink : Role::error), chosen ? 2 : 1.2));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(r, 4, 4);
    painter.setPen(theme::color(Role::ink));
    painter.setFont(theme::text_font(9, 600));
    const QString what = QString::fromStdString(text_at(*one, "what"));
    painter.drawText(r.adjusted(10, 4, -8, 0), Qt::AlignTop | Qt::AlignLeft,
                     painter.fontMetrics().elidedText(
                         (info ? text_of(info->label) : QString::fromStdString(text_at(*one, "block"))) +
                             (what.isEmpty() ? "" : " " + what),
                         Qt::ElideRight, static_cast<int>(r.width()) - 16));
    painter.setFont(theme::text_font(8));
    for (std::size_t i = 0; i < card.inputs.size(); ++i) {
        const QPointF at = card.input_at(i);
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(QRectF(at.x() + 9, at.y() - 8, 60, 16), Qt::AlignLeft | Qt::AlignVCenter,
                         card.inputs[i].label);
        if (card.inputs[i].linked) continue;
        QString value = "0";
        if (info) value = QString::fromStdString(format_number(info->inputs[i].standard, 4));
        if (const auto written = one->find(card.inputs[i].key); written != one->end())
            value = written->is_number()   ? QString::fromStdString(format_number(written->get<double>(), 4))
                    : written->is_string() ? QString::fromStdString(written->get<std::string>())
                                           : value;
        painter.setPen(theme::color(Role::ink));
        painter.drawText(QRectF(at.x() + 50, at.y() - 8, r.width() - 58, 16), Qt::AlignRight | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(value, Qt::ElideRight, static_cast<int>(r.width()) - 60));
    }
}

void BlockGraph::chosen_changed(const std::string& primary) {
    primary_ = primary;
    emit blockChosen(primary);
}

void BlockGraph::moved(const std::map<std::string, QPointF>& places) {
    Json all = blocks();
    for (const Card& c : cards_)
        if (Json* one = block(all, c.id)) {
            const auto place = places.find(c.id);
            const QPointF at = place == places.end() ? c.rect.topLeft() : place->second;
            (*one)["card"] = {std::round(at.x()), std::round(at.y())};
        }
    write(all, "Move blocks");
}

QString BlockGraph::why_not_link(const std::string& from, const std::string& to, const std::string& input) {
    if (from == to) return "A block cannot feed itself.";
    const Card *source = card(from), *target = card(to);
    if (!source || !target) return "There is no such block.";
    if (!source->gives) return "A Write block gives nothing on.";
    if (std::ranges::none_of(target->inputs, [&](const Notch& n) { return n.key == input; }))
        return "This block has no such input.";
    // Whether the source already takes something from the target.
    std::set<std::string> seen;
    std::vector<std::string> waiting{from};
    while (!waiting.empty()) {
        const std::string id = waiting.back();
        waiting.pop_back();
        if (id == to) return "This wire would close a circle.";
        if (!seen.insert(id).second) continue;
        for (const Wire& wire : wires_)
            if (wire.to == id) waiting.push_back(wire.from);
    }
    return {};
}

void BlockGraph::link(const std::string& from, const std::string& to, const std::string& input) {
    if (const QString why = why_not_link(from, to, input); !why.isEmpty()) {
        session_.say(why, true);
        return;
    }
    Json all = blocks();
    if (Json* one = block(all, to)) (*one)[input] = from;
    write(all, "Wire a block");
}

void BlockGraph::cut(const std::vector<std::pair<std::string, std::string>>& inputs) {
    Json all = blocks();
    for (const auto& [to, input] : inputs)
        if (Json* one = block(all, to)) one->erase(input);
    write(all, "Cut a wire");
}

void BlockGraph::add_block(const std::string& kind, const QPointF& at, const std::string& from) {
    const BlockInfo* info = find_block(kind);
    if (!info) return;
    Json all = blocks();
    std::string id = kind;
    for (int n = 2; block(all, id); ++n) id = kind + std::to_string(n);
    Json one{{"id", id}, {"block", kind}};
    if (info->asks_name) one["what"] = "position";
    for (const BlockInfo::Input& input : info->inputs) one[std::string(input.key)] = input.standard;
    if (!from.empty() && !info->inputs.empty()) one[std::string(info->inputs.front().key)] = from;
    one["card"] = {std::round(at.x()), std::round(at.y())};
    // The others keep their places when they had none of their own.
    for (const Card& c : cards_)
        if (Json* other = block(all, c.id)) (*other)["card"] = {std::round(c.rect.x()), std::round(c.rect.y())};
    all.push_back(std::move(one));
    write(all, "Add a block");
    choose_cards({id});
    chosen_changed(id);
}

void BlockGraph::delete_chosen() {
    Json all = blocks(), left = Json::array();
    for (const Json& one : all)
        if (!chosen_.contains(text_at(one, "id"))) left.push_back(one);
    for (Json& one : left) {
        std::vector<std::string> loose;
        for (const auto& [key, value] : one.items())
            if (key != "id" && key != "block" && key != "what" && value.is_string() &&
                chosen_.contains(source_at(one, key)))
                loose.push_back(key);
        for (const std::string& key : loose) one.erase(key);
    }
    write(left, "Delete blocks");
    chosen_changed("");
}

void BlockGraph::offer_blocks(const QPointF& at, const QPoint& global, const std::string& from) {
    auto* menu = new QMenu(this);
    menu->setObjectName("blockMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setToolTipsVisible(true);
    for (const BlockInfo& info : all_blocks()) {
        if (!from.empty() && info.inputs.empty()) continue;
        const std::string kind(info.key);
        menu->addAction(text_of(info.label), this, [this, kind, at, from] { add_block(kind, at, from); })
            ->setToolTip(text_of(info.help));
    }
    menu->popup(global);
}

void BlockGraph::pulled_into_open(const std::string& from, const QPointF& at, const QPoint& global) {
    offer_blocks(at, global, from);
}
void BlockGraph::open_double_clicked(const QPointF& at, const QPoint& global) { offer_blocks(at, global, ""); }

void BlockGraph::menu(const std::string& id, const QPointF& at, const QPoint& global) {
    if (id.empty()) {
        offer_blocks(at, global, "");
        return;
    }
    auto* menu = new QMenu(this);
    menu->setObjectName("sheetMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction("Delete\tDel", this, &BlockGraph::delete_chosen);
    menu->popup(global);
}

QString BlockGraph::hover_text(const Card& card) {
    Json all = blocks();
    const Json* one = block(all, card.id);
    const BlockInfo* info = one ? find_block(text_at(*one, "block")) : nullptr;
    return info ? text_of(info->help) : QString();
}

QString BlockGraph::found_text(const Card& card) {
    Json all = blocks();
    const Json* one = block(all, card.id);
    return one ? QString::fromStdString(text_at(*one, "id") + " " + text_at(*one, "block") + " " +
                                        text_at(*one, "what"))
               : QString();
}

void BlockGraph::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace)
        delete_chosen();
    else if (event->key() == Qt::Key_Slash)
        offer_blocks(pointer_, mapToGlobal(to_view(pointer_)), "");
    else if (event->key() == Qt::Key_Home)
        fit(false);
    else
        GraphView::keyPressEvent(event);
}

bool BlockGraph::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Delete || key == Qt::Key_Backspace || key == Qt::Key_Slash || key == Qt::Key_Home) {
            event->accept();
            return true;
        }
    }
    return GraphView::event(event);
}

MixerSheet::MixerSheet(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("mixerSheet");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(8, 4, 8, 4);
    auto* back = new QPushButton("‹ Back to the sheet", this);
    back->setObjectName("mixerBack");
    connect(back, &QPushButton::clicked, this, &MixerSheet::closeWanted);
    head->addWidget(back);
    head->addSpacing(10);
    title_ = new HeadLabel("", this);
    head->addWidget(title_, 1);
    column->addLayout(head);
    auto* row = new QHBoxLayout;
    graph_ = new BlockGraph(session, this);
    row->addWidget(graph_, 1);
    auto* side = new QWidget(this);
    side->setFixedWidth(196);
    fields_ = new QVBoxLayout(side);
    fields_->setContentsMargins(8, 6, 8, 6);
    fields_->setSpacing(3);
    row->addWidget(side);
    column->addLayout(row, 1);
    connect(graph_, &BlockGraph::blockChosen, this, &MixerSheet::refresh);
    connect(&session, &Session::recipeChanged, this, &MixerSheet::refresh);
}

void MixerSheet::show_step(const std::string& part, const std::string& step) {
    title_->setText("Mixer “" + QString::fromStdString(step) + "”");
    graph_->show_step(part, step);
    shown_ = "\n";
    refresh();
}

void MixerSheet::refresh() {
    if (graph_->step().empty()) return;
    const Json all = graph_->blocks();
    const Json* one = nullptr;
    for (const Json& b : all)
        if (text_at(b, "id") == graph_->chosen_block()) one = &b;
    const std::string now = one ? json_text(*one) : "";
    if (now == shown_) return;
    shown_ = now;
    while (QLayoutItem* item = fields_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    if (!one) {
        auto* hint = soft_lines("Choose a block to see its numbers, or double-click to add one.");
        fields_->addWidget(hint);
        fields_->addStretch();
        return;
    }
    const BlockInfo* info = find_block(text_at(*one, "block"));
    auto* name = new HeadLabel(info ? text_of(info->label) : QString::fromStdString(text_at(*one, "id")));
    fields_->addWidget(name);
    if (info && info->asks_name) fields_->addWidget(name_field(*one));
    if (info)
        for (const BlockInfo::Input& input : info->inputs) fields_->addWidget(input_row(*one, input));
    fields_->addStretch();
}

void MixerSheet::set_in_block(const std::string& id, const std::string& key, const Json& value) {
    Json changed = graph_->blocks();
    for (Json& b : changed)
        if (text_at(b, "id") == id) b[key] = value;
    graph_->write(changed, "Change a block");
}

QWidget* MixerSheet::name_field(const Json& block) {
    auto* what = new QComboBox;
    what->setObjectName("blockWhat");
    what->setEditable(true);
    what->addItems(names_for(session_, graph_->part(), graph_->step()));
    what->setEditText(QString::fromStdString(text_at(block, "what")));
    what->setToolTip("The place, the normal, or an attribute");
    const auto set = [this, id = text_at(block, "id")](const QString& text) {
        set_in_block(id, "what", text.toStdString());
    };
    connect(what, &QComboBox::activated, this, [set, what] { set(what->currentText()); });
    connect(what->lineEdit(), &QLineEdit::editingFinished, this, [set, what] {
        if (what->lineEdit()->isModified()) set(what->currentText().trimmed());
    });
    return what;
}

/// What an input is wired to, or the number it has.
QWidget* MixerSheet::input_row(const Json& block, const BlockInfo::Input& input) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(new QLabel(text_of(input.label)), 1);
    const std::string key(input.key);
    if (!source_at(block, key).empty()) {
        auto* wired = soft_label("from " + QString::fromStdString(text_at(block, key.c_str())));
        row->addWidget(wired);
        return line;
    }
    const auto written = block.find(key);
    auto* field =
        new QLineEdit(written == block.end() ? QString::fromStdString(format_number(input.standard))
                      : written->is_string() ? QString::fromStdString(written->get<std::string>())
                                             : QString::fromStdString(format_number(written->get<double>(), 9)));
    field->setObjectName("blockInput:" + QString::fromStdString(key));
    field->setFont(theme::number_font(9));
    field->setFixedSize(92, 24);
    field->setToolTip("A number, or “= a formula” with dials and other steps' numbers");
    connect(field, &QLineEdit::editingFinished, this, [this, id = text_at(block, "id"), key, field] {
        if (!field->isModified()) return;
        field->setModified(false);
        const auto typed = read_typed(field->text().toStdString(), Quantity::plain, "m");
        if (!typed) {
            session_.say(QString::fromStdString(typed.problem().text()), true);
            return;
        }
        set_in_block(id, key, typed->formula ? Json(typed->text) : Json(typed->value));
    });
    row->addWidget(field);
    return line;
}

}  // namespace bricol
