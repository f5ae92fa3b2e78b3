// SPDX-License-Identifier: GPL-3.0-or-later
// How the part is made, as a row of cards. The order shown is a walk through the part's graph from its result.
#pragma once

#include <QLineEdit>
#include <QScrollArea>
#include <QWidget>

#include "app/document/session.h"

namespace bricol {

class StripView : public QWidget {
    Q_OBJECT
public:
    explicit StripView(Session& session, QWidget* parent = nullptr);

    QSize sizeHint() const override;
    /// Rectangle of a step's card, for tests and for keeping it in sight; empty when it is not shown.
    QRect card_rect(const std::string& step) const;
    QRect add_rect() const;
    void rename(const std::string& step);
    /// Steps that a trace found, in order; empty for none.
    void light(const std::vector<std::string>& steps);
    /// The step that is being made, told on its card.
    void set_at_work(const MakeProgress& at);

signals:
    void addWanted();
    void cardShown(const QRect& rect);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Card {
        std::string id;
        QRect rect;
        bool tucked = false;     ///< a second input, under the card that takes it
        bool loose = false;      ///< not on the way to the result
        std::string other_part;  ///< a tucked card that stands for another part
        std::string input;
    };
    void layout_cards();
    void paint_card(QPainter& painter, const Card& card) const;
    void paint_wire(QPainter& painter, const QRect& from, const QRect& to, const ShapePtr& shape) const;
    const Card* card_at(const QPoint& at) const;
    void choose_neighbour(int by);
    void open(const Card& card);
    void menu_for(const std::string& id, const QPoint& global);
    void toggle_peek(const std::string& id);

    Session& session_;
    std::vector<Card> cards_;
    std::vector<std::string> traced_;
    MakeProgress at_work_;
    std::string branch_end_;  ///< step the opened branch ends at; empty for the result
    QPoint press_at_;
    std::string dragged_;
    int drop_at_ = -1;
    bool dragging_ = false;
    QLineEdit* name_ = nullptr;
};

}  // namespace bricol
