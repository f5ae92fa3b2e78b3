// SPDX-License-Identifier: GPL-3.0-or-later
// A sheet of cards and wires: pan, zoom, choose, move, pull wires, cut them. Knows nothing of steps; what cards mean,
// and what an edit does, is said by whoever derives from it.
#pragma once

#include <QLineEdit>
#include <QPointer>
#include <QWidget>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace bricol {

/// "No wire, no area".
inline constexpr std::size_t no_place = static_cast<std::size_t>(-1);
/// Below this zoom cards show their colour only.
inline constexpr double far_out = 0.35;

class GraphView : public QWidget {
    Q_OBJECT
public:
    explicit GraphView(QWidget* parent = nullptr);

    /// What runs in a wire; told by the pen alone.
    enum class Pen { mesh, curves, points, instances, number };
    struct Notch {
        std::string key;
        QString label;
        bool linked = false;
    };
    struct Card {
        std::string id;
        QRectF rect;                 ///< on the sheet
        std::vector<Notch> inputs;   ///< down the left edge
        bool gives = true;           ///< has a tongue on the right
        bool numbers_below = false;  ///< its tongue is at the bottom: a block of numbers
        QPointF input_at(std::size_t i) const;
        QPointF output_at() const;
    };
    struct Wire {
        std::string from, to, input;
        std::vector<QPointF> via;
        Pen pen = Pen::mesh;
        bool fixed = false;  ///< a link that is written as a formula: shown, not pulled
    };
    struct Area {  ///< a titled frame
        QString title;
        QRectF rect;
    };

    // For tests and for whoever looks on.
    QPoint to_view(const QPointF& on_sheet) const;
    QPointF to_sheet(const QPointF& in_view) const;
    const std::vector<Card>& cards() const { return cards_; }
    const std::vector<Wire>& wires() const { return wires_; }
    const std::vector<Area>& areas() const { return areas_; }
    const Card* card(const std::string& id) const;
    const std::set<std::string>& chosen() const { return chosen_; }
    double zoom() const { return zoom_; }
    QPoint card_view_at(const std::string& id) const;
    QPoint input_view_at(const std::string& id, const std::string& input) const;
    QPoint output_view_at(const std::string& id) const;
    QRect overview_rect() const;

    void fit(bool chosen_only);
    void zoom_by(double factor, const QPointF& about);
    void set_overview(bool on);
    bool overview() const { return overview_; }
    void find();
    void choose_cards(std::set<std::string> ids);
    /// Takes cards, wires and frames anew from whoever derives.
    void regather();

protected:
    virtual void gather(std::vector<Card>& cards, std::vector<Wire>& wires, std::vector<Area>& areas) = 0;
    virtual void paint_card(QPainter& painter, const Card& card, bool chosen, double scale) = 0;
    virtual void chosen_changed(const std::string& primary) = 0;
    virtual void moved(const std::map<std::string, QPointF>& places) = 0;
    /// Why a wire cannot go there; empty when it can.
    virtual QString why_not_link(const std::string& from, const std::string& to, const std::string& input) = 0;
    virtual void link(const std::string& from, const std::string& to, const std::string& input) = 0;
    virtual void cut(const std::vector<std::pair<std::string, std::string>>& inputs) = 0;
    /// A wire dropped anywhere on a card; true when that was taken care of.
    virtual bool dropped_on_card(const std::string&, const std::string&, const QPoint&) { return false; }
    virtual void pulled_into_open(const std::string& from, const QPointF& at, const QPoint& global) = 0;
    virtual void pins_changed(const std::string& to, const std::string& input, const std::vector<QPointF>& via) = 0;
    virtual void area_changed(std::size_t, const Area&, const std::map<std::string, QPointF>&) {}
    virtual void area_rename(std::size_t) {}
    virtual void menu(const std::string& card, const QPointF& at, const QPoint& global) = 0;
    virtual void opened(const std::string& card) = 0;  ///< double click
    virtual void open_double_clicked(const QPointF& at, const QPoint& global) = 0;
    /// A card dropped on a wire goes in between, where that is possible.
    virtual void dropped_on_wire(const std::string&, const Wire&) {}
    virtual QString hover_text(const Card& card) = 0;
    virtual QString found_text(const Card& card) = 0;  ///< what a search looks through
    virtual QString legend() const { return {}; }
    virtual QString empty_text() const = 0;

    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void showEvent(QShowEvent* event) override;

    /// Number of the wire that runs there; wires_.size() for none.
    std::size_t wire_at(const QPointF& at) const;

    std::vector<Card> cards_;
    std::vector<Wire> wires_;
    std::vector<Area> areas_;
    std::set<std::string> chosen_;
    std::string primary_;
    QPointF pointer_;  ///< on the sheet

private:
    enum class Act { none, pan, band, move, wire, stroke, pin, area_move, area_size, overview };
    const Card* card_at(const QPointF& at) const;
    bool notch_at(const QPointF& at, std::string& card, std::string& input, bool& output) const;
    bool pin_at(const QPointF& at, std::size_t& wire, std::size_t& pin) const;
    std::size_t area_at(const QPointF& at, bool& corner) const;
    std::vector<QPointF> route(const Wire& wire) const;
    std::vector<QPointF> route(const QPointF& from, const QPointF& to, const std::vector<QPointF>& via,
                               bool from_below) const;
    void paint_wire(QPainter& painter, const Wire& wire, bool lit) const;
    void paint_overview(QPainter& painter) const;
    void paint_ground(QPainter& painter, const QRectF& seen) const;
    void paint_card_with_pins(QPainter& painter, const Card& card);
    void paint_act(QPainter& painter) const;
    void paint_over(QPainter& painter);
    QRectF bounds(bool chosen_only) const;
    void set_zoom(double zoom, const QPointF& about_view);
    void finish_wire(const QPointF& at, const QPoint& global);
    void cut_with_stroke();
    void look(const std::string& id);

    QPointF origin_{-60, -60};  ///< sheet place at the view's upper left
    double zoom_ = 1;
    bool overview_ = true, fitted_ = false;
    bool follows_ = true;  ///< fits anew when the view is resized, until a hand moved it
    Act act_ = Act::none;
    QPointF press_, press_view_, band_to_;
    bool moved_ = false;
    std::map<std::string, QPointF> move_from_;
    std::string pull_from_, pull_to_, pull_input_, refusal_;
    bool pull_forward_ = true;
    std::vector<QPointF> stroke_;
    std::size_t act_index_ = 0, act_pin_ = 0;
    Area area_before_;
    QPointer<QLineEdit> find_;
    std::set<std::string> lit_;
};

}  // namespace bricol
