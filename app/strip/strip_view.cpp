// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/strip/strip_view.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>

#include "app/document/step_edits.h"
#include "app/strip/step_card.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/files/recipe_file.h"

namespace bricol {

namespace {

constexpr int card_width = 138, card_height = 64, gap = 22, left_margin = 20, top_margin = 34;
constexpr int tuck_height = 30, tuck_gap = 8;

}  // namespace

StripView::StripView(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("strip");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    const auto relayout = [this] {
        layout_cards();
        updateGeometry();
        adjustSize();
        update();
    };
    connect(&session, &Session::recipeChanged, this, relayout);
    connect(&session, &Session::madeChanged, this, qOverload<>(&QWidget::update));
    connect(&session, &Session::choiceChanged, this, [this, relayout] {
        const Part* part = session_.chosen_part();
        if (!part || !find_step(*part, branch_end_)) branch_end_.clear();
        relayout();
        if (const QRect rect = card_rect(session_.step()); !rect.isEmpty()) emit cardShown(rect);
    });
    layout_cards();
}

void StripView::layout_cards() {
    cards_.clear();
    const Part* part = session_.chosen_part();
    const Step* result = part ? result_step(*part) : nullptr;
    if (!result) return;
    std::string end = branch_end_.empty() ? result->id : branch_end_;
    auto chain = chain_to(*part, end);
    // Steps behind the result belong to the strip as well: the artist put them there.
    if (branch_end_.empty())
        for (std::size_t i = step_index(*part, end) + 1; i < part->steps.size(); ++i)
            if (source_of(*part, i, "shape") == chain.back()) chain.push_back(part->steps[i]->id);
    int x = left_margin;
    std::set<std::string> shown(chain.begin(), chain.end());
    for (const std::string& id : chain) {
        const QRect rect(x, top_margin, card_width, card_height);
        cards_.push_back({id, rect, false, false, "", ""});
        int y = rect.bottom() + tuck_gap;
        for (const auto& [input, source] : find_step(*part, id)->inputs) {
            if (input == "shape" && !source.starts_with("part:")) continue;
            Card tucked{source, QRect(x + 14, y, card_width - 14, tuck_height), true, false, "", input};
            if (source.starts_with("part:")) tucked.other_part = source.substr(5);
            cards_.push_back(tucked);
            if (tucked.other_part.empty())
                for (const std::string& below : chain_to(*part, source)) shown.insert(below);
            y += tuck_height + 5;
        }
        x += card_width + gap;
    }
    x += 96;  // room for "+ step"
    if (branch_end_.empty())
        for (const auto& step : part->steps)
            if (!shown.contains(step->id)) {
                cards_.push_back({step->id, QRect(x, top_margin, card_width, card_height), false, true, "", ""});
                x += card_width + gap;
            }
}

QSize StripView::sizeHint() const {
    QSize size(left_margin + 120, top_margin + card_height + 44);
    for (const Card& card : cards_) size = size.expandedTo({card.rect.right() + 130, card.rect.bottom() + 14});
    return size;
}

QRect StripView::card_rect(const std::string& step) const {
    for (const Card& card : cards_)
        if (card.id == step && !card.tucked) return card.rect;
    return {};
}

QRect StripView::add_rect() const {
    int x = left_margin;
    for (const Card& card : cards_)
        if (!card.tucked && !card.loose) x = card.rect.right() + gap;
    return {x, top_margin + 20, 62, 26};
}

void StripView::paint_wire(QPainter& painter, const QRect& from, const QRect& to, const ShapePtr& shape) const {
    QPen pen(theme::color(theme::Role::ink), 1.4);
    const unsigned content = shape ? content_of(*shape) : 0;
    if (!(content & (content_faces | content_instances)))
        pen.setDashPattern(content & content_curves ? QVector<qreal>{3, 2} : QVector<qreal>{1, 2.5});
    const int y = from.center().y();
    if (content & content_instances && !(content & content_faces)) {  // a double line
        painter.setPen(QPen(pen.color(), 1));
        for (const double dy : {-1.5, 1.5})
            painter.drawLine(QPointF(from.right() + 1, y + dy), QPointF(to.left(), y + dy));
        return;
    }
    painter.setPen(pen);
    painter.drawLine(from.right() + 1, y, to.left(), y);
}

void StripView::paint_card(QPainter& painter, const Card& card) const {
    using theme::Role;
    const Part& part = *session_.chosen_part();
    const QRect& r = card.rect;
    if (card.tucked) {
        painter.setPen(QPen(theme::color(Role::ink), 1.1));
        painter.setBrush(theme::color(Role::card));
        painter.drawRoundedRect(QRectF(r).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
        painter.drawLine(r.left() - 8, r.top() - tuck_gap - 2, r.left() - 8, r.center().y());
        painter.drawLine(r.left() - 8, r.center().y(), r.left(), r.center().y());
        painter.setFont(theme::text_font(8.5));
        painter.setPen(theme::color(Role::ink));
        painter.drawText(
            r.adjusted(8, 0, -6, 0), Qt::AlignVCenter | Qt::AlignLeft,
            painter.fontMetrics().elidedText(
                QString::fromStdString(card.input + ": " + (card.other_part.empty() ? card.id : card.other_part)),
                Qt::ElideRight, r.width() - 14));
        return;
    }
    const Step* step = find_step(part, card.id);
    if (!step) return;
    paint_step_card(painter, r, session_, *step, card.id == session_.step(), devicePixelRatioF());
    if (at_work_.step == card.id && at_work_.part == part.name) paint_at_work(painter, r, at_work_.of_step);
}

void StripView::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Part* part = session_.chosen_part();
    if (!part) {
        painter.setPen(theme::color(Role::soft_ink));
        painter.drawText(rect(), Qt::AlignCenter, "No part yet. Press / to add a step.");
        return;
    }
    painter.setFont(theme::text_font(8.5));
    painter.setPen(theme::color(Role::soft_ink));
    if (!branch_end_.empty())
        painter.drawText(left_margin, 16,
                         QString::fromStdString(part->name + " › " + branch_end_) + "    (Esc goes back)");
    const Card* before = nullptr;
    for (const Card& card : cards_) {
        if (card.tucked || card.loose) continue;
        if (before) {
            const StepOutcome* outcome = session_.outcome(part->name, before->id);
            paint_wire(painter, before->rect, card.rect, outcome ? outcome->shape : nullptr);
        }
        before = &card;
    }
    bool any_loose = false;
    for (const Card& card : cards_) {
        // Blocks that give numbers, cameras and lights stand beside the strip by their nature.
        const Step* step = card.loose && !any_loose ? find_step(*part, card.id) : nullptr;
        if (step && !stands_aside(*step)) {
            any_loose = true;
            painter.setPen(theme::color(Role::soft_ink));
            painter.setFont(theme::text_font(8.5));
            painter.drawText(card.rect.left(), top_margin - 8 - (session_.peek() == card.id ? 12 : 0), "not linked");
        }
        if (const auto traced = std::ranges::find(traced_, card.id); traced != traced_.end()) {
            painter.setPen(QPen(theme::color(Role::act), 2.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(card.rect.adjusted(-4, -4, 4, 4), 6, 6);
        }
        paint_card(painter, card);
    }
    const QRect add = add_rect();
    painter.setPen(QPen(theme::color(Role::line), 1));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(add, 3, 3);
    painter.setPen(theme::color(Role::ink));
    painter.setFont(theme::text_font(9.5));
    painter.drawText(add, Qt::AlignCenter, "+ step");
    if (dragging_ && drop_at_ >= 0) {
        int x = left_margin - gap / 2, n = 0;
        for (const Card& card : cards_)
            if (!card.tucked && !card.loose && n++ < drop_at_) x = card.rect.right() + gap / 2;
        painter.setPen(QPen(theme::color(Role::chosen), 3));
        painter.drawLine(x, top_margin - 8, x, top_margin + card_height + 8);
    }
    if (hasFocus()) {
        if (const QRect rect = card_rect(session_.step()); !rect.isEmpty()) {
            painter.setPen(QPen(theme::color(Role::act), 1, Qt::DotLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(rect.adjusted(-4, -4, 4, 4), 5, 5);
        }
    }
}

void StripView::light(const std::vector<std::string>& steps) {
    traced_ = steps;
    update();
}

void StripView::set_at_work(const MakeProgress& at) {
    at_work_ = at;
    update();
}

const StripView::Card* StripView::card_at(const QPoint& at) const {
    for (const Card& card : cards_)
        if (card.rect.contains(at) || (card.id == session_.peek() && card.rect.adjusted(0, -16, 0, 0).contains(at)))
            return &card;
    return nullptr;
}

void StripView::open(const Card& card) {
    if (!card.other_part.empty()) {
        session_.choose_part(card.other_part);
        return;
    }
    branch_end_ = card.id;
    session_.choose(session_.part(), card.id);
    layout_cards();
    updateGeometry();
    update();
}

void StripView::toggle_peek(const std::string& id) { session_.set_peek(session_.peek() == id ? "" : id); }

void StripView::mousePressEvent(QMouseEvent* event) {
    setFocus(Qt::MouseFocusReason);
    dragged_.clear();
    dragging_ = false;
    if (event->button() != Qt::LeftButton) return;
    press_at_ = event->pos();
    if (add_rect().contains(event->pos())) {
        emit addWanted();
        return;
    }
    const Card* card = card_at(event->pos());
    if (!card) return;
    if (card->tucked) {
        open(*card);
        return;
    }
    dragged_ = card->id;
    session_.choose(session_.part(), card->id);
}

void StripView::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_.empty() || !(event->buttons() & Qt::LeftButton)) return;
    if (!dragging_ && (event->pos() - press_at_).manhattanLength() < QApplication::startDragDistance()) return;
    dragging_ = true;
    drop_at_ = 0;
    for (const Card& card : cards_)
        if (!card.tucked && !card.loose && event->pos().x() > card.rect.center().x()) ++drop_at_;
    setCursor(Qt::ClosedHandCursor);
    update();
}

void StripView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    unsetCursor();
    if (!dragging_) return;
    dragging_ = false;
    const Part* part = session_.chosen_part();
    std::vector<std::string> order;
    for (const Card& card : cards_)
        if (!card.tucked && !card.loose) order.push_back(card.id);
    // The place in the part's list is in front of the card that will follow.
    const std::size_t from = step_index(*part, dragged_);
    std::size_t to =
        drop_at_ < static_cast<int>(order.size()) ? step_index(*part, order[drop_at_]) : part->steps.size();
    drop_at_ = -1;
    if (to > from) --to;
    if (to != from) session_.edit(move_step(session_.recipe(), session_.part(), dragged_, to), "Move a step");
    update();
}

void StripView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const Card* card = card_at(event->pos()); card && !card->tucked) rename(card->id);
}

