// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/variants/variant_sheet.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"

namespace bricol {

namespace {

constexpr QSize picture_size{168, 126};
constexpr int cell_gap = 10, cell_foot = 56, cell_width = picture_size.width(),
              cell_height = picture_size.height() + cell_foot;
constexpr int pin_side = 22;

QRect pin_rect(const QRect& cell) { return {cell.right() - pin_side - 3, cell.top() + 4, pin_side, pin_side}; }

}  // namespace

VariantSheet::VariantSheet(Renderer* renderer, QWidget* parent) : QAbstractScrollArea(parent), renderer_(renderer) {
    setObjectName("variantSheet");
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    viewport()->setMouseTracking(true);
    verticalScrollBar()->setSingleStep(40);
    drawing_.setInterval(0);
    connect(&drawing_, &QTimer::timeout, this, &VariantSheet::draw_some);
}

void VariantSheet::set_cells(std::vector<VariantCell> cells, std::size_t budget) {
    cells_ = std::move(cells);
    budget_ = budget;
    chosen_.clear();
    to_draw_.clear();
    current_ = 0;
    verticalScrollBar()->setValue(0);
    lay_out();
    emit chosenChanged();
}

void VariantSheet::take(const std::shared_ptr<const VariantMade>& made) {
    if (made->number >= cells_.size()) return;
    VariantCell& cell = cells_[made->number];
    cell.made = made;
    if (renderer_) {
        to_draw_.push_back(made->number);
        if (!drawing_.isActive()) drawing_.start();
    } else {
        let_go(cell);
    }
    viewport()->update();
}

/// The shapes of a thousand variants would fill the memory; the picture is enough.
void VariantSheet::let_go(VariantCell& cell) {
    auto light = std::make_shared<VariantMade>(*cell.made);
    light->shapes.clear();
    cell.made = light;
    emit drawn();
}

/// Draws for some milliseconds, those in sight first, so that the hand never waits.
void VariantSheet::draw_some() {
    // While the hand scrolls, only now and then: one picture can take as long as a frame may.
    if (scrolled_.isValid() && scrolled_.elapsed() < 80 && drew_.isValid() && drew_.elapsed() < 120) return;
    drew_.start();
    QElapsedTimer time;
    time.start();
    const std::vector<std::size_t> seen = in_sight();
    do {
        if (to_draw_.empty()) {
            drawing_.stop();
            break;
        }
        auto next = std::ranges::find_if(
            to_draw_, [&](std::size_t number) { return std::ranges::find(seen, number) != seen.end(); });
        if (next == to_draw_.end()) next = to_draw_.begin();
        VariantCell& cell = cells_[*next];
        to_draw_.erase(next);
        const double ratio = devicePixelRatioF();
        cell.picture = QPixmap::fromImage(
            picture_of_shapes(*renderer_, cell.made->shapes, (QSizeF(picture_size) * ratio).toSize()));
        cell.picture.setDevicePixelRatio(ratio);
        let_go(cell);
    } while (time.elapsed() < 10);
    if (order_ != VariantOrderOf::number) lay_out();
    viewport()->update();
}

void VariantSheet::set_order(VariantOrderOf order) {
    order_ = order;
    lay_out();
}

void VariantSheet::refresh() { lay_out(); }

void VariantSheet::choose(std::set<std::size_t> chosen) {
    chosen_ = std::move(chosen);
    viewport()->update();
    emit chosenChanged();
}

int VariantSheet::columns() const { return std::max(1, (viewport()->width() - cell_gap) / (cell_width + cell_gap)); }

void VariantSheet::lay_out() {
    shown_.clear();
    for (std::size_t i = 0; i < cells_.size(); ++i)
        if (!cells_[i].thrown_out) shown_.push_back(i);
    const auto weight = [&](std::size_t i) {
        const VariantMade* made = cells_[i].made.get();
        if (!made) return -1.0;
        return order_ == VariantOrderOf::faces ? static_cast<double>(made->faces)
                                               : made->errors * 1000.0 + made->cautions;
    };
    if (order_ != VariantOrderOf::number)
        std::ranges::stable_sort(shown_, [&](std::size_t a, std::size_t b) { return weight(a) > weight(b); });
    const int rows = (static_cast<int>(shown_.size()) + columns() - 1) / columns();
    verticalScrollBar()->setRange(0, std::max(0, rows * (cell_height + cell_gap) + cell_gap - viewport()->height()));
    verticalScrollBar()->setPageStep(viewport()->height());
    viewport()->update();
    emit sightChanged();
}

void VariantSheet::resizeEvent(QResizeEvent*) { lay_out(); }

void VariantSheet::scrollContentsBy(int, int) {
    scrolled_.start();
    viewport()->update();
    emit sightChanged();
}

QRect VariantSheet::cell_rect(std::size_t number) const {
    const auto found = std::ranges::find(shown_, number);
    if (found == shown_.end()) return {};
    const int i = static_cast<int>(found - shown_.begin());
    return {cell_gap + (i % columns()) * (cell_width + cell_gap),
            cell_gap + (i / columns()) * (cell_height + cell_gap) - verticalScrollBar()->value(), cell_width,
            cell_height};
}

std::vector<std::size_t> VariantSheet::in_sight() const {
    const int top = verticalScrollBar()->value();
    const auto first = static_cast<std::size_t>(std::max(0, (top - cell_gap) / (cell_height + cell_gap)) * columns());
    const auto last =
        static_cast<std::size_t>(((top + viewport()->height()) / (cell_height + cell_gap) + 1) * columns());
    std::vector<std::size_t> numbers;
    for (std::size_t i = first; i < std::min(last, shown_.size()); ++i) numbers.push_back(shown_[i]);
    return numbers;
}

std::optional<std::size_t> VariantSheet::at(const QPoint& place) const {
    for (const std::size_t number : in_sight())
        if (cell_rect(number).contains(place)) return number;
    return std::nullopt;
}

void VariantSheet::paintEvent(QPaintEvent*) {
    QPainter painter(viewport());
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(viewport()->rect(), theme::color(theme::Role::panel));
    if (shown_.empty()) {
        painter.setPen(theme::color(theme::Role::soft_ink));
        painter.drawText(viewport()->rect().adjusted(20, 0, -20, 0), Qt::AlignCenter | Qt::TextWordWrap,
                         "The recipe under many settings of its dials. Tick the dials that take part, say how many, "
                         "and press Make.");
        return;
    }
    for (const std::size_t number : in_sight()) paint_cell(painter, cells_[number], number, cell_rect(number));
}

void VariantSheet::paint_cell(QPainter& painter, const VariantCell& cell, std::size_t number, const QRect& rect) const {
    using theme::Role;
    const bool chosen = chosen_.contains(number);
    painter.setPen(QPen(theme::color(Role::line), 1));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    const QRect picture(rect.topLeft() + QPoint(1, 1), picture_size - QSize(2, 2));
    if (!cell.picture.isNull()) painter.drawPixmap(picture, cell.picture);
    const VariantMade* made = cell.made.get();
    painter.setFont(theme::text_font(8.5));
    painter.setPen(theme::color(Role::soft_ink));
    if (!made)
        painter.drawText(picture, Qt::AlignCenter, "…");
    else if (made->errors > 0 && cell.picture.isNull())
        painter.drawText(picture, Qt::AlignCenter, "nothing to see");
    const QRect text(rect.left() + 6, picture.bottom() + 3, rect.width() - 12, cell_foot - 6);
    painter.setFont(theme::number_font(8));
    painter.setPen(theme::color(Role::ink));
    const QFontMetrics metrics(painter.font());
    // Two lines; what does not fit is in the tooltip.
    QString first, second;
    for (const QString& word : cell.words.split("  ")) {
        QString& line =
            second.isEmpty() && metrics.horizontalAdvance(first + "  " + word) <= text.width() ? first : second;
        line += (line.isEmpty() ? "" : "  ") + word;
    }
    if (first.isEmpty()) std::swap(first, second);
    painter.drawText(text, Qt::AlignLeft | Qt::AlignTop, metrics.elidedText(first, Qt::ElideRight, text.width()));
    painter.drawText(text.adjusted(0, metrics.height() + 1, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                     metrics.elidedText(second, Qt::ElideRight, text.width()));
    if (made) {
        painter.setPen(theme::color(made->over_budget ? Role::caution : Role::soft_ink));
        const QString faces = budget_ > 0 ? QString("%1 of %2").arg(grouped(made->faces), grouped(budget_))
                                          : QString("%1 faces").arg(grouped(made->faces));
        painter.drawText(text, Qt::AlignLeft | Qt::AlignBottom, faces);
    }
    if (made && made->errors + made->cautions > 0) {  // a corner, as a page is folded
        const QColor colour = theme::color(made->errors ? Role::error : Role::caution);
        QPolygonF corner;
        corner << rect.topLeft() + QPointF(1, 1) << rect.topLeft() + QPointF(25, 1) << rect.topLeft() + QPointF(1, 25);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawPolygon(corner);
        painter.setPen(theme::color(Role::card));
        painter.setFont(theme::text_font(7.5, 600));
        painter.drawText(QRect(rect.left() + 2, rect.top() + 1, 14, 13), Qt::AlignCenter,
                         QString::number(std::min(made->errors ? made->errors : made->cautions, 99)));
    }
    if (chosen) {
        painter.setPen(QPen(theme::color(Role::chosen), 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect).adjusted(1, 1, -1, -1), 3, 3);
    }
    const QPixmap pin =
        theme::glyph("M7 4h10v16l-5 -4l-5 4z", 16, theme::color(!cell.preset.empty() ? Role::chosen : Role::soft_ink),
                     devicePixelRatioF());
    if (!cell.preset.empty() || chosen) painter.drawPixmap(pin_rect(rect).topLeft() + QPoint(3, 3), pin);
}

void VariantSheet::mousePressEvent(QMouseEvent* event) {
    const auto number = at(event->pos());
    if (event->button() == Qt::RightButton) return;
    if (!number) {
        choose({});
        return;
    }
    if (pin_rect(cell_rect(*number)).contains(event->pos()) &&
        (chosen_.contains(*number) || !cells_[*number].preset.empty())) {
        emit pinWanted(*number);
        return;
    }
    std::set<std::size_t> chosen;
    if (event->modifiers() & Qt::ControlModifier) {
        chosen = chosen_;
        if (!chosen.erase(*number)) chosen.insert(*number);
    } else if (event->modifiers() & Qt::ShiftModifier) {
        const auto from = std::ranges::find(shown_, current_), to = std::ranges::find(shown_, *number);
        for (auto one = std::min(from, to); one <= std::max(from, to) && one != shown_.end(); ++one)
            chosen.insert(*one);
    } else {
        chosen = {*number};
    }
    current_ = *number;
    choose(std::move(chosen));
}

void VariantSheet::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto number = at(event->pos())) emit openWanted(*number);
}

