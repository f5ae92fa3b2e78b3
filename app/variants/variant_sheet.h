// SPDX-License-Identifier: GPL-3.0-or-later
// A contact sheet of variants: pictures, changed numbers, faces against the budget, a corner for findings.
#pragma once

#include <QAbstractScrollArea>
#include <QPixmap>
#include <QElapsedTimer>
#include <QTimer>
#include <deque>
#include <set>

#include "app/variants/variant_maker.h"

namespace bricol {

/// One place of the sheet.
struct VariantCell {
    WrittenDials dials;  ///< those that vary
    QString words;       ///< their values
    std::shared_ptr<const VariantMade> made;
    QPixmap picture;
    std::string preset;  ///< under which it is pinned; empty when it is not
    bool thrown_out = false;
};

enum class VariantOrderOf { number, findings, faces };

class VariantSheet : public QAbstractScrollArea {
    Q_OBJECT
public:
    VariantSheet(Renderer* renderer, QWidget* parent);

    void set_cells(std::vector<VariantCell> cells, std::size_t budget);
    void take(const std::shared_ptr<const VariantMade>& made);
    void set_order(VariantOrderOf order);
    std::vector<VariantCell>& cells() { return cells_; }
    const std::vector<VariantCell>& cells() const { return cells_; }
    /// Numbers of the cells that are seen, from above.
    std::vector<std::size_t> in_sight() const;
    const std::set<std::size_t>& chosen() const { return chosen_; }
    void choose(std::set<std::size_t> chosen);
    /// The cells as they stand, thrown out ones left out.
    const std::vector<std::size_t>& shown() const { return shown_; }
    QRect cell_rect(std::size_t number) const;  ///< in the viewport
    void refresh();
    /// Pictures that are still to be drawn.
    std::size_t undrawn() const { return to_draw_.size(); }

signals:
    void chosenChanged();
    void sightChanged();
    void openWanted(std::size_t number);
    void menuWanted(std::size_t number, const QPoint& at);
    void pinWanted(std::size_t number);
    void drawn();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool viewportEvent(QEvent* event) override;

private:
    int columns() const;
    void lay_out();
    void draw_some();
    void let_go(VariantCell& cell);
    std::optional<std::size_t> at(const QPoint& place) const;
    void paint_cell(QPainter& painter, const VariantCell& cell, std::size_t number, const QRect& rect) const;

    Renderer* renderer_;
    std::vector<VariantCell> cells_;
    std::vector<std::size_t> shown_;  ///< numbers of cells, in order
    std::set<std::size_t> chosen_;
    std::deque<std::size_t> to_draw_;
    QTimer drawing_;
    QElapsedTimer scrolled_, drew_;
    VariantOrderOf order_ = VariantOrderOf::number;
    std::size_t budget_ = 0, current_ = 0;
};

}  // namespace bricol