void StripView::choose_neighbour(int by) {
    std::vector<std::string> order;
    for (const Card& card : cards_)
        if (!card.tucked) order.push_back(card.id);
    const auto at = std::ranges::find(order, session_.step());
    if (order.empty()) return;
    const auto i = std::clamp<std::ptrdiff_t>((at == order.end() ? 0 : at - order.begin()) + by, 0,
                                              static_cast<std::ptrdiff_t>(order.size()) - 1);
    session_.choose(session_.part(), order[static_cast<std::size_t>(i)]);
}

void StripView::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
        case Qt::Key_Left:
            choose_neighbour(-1);
            break;
        case Qt::Key_Right:
            choose_neighbour(1);
            break;
        case Qt::Key_Home:
            choose_neighbour(-100000);
            break;
        case Qt::Key_End:
            choose_neighbour(100000);
            break;
        case Qt::Key_Menu:
            menu_for(session_.step(), mapToGlobal(card_rect(session_.step()).center()));
            break;
        case Qt::Key_Escape:
            if (!branch_end_.empty()) {
                branch_end_.clear();
                layout_cards();
                updateGeometry();
            } else {
                session_.set_peek("");
            }
            update();
            break;
        default:
            QWidget::keyPressEvent(event);
    }
}

void StripView::rename(const std::string& id) {
    const QRect rect = card_rect(id);
    const Part* part = session_.chosen_part();
    const Step* step = part ? find_step(*part, id) : nullptr;
    if (!step || rect.isEmpty()) return;
    delete name_;
    name_ = new QLineEdit(this);
    name_->setObjectName("renameStep");
    name_->setGeometry(rect.left() + 28, rect.top() + 4, rect.width() - 34, 22);
    const StepInfo* info = find_step_info(step->type);
    name_->setText(step->title.empty() && info ? text_of(info->name) : QString::fromStdString(step->title));
    name_->selectAll();
    name_->show();
    name_->setFocus();
    connect(name_, &QLineEdit::editingFinished, this, [this, id] {
        if (!name_) return;
        auto* field = name_;
        name_ = nullptr;
        const Part* now = session_.chosen_part();
        const Step* old = now ? find_step(*now, id) : nullptr;
        if (old && field->isModified()) {
            Step changed = *old;
            changed.title = field->text().trimmed().toStdString();
            session_.edit(replace_step(session_.recipe(), session_.part(), changed), "Rename a step");
        }
        field->deleteLater();
    });
}

