// SPDX-License-Identifier: GPL-3.0-or-later
// The small sheet inside a mixer: blocks that read, reckon and write, wired to one another.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>

#include "app/document/session.h"
#include "app/sheet/graph_view.h"
#include "core/formula/blocks.h"

namespace bricol {

class BlockGraph : public GraphView {
    Q_OBJECT
public:
    explicit BlockGraph(Session& session, QWidget* parent = nullptr);
    void show_step(const std::string& part, const std::string& step);
    const std::string& step() const { return step_; }
    const std::string& part() const { return part_; }
    /// The blocks as they stand in the recipe, formulas as written.
    Json blocks() const;
    void write(const Json& blocks, const QString& name);
    std::string chosen_block() const { return primary_; }
    void add_block(const std::string& kind, const QPointF& at, const std::string& from = {});
    void delete_chosen();

signals:
    void blockChosen(const std::string& id);

protected:
    void gather(std::vector<Card>& cards, std::vector<Wire>& wires, std::vector<Area>& areas) override;
    void paint_card(QPainter& painter, const Card& card, bool chosen, double scale) override;
    void chosen_changed(const std::string& primary) override;
    void moved(const std::map<std::string, QPointF>& places) override;
    QString why_not_link(const std::string& from, const std::string& to, const std::string& input) override;
    void link(const std::string& from, const std::string& to, const std::string& input) override;
    void cut(const std::vector<std::pair<std::string, std::string>>& inputs) override;
    void pulled_into_open(const std::string& from, const QPointF& at, const QPoint& global) override;
    void pins_changed(const std::string&, const std::string&, const std::vector<QPointF>&) override {}
    void menu(const std::string& card, const QPointF& at, const QPoint& global) override;
    void opened(const std::string&) override {}
    void open_double_clicked(const QPointF& at, const QPoint& global) override;
    QString hover_text(const Card& card) override;
    QString found_text(const Card& card) override;
    QString legend() const override { return "hair-thin: one number   solid: three numbers at once"; }
    QString empty_text() const override {
        return "No blocks yet. Double-click to add one: Read a value, reckon with it, Write it.";
    }
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    Json* block(Json& blocks, const std::string& id) const;
    void offer_blocks(const QPointF& at, const QPoint& global, const std::string& from);
    int width_of(const Json& blocks, const std::string& id, int depth) const;
    Session& session_;
    std::string part_, step_;
};

/// The graph with the numbers of the chosen block beside it.
class MixerSheet : public QWidget {
    Q_OBJECT
public:
    explicit MixerSheet(Session& session, QWidget* parent = nullptr);
    void show_step(const std::string& part, const std::string& step);
    BlockGraph& graph() { return *graph_; }

signals:
    void closeWanted();

private:
    void refresh();
    void set_in_block(const std::string& id, const std::string& key, const Json& value);
    QWidget* name_field(const Json& block);
    QWidget* input_row(const Json& block, const BlockInfo::Input& input);

    Session& session_;
    BlockGraph* graph_;
    QLabel* title_;
    QVBoxLayout* fields_;
    std::string shown_;
};

}  // namespace bricol
