// SPDX-License-Identifier: GPL-3.0-or-later
// How the part is made, as a graph of cards: the same steps, choice, peek and findings as the strip.
#pragma once

#include <array>
#include <cmath>

#include <functional>

#include "app/addbar/add_bar.h"
#include "app/document/session.h"
#include "app/sheet/graph_view.h"

namespace bricol {

/// A place on the sheet as recipes keep it: whole pixels.
inline std::array<double, 2> pair_of(const QPointF& p) { return {std::round(p.x()), std::round(p.y())}; }

class StepSheet : public GraphView {
    Q_OBJECT
public:
    explicit StepSheet(Session& session, QWidget* parent = nullptr);

    /// Steps that a trace found, in order; empty for none.
    void light(const std::vector<std::string>& steps);
    void rename(const std::string& step);

public slots:
    void duplicate_chosen();
    void copy_chosen();
    void paste();
    void delete_chosen();
    /// Into a step of that key; of the plain kind when it is empty.
    void pack_chosen(std::string_view as = {});
    /// Offers the steps that make what is in them many times.
    void pack_for_rounds(const QPoint& global);
    void unpack_chosen();
    void save_chosen_as_kit();
    void frame_chosen();
    void swap_inputs();
    void add_at_pointer();
    void tidy(bool everything);
    void toggle_skip();
    void toggle_ghost();

signals:
    /// The add bar is wanted at a place of the screen; `add` puts the step there, `why` says why one does not fit.
    void addWanted(const QPoint& global, bricol::StepWhyNot why, bricol::StepAdder add);
    void mixerWanted(const std::string& step);
    void kitSaveWanted(const std::string& step);

protected:
    void gather(std::vector<Card>& cards, std::vector<Wire>& wires, std::vector<Area>& areas) override;
    void paint_card(QPainter& painter, const Card& card, bool chosen, double scale) override;
    void chosen_changed(const std::string& primary) override;
    void moved(const std::map<std::string, QPointF>& places) override;
    QString why_not_link(const std::string& from, const std::string& to, const std::string& input) override;
    void link(const std::string& from, const std::string& to, const std::string& input) override;
    void cut(const std::vector<std::pair<std::string, std::string>>& inputs) override;
    bool dropped_on_card(const std::string& from, const std::string& to, const QPoint& global) override;
    void pulled_into_open(const std::string& from, const QPointF& at, const QPoint& global) override;
    void pins_changed(const std::string& to, const std::string& input, const std::vector<QPointF>& via) override;
    void area_changed(std::size_t number, const Area& area, const std::map<std::string, QPointF>& cards) override;
    void area_rename(std::size_t number) override;
    void menu(const std::string& card, const QPointF& at, const QPoint& global) override;
    void opened(const std::string& card) override;
    void open_double_clicked(const QPointF& at, const QPoint& global) override;
    void dropped_on_wire(const std::string& card, const Wire& wire) override;
    QString hover_text(const Card& card) override;
    QString found_text(const Card& card) override;
    QString legend() const override;
    QString empty_text() const override { return "No steps yet. Double-click or press / to add one."; }
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    const Step* step(const std::string& id) const;
    std::set<std::string> chosen_steps() const;
    void add_at(const StepInfo& info, const QPointF& at, const std::string& from, const Wire* between);
    void ask_for_step(const QPointF& at, const QPoint& global, const std::string& from, const Wire* between);
    void add_here(const QPointF& at, const QPoint& global);
    Recipe with_places(const Recipe& recipe, const std::map<std::string, QPointF>& places) const;
    void edit_text(const QRectF& at, const QString& text, std::function<void(const QString&)> done);
    void change_chosen(const QString& name, const std::function<void(Step&)>& change);

    Session& session_;
    std::vector<std::string> traced_;
    std::string gathered_part_;
};

}  // namespace bricol