void StripView::menu_for(const std::string& id, const QPoint& global) {
    const Part* part = session_.chosen_part();
    const Step* step = part ? find_step(*part, id) : nullptr;
    if (!step) return;
    session_.choose(session_.part(), id);
    auto* menu = new QMenu(this);
    menu->setObjectName("stepMenu");
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto change = [this, id](const QString& name, auto apply) {
        const Part* now = session_.chosen_part();
        const Step* old = now ? find_step(*now, id) : nullptr;
        if (!old) return;
        Step changed = *old;
        apply(changed);
        session_.edit(replace_step(session_.recipe(), session_.part(), changed), name);
    };
    menu->addAction(session_.peek() == id ? "Stop peeking\tP" : "Peek\tP", this, [this, id] { toggle_peek(id); });
    menu->addAction(step->ghost ? "No ghost\tG" : "Ghost\tG", this,
                    [change] { change("Ghost", [](Step& s) { s.ghost = !s.ghost; }); });
    menu->addAction(step->skipped ? "Do not skip\tK" : "Skip\tK", this,
                    [change] { change("Skip a step", [](Step& s) { s.skipped = !s.skipped; }); });
    menu->addSeparator();
    menu->addAction("Rename\tF2", this, [this, id] { rename(id); });
    menu->addAction("Duplicate\tCtrl+D", this, [this, id] {
        std::string made;
        if (session_.edit(duplicate_step(session_.recipe(), session_.part(), id, &made), "Duplicate a step"))
            session_.choose(session_.part(), made);
    });
    menu->addAction("Make it the part's result", this, [this, id] {
        session_.edit(set_result(session_.recipe(), session_.part(), id), "Change the result");
    });
    menu->addSeparator();
    menu->addAction("Delete\tDel", this, [this, id] {
        session_.edit(remove_step(session_.recipe(), session_.part(), id), "Delete a step");
    });
    menu->popup(global);
}

void StripView::contextMenuEvent(QContextMenuEvent* event) {
    if (const Card* card = card_at(event->pos()); card && !card->tucked) menu_for(card->id, event->globalPos());
}

bool StripView::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if ((key == Qt::Key_Home || key == Qt::Key_End) &&
            static_cast<QKeyEvent*>(event)->modifiers() ==
                Qt::NoModifier) {  // here they walk the strip instead of framing the view
            event->accept();
            return true;
        }
    }
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const Card* card = card_at(help->pos());
        const Part* part = session_.chosen_part();
        const Step* step = card && part ? find_step(*part, card->id) : nullptr;
        if (step) {
            QToolTip::showText(help->globalPos(), step_hover_text(session_, *step), this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QWidget::event(event);
}

}  // namespace bricol