void VariantSheet::contextMenuEvent(QContextMenuEvent* event) {
    const auto number = at(event->pos());
    if (!number) return;
    if (!chosen_.contains(*number)) choose({*number});
    emit menuWanted(*number, event->globalPos());
}

void VariantSheet::keyPressEvent(QKeyEvent* event) {
    const auto here = std::ranges::find(shown_, current_);
    int i = here == shown_.end() ? 0 : static_cast<int>(here - shown_.begin());
    switch (event->key()) {
        case Qt::Key_Left:
            --i;
            break;
        case Qt::Key_Right:
            ++i;
            break;
        case Qt::Key_Up:
            i -= columns();
            break;
        case Qt::Key_Down:
            i += columns();
            break;
        case Qt::Key_Return:
        case Qt::Key_Enter:
            if (chosen_.size() == 1) emit openWanted(*chosen_.begin());
            return;
        default:
            QAbstractScrollArea::keyPressEvent(event);
            return;
    }
    if (shown_.empty()) return;
    current_ = shown_[static_cast<std::size_t>(std::clamp(i, 0, static_cast<int>(shown_.size()) - 1))];
    const QRect rect = cell_rect(current_);
    if (rect.top() < 0) verticalScrollBar()->setValue(verticalScrollBar()->value() + rect.top() - cell_gap);
    if (rect.bottom() > viewport()->height())
        verticalScrollBar()->setValue(verticalScrollBar()->value() + rect.bottom() - viewport()->height() + cell_gap);
    choose({current_});
}

bool VariantSheet::viewportEvent(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        if (const auto number = at(help->pos())) {
            const VariantCell& cell = cells_[*number];
            QString text = QString("%1\n%2").arg(*number + 1).arg(QString(cell.words).replace("  ", "\n"));
            if (cell.made && !cell.made->findings.isEmpty()) text += "\n\n" + cell.made->findings.trimmed();
            QToolTip::showText(help->globalPos(), text + "\n\nDouble click: its dials for the recipe", viewport());
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

}  // namespace bricol
