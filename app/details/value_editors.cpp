// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/details/value_editors.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPointer>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/details/number_row.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/files/kits.h"
#include "core/ground/colour.h"

namespace bricol {

namespace {

bool takes_delete(QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride) return false;
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key != Qt::Key_Delete && key != Qt::Key_Backspace) return false;
    event->accept();
    return true;
}

double rounded(double v) { return std::round(v * 1000) / 1000; }

void empty(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        if (item->layout()) empty(item->layout());
        delete item;
    }
}

}  // namespace

QColor screen_colour(const DVec3& c) {
    const auto part = [](double v) { return std::clamp(to_screen(v), 0.0, 1.0); };
    return QColor::fromRgbF(static_cast<float>(part(c.x)), static_cast<float>(part(c.y)),
                            static_cast<float>(part(c.z)));
}

DVec3 linear_colour(const QColor& c) {
    const auto part = [](double v) { return rounded(to_linear(v)); };
    return {part(static_cast<double>(c.redF())), part(static_cast<double>(c.greenF())),
            part(static_cast<double>(c.blueF()))};
}

// ---- Ramp ----

RampEdit::RampEdit(QWidget* parent) : QWidget(parent) {
    setFixedHeight(96);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag knots; double-click adds one; Del takes the chosen one away");
}

QRectF RampEdit::field() const { return QRectF(rect()).adjusted(6, 6, -6, -6); }
QPointF RampEdit::at(const RampKnot& k) const {
    return {field().left() + std::clamp(k.at, 0.0, 1.0) * field().width(),
            field().bottom() - k.value / high_ * field().height()};
}

void RampEdit::show_ramp(const DrawnRamp& ramp) {
    if (dragging_) return;
    ramp_ = ramp;
    high_ = 1;
    for (const RampKnot& k : ramp_.knots) high_ = std::max(high_, k.value);
    if (chosen_ >= static_cast<int>(ramp_.knots.size())) chosen_ = -1;
    update();
}

int RampEdit::knot_at(const QPointF& p) const {
    for (std::size_t k = 0; k < ramp_.knots.size(); ++k)
        if (const QPointF d = at(ramp_.knots[k]) - p; std::hypot(d.x(), d.y()) < 8) return static_cast<int>(k);
    return -1;
}

void RampEdit::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme::color(hasFocus() ? Role::act : Role::line), 1));
    painter.setBrush(theme::color(Role::card));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    painter.setPen(QPen(theme::color(Role::grid), 1));
    for (const double share : {0.25, 0.5, 0.75}) {
        painter.drawLine(QPointF(field().left() + share * field().width(), field().top()),
                         QPointF(field().left() + share * field().width(), field().bottom()));
        painter.drawLine(QPointF(field().left(), field().top() + share * field().height()),
                         QPointF(field().right(), field().top() + share * field().height()));
    }
    QPolygonF line;
    const int steps = static_cast<int>(field().width());
    for (int i = 0; i <= steps; ++i) {
        const double x = static_cast<double>(i) / std::max(1, steps);
        line << at({x, ramp_.value(x)});
    }
    painter.setPen(QPen(theme::color(Role::ink), 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
    for (std::size_t k = 0; k < ramp_.knots.size(); ++k) {
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::ink), 1.4));
        painter.setBrush(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::card));
        painter.drawEllipse(at(ramp_.knots[k]), 4, 4);
    }
}

void RampEdit::mousePressEvent(QMouseEvent* event) {
    chosen_ = knot_at(event->position());
    dragging_ = chosen_ >= 0;
    update();
}

void RampEdit::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0) return;
    auto& knots = ramp_.knots;
    const auto k = static_cast<std::size_t>(chosen_);
    const double low = k > 0 ? knots[k - 1].at + 0.001 : 0, high = k + 1 < knots.size() ? knots[k + 1].at - 0.001 : 1;
    knots[k].at =
        rounded(std::clamp((event->position().x() - field().left()) / field().width(), low, std::max(low, high)));
    knots[k].value =
        rounded(std::clamp((field().bottom() - event->position().y()) / field().height(), 0.0, 1.0) * high_);
    emit changed(ramp_, false);
    update();
}

void RampEdit::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    emit changed(ramp_, true);
}

void RampEdit::mouseDoubleClickEvent(QMouseEvent* event) {
    if (knot_at(event->position()) >= 0) return;
    const double x = rounded(std::clamp((event->position().x() - field().left()) / field().width(), 0.0, 1.0));
    const auto place = std::ranges::find_if(ramp_.knots, [&](const RampKnot& k) { return k.at > x; });
    chosen_ = static_cast<int>(place - ramp_.knots.begin());
    ramp_.knots.insert(
        place,
        {x, rounded(std::clamp((field().bottom() - event->position().y()) / field().height(), 0.0, 1.0) * high_)});
    emit changed(ramp_, true);
    update();
}

void RampEdit::keyPressEvent(QKeyEvent* event) {
    if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && chosen_ >= 0 &&
        ramp_.knots.size() > 1) {
        ramp_.knots.erase(ramp_.knots.begin() + chosen_);
        chosen_ = -1;
        emit changed(ramp_, true);
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

bool RampEdit::event(QEvent* event) { return (chosen_ >= 0 && takes_delete(event)) || QWidget::event(event); }

// ---- Gradient ----

GradientEdit::GradientEdit(QWidget* parent) : QWidget(parent) {
    setFixedHeight(46);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip("Drag stops; double-click a stop for its colour, the bar for a new one; Del takes the chosen one away");
}

QRectF GradientEdit::field() const { return QRectF(rect()).adjusted(7, 4, -7, -18); }
QPointF GradientEdit::at(const GradientStop& stop) const {
    return {field().left() + std::clamp(stop.at, 0.0, 1.0) * field().width(), field().bottom() + 8};
}

void GradientEdit::show_gradient(const Gradient& gradient) {
    if (dragging_) return;
    gradient_ = gradient;
    if (chosen_ >= static_cast<int>(gradient_.stops.size())) chosen_ = -1;
    update();
}

int GradientEdit::stop_at(const QPointF& p) const {
    for (std::size_t k = 0; k < gradient_.stops.size(); ++k)
        if (const QPointF d = at(gradient_.stops[k]) - p; std::abs(d.x()) < 7 && std::abs(d.y()) < 10)
            return static_cast<int>(k);
    return -1;
}

void GradientEdit::paintEvent(QPaintEvent*) {
    using theme::Role;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    QLinearGradient fill(field().topLeft(), field().topRight());
    for (int i = 0; i <= 32; ++i) fill.setColorAt(i / 32.0, screen_colour(gradient_.colour(i / 32.0)));
    painter.setPen(QPen(theme::color(hasFocus() ? Role::act : Role::line), 1));
    painter.setBrush(fill);
    painter.drawRoundedRect(field(), 3, 3);
    for (std::size_t k = 0; k < gradient_.stops.size(); ++k) {
        const QPointF p = at(gradient_.stops[k]);
        painter.setPen(QPen(theme::color(static_cast<int>(k) == chosen_ ? Role::chosen : Role::ink),
                            static_cast<int>(k) == chosen_ ? 2 : 1.2));
        painter.setBrush(screen_colour(gradient_.stops[k].colour));
        const QPolygonF house{{p.x(), p.y() - 7},
                              {p.x() + 5, p.y() - 2},
                              {p.x() + 5, p.y() + 6},
                              {p.x() - 5, p.y() + 6},
                              {p.x() - 5, p.y() - 2}};
        painter.drawPolygon(house);
    }
}

void GradientEdit::mousePressEvent(QMouseEvent* event) {
    chosen_ = stop_at(event->position());
    dragging_ = chosen_ >= 0;
    update();
}

void GradientEdit::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_ || chosen_ < 0) return;
    auto& stops = gradient_.stops;
    const auto k = static_cast<std::size_t>(chosen_);
    const double low = k > 0 ? stops[k - 1].at + 0.001 : 0, high = k + 1 < stops.size() ? stops[k + 1].at - 0.001 : 1;
    stops[k].at =
        rounded(std::clamp((event->position().x() - field().left()) / field().width(), low, std::max(low, high)));
    emit changed(gradient_, false);
    update();
}

void GradientEdit::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_) return;
    dragging_ = false;
    emit changed(gradient_, true);
}

void GradientEdit::set_colour(const DVec3& colour) {
    if (chosen_ < 0) return;
    gradient_.stops[static_cast<std::size_t>(chosen_)].colour = colour;
    emit changed(gradient_, true);
    update();
}

void GradientEdit::mouseDoubleClickEvent(QMouseEvent* event) {
    dragging_ = false;
    if (const int k = stop_at(event->position()); k >= 0) {
        chosen_ = k;
        const QColor picked = QColorDialog::getColor(screen_colour(gradient_.stops[static_cast<std::size_t>(k)].colour),
                                                     this, "Colour of this stop");
        if (picked.isValid()) set_colour(linear_colour(picked));
        return;
    }
    const double x = rounded(std::clamp((event->position().x() - field().left()) / field().width(), 0.0, 1.0));
    const DVec3 colour = gradient_.colour(x);
    const auto place = std::ranges::find_if(gradient_.stops, [&](const GradientStop& s) { return s.at > x; });
    chosen_ = static_cast<int>(place - gradient_.stops.begin());
    gradient_.stops.insert(place, {x, {rounded(colour.x), rounded(colour.y), rounded(colour.z)}});
    emit changed(gradient_, true);
    update();
}

void GradientEdit::keyPressEvent(QKeyEvent* event) {
    if ((event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) && chosen_ >= 0 &&
        gradient_.stops.size() > 1) {
        gradient_.stops.erase(gradient_.stops.begin() + chosen_);
        chosen_ = -1;
        emit changed(gradient_, true);
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

bool GradientEdit::event(QEvent* event) { return (chosen_ >= 0 && takes_delete(event)) || QWidget::event(event); }

// ---- Editors in the details ----

namespace {

/// What every editor needs to write its value.
struct Spot {
    Session* session;
    std::string part, step, key;
    QString name;
    Json written() const {
        const Part* holder = session->recipe().part(part);
        const Step* one = holder ? find_step(*holder, step) : nullptr;
        return one && one->settings.contains(key) ? one->settings[key] : Json();
    }
    void write(const Json& value, const QString& merge = {}) const {
        session->edit(set_setting(session->recipe(), part, step, key, value), "Change " + name.toLower(), merge);
    }
};

QLabel* label_for(const ParameterInfo& p, QWidget* parent) {
    auto* label = new QLabel(text_of(p.label), parent);
    label->setToolTip(text_of(p.help));
    return label;
}

QWidget* colour_row(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->addWidget(label_for(p, line), 1);
    auto* button = new QPushButton(line);
    button->setObjectName("colour:" + QString::fromStdString(place.key));
    button->setFixedSize(112, 24);
    button->setToolTip(text_of(p.help));
    row->addWidget(button);
    auto now = std::make_shared<DVec3>(p.standard_vector);
    QObject::connect(button, &QPushButton::clicked, line, [place, now, button] {
        const QColor picked = QColorDialog::getColor(screen_colour(*now), button, place.name);
        if (!picked.isValid()) return;
        const DVec3 c = linear_colour(picked);
        place.write(Json::array({c.x, c.y, c.z}));
    });
    refresh = [button, now, p](const Values& values) {
        const auto found = values.find(p.key);
        if (found == values.end()) return;
        *now = std::get<DVec3>(found->second);
        const QColor c = screen_colour(*now);
        button->setText(c.name());
        button->setStyleSheet(
            QString("background:%1;color:%2;border:1px solid %3;border-radius:3px;")
                .arg(c.name(), c.lightnessF() > 0.5f ? "#22303C" : "#FBF9F4", theme::color(theme::Role::line).name()));
    };
    return line;
}

QWidget* ramp_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 24, 2);
    auto* head = new QHBoxLayout;
    head->addWidget(label_for(p, box), 1);
    auto* eased = new QCheckBox("smooth", box);
    eased->setObjectName("smooth:" + QString::fromStdString(place.key));
    head->addWidget(eased);
    column->addLayout(head);
    auto* edit = new RampEdit(box);
    edit->setObjectName("ramp:" + QString::fromStdString(place.key));
    column->addWidget(edit);
    const auto write = [place](const DrawnRamp& ramp, bool done) {
        Json knots = Json::array();
        for (const RampKnot& k : ramp.knots) knots.push_back({k.at, k.value});
        place.write(Json{{"knots", knots}, {"smooth", ramp.smooth}},
                    "ramp:" + QString::fromStdString(place.step + place.key));
        if (done) place.session->part_edits();
    };
    QObject::connect(edit, &RampEdit::changed, box, write);
    QObject::connect(eased, &QCheckBox::clicked, box, [write, edit](bool on) {
        DrawnRamp ramp = edit->ramp();
        ramp.smooth = on;
        write(ramp, true);
    });
    refresh = [edit, eased, p](const Values& values) {
        const auto found = values.find(p.key);
        if (found == values.end()) return;
        edit->show_ramp(std::get<DrawnRamp>(found->second));
        eased->setChecked(std::get<DrawnRamp>(found->second).smooth);
    };
    return box;
}

QWidget* gradient_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 24, 2);
    column->addWidget(label_for(p, box));
    auto* edit = new GradientEdit(box);
    edit->setObjectName("gradient:" + QString::fromStdString(place.key));
    column->addWidget(edit);
    QObject::connect(edit, &GradientEdit::changed, box, [place](const Gradient& gradient, bool done) {
        Json stops = Json::array();
        for (const GradientStop& s : gradient.stops)
            stops.push_back(Json{{"at", s.at}, {"colour", {s.colour.x, s.colour.y, s.colour.z}}});
        Json written{{"stops", stops}};
        if (gradient.smooth) written["smooth"] = true;
        place.write(written, "gradient:" + QString::fromStdString(place.step + place.key));
        if (done) place.session->part_edits();
    });
    refresh = [edit, p](const Values& values) {
        if (const auto found = values.find(p.key); found != values.end())
            edit->show_gradient(std::get<Gradient>(found->second));
    };
    return box;
}

/// Rows of text fields kept in one JSON list; `read` and `write` turn one row into texts and back.
QWidget* list_rows(const Spot& place, const ParameterInfo& p, const QStringList& heads,
                   const std::function<QStringList(const Json&)>& read,
                   const std::function<Json(const QStringList&)>& write, const QString& add_text,
                   std::function<void(const Values&)>& refresh) {
    auto* box = new QWidget;
    box->setObjectName("rows:" + QString::fromStdString(place.key));
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 4, 2);
    column->setSpacing(2);
    column->addWidget(label_for(p, box));
    auto* rows = new QVBoxLayout;
    rows->setSpacing(2);
    column->addLayout(rows);
    auto* add = new QPushButton(add_text, box);
    add->setObjectName("addRow:" + QString::fromStdString(place.key));
    column->addWidget(add, 0, Qt::AlignLeft);
    auto shown = std::make_shared<std::string>("\n");
    const auto build = [box, rows, place, heads, read, write, shown] {
        const Json list = place.written().is_array() ? place.written() : Json::array();
        const std::string text = list.dump();
        if (*shown == text) return;
        // A field in hand is not pulled away under the fingers: only its neighbours change.
        *shown = text;
        empty(rows);
        constexpr std::size_t most = 200;
        for (std::size_t i = 0; i < list.size() && i < most; ++i) {
            auto* line = new QWidget(box);
            auto* row = new QHBoxLayout(line);
            row->setContentsMargins(0, 0, 0, 0);
            row->setSpacing(2);
            const QStringList texts = read(list[i]);
            for (int c = 0; c < heads.size(); ++c) {
                auto* field = new QLineEdit(c < texts.size() ? texts[c] : QString(), line);
                field->setObjectName(QString("cell:%1:%2:%3").arg(QString::fromStdString(place.key)).arg(i).arg(c));
                field->setPlaceholderText(heads[c]);
                field->setFont(theme::number_font(9));
                field->setFixedHeight(23);
                field->setCursorPosition(0);
                if (heads.size() == 2 && c == 0) field->setFixedWidth(64);
                QObject::connect(field, &QLineEdit::editingFinished, line, [field, place, i, write, line, heads] {
                    if (!field->isModified()) return;
                    field->setModified(false);
                    QStringList now;
                    for (auto* one : line->findChildren<QLineEdit*>()) now << one->text().trimmed();
                    Json all = place.written();
                    if (!all.is_array() || i >= all.size()) return;
                    all[i] = write(now);
                    place.write(all);
                });
                row->addWidget(field, heads.size() == 2 && c == 0 ? 0 : 1);
            }
            auto* gone = new QToolButton(line);
            gone->setText("×");
            gone->setObjectName(QString("removeRow:%1:%2").arg(QString::fromStdString(place.key)).arg(i));
            gone->setToolTip("Take this row away");
            gone->setFixedSize(20, 22);
            QObject::connect(gone, &QToolButton::clicked, line, [place, i] {
                Json all = place.written();
                if (!all.is_array() || i >= all.size()) return;
                all.erase(i);
                place.write(all);
            });
            row->addWidget(gone);
            rows->addWidget(line);
        }
        if (list.size() > most)
            rows->addWidget(new QLabel(QString("and %1 more, kept as they are").arg(list.size() - most), box));
    };
    QObject::connect(add, &QPushButton::clicked, box, [place, write, heads] {
        Json all = place.written().is_array() ? place.written() : Json::array();
        QStringList blank;
        for (int c = 0; c < heads.size(); ++c) blank << QString();
        all.push_back(write(blank));
        place.write(all);
    });
    refresh = [build](const Values&) { build(); };
    return box;
}

/// A number as typed, or a formula.
Json number_json(const QString& text) {
    bool plain = false;
    const double value = text.toDouble(&plain);
    if (text.isEmpty()) return 0;
    if (plain) return value;
    return text.startsWith('=') ? text.toStdString() : "= " + text.toStdString();
}
QString number_text(const Json& json) {
    return json.is_string()   ? QString::fromStdString(json.get<std::string>())
           : json.is_number() ? QString::fromStdString(format_number(json.get<double>(), 9))
                              : QString();
}

QWidget* formula_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    const auto text = [](const Json& row, const char* key) {
        return row.is_object() && row.contains(key) && row[key].is_string()
                   ? QString::fromStdString(row[key].get<std::string>())
                   : QString();
    };
    return list_rows(
        place, p, {"target", "formula"},
        [text](const Json& row) {
            return QStringList{text(row, "target"), text(row, "formula")};
        },
        [](const QStringList& texts) {
            return Json{{"target", texts.value(0).isEmpty() ? "z" : texts.value(0).toStdString()},
                        {"formula", texts.value(1).isEmpty() ? "z" : texts.value(1).toStdString()}};
        },
        "+ row", refresh);
}

QWidget* point_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    return list_rows(
        place, p, {"x", "y", "z"},
        [](const Json& row) {
            QStringList texts;
            for (std::size_t i = 0; i < 3; ++i)
                texts << (row.is_array() && i < row.size() ? number_text(row[i]) : QString());
            return texts;
        },
        [](const QStringList& texts) {
            return Json::array({number_json(texts.value(0)), number_json(texts.value(1)), number_json(texts.value(2))});
        },
        "+ point", refresh);
}

QWidget* index_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    return list_rows(
        place, p, {"0, 1, 2 …"},
        [](const Json& row) {
            QStringList parts;
            if (row.is_array())
                for (const auto& item : row) parts << number_text(item);
            return QStringList{parts.join(", ")};
        },
        [](const QStringList& texts) {
            Json list = Json::array();
            for (const QString& one : texts.value(0).split(',', Qt::SkipEmptyParts))
                list.push_back(number_json(one.trimmed()));
            return list;
        },
        "+ list", refresh);
}

QWidget* attribute_row(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->addWidget(label_for(p, line), 1);
    auto* combo = new QComboBox(line);
    combo->setObjectName("attribute:" + QString::fromStdString(place.key));
    combo->setEditable(true);
    combo->setInsertPolicy(QComboBox::NoInsert);
    combo->setFixedSize(112, 24);
    combo->setToolTip(text_of(p.help));
    combo->lineEdit()->setPlaceholderText("none");
    row->addWidget(combo);
    const auto write = [place](const QString& text) {
        const Json before = place.written();
        if (before.is_string() ? before == text.trimmed().toStdString() : false) return;
        place.write(text.trimmed().toStdString());
    };
    QObject::connect(combo, &QComboBox::activated, line, [write, combo] { write(combo->currentData().toString()); });
    QObject::connect(combo->lineEdit(), &QLineEdit::editingFinished, line, [write, combo] {
        if (combo->lineEdit()->isModified()) write(combo->lineEdit()->text());
    });
    refresh = [combo, place, p](const Values& values) {
        const auto found = values.find(p.key);
        if (found == values.end() || combo->lineEdit()->hasFocus()) return;
        const QSignalBlocker quiet(combo);
        combo->clear();
        combo->addItem("none", QString());
        const Part* part = place.session->recipe().part(place.part);
        const StepOutcome* before =
            part ? place.session->outcome(place.part, source_of(*part, step_index(*part, place.step), "shape"))
                 : nullptr;
        if (before)
            for (const Attribute& a : before->shape->mesh.attributes.all())
                if (a.domain != Domain::whole && combo->findText(QString::fromStdString(a.name)) < 0)
                    combo->addItem(QString::fromStdString(a.name), QString::fromStdString(a.name));
        combo->setCurrentIndex(-1);
        combo->setEditText(QString::fromStdString(std::get<std::string>(found->second)));
    };
    return line;
}

QWidget* file_row(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 24, 0);
    row->setSpacing(4);
    row->addWidget(label_for(p, line));
    auto* field = new QLineEdit(line);
    field->setObjectName("kit:" + QString::fromStdString(place.key));
    field->setFixedHeight(24);
    field->setToolTip(text_of(p.help));
    const bool kit = p.kind == ParameterKind::kit;
    field->setPlaceholderText("a file beside this one");
    row->addWidget(field, 1);
    auto* choose = new QToolButton(line);
    choose->setText("…");
    choose->setFixedSize(24, 24);
    choose->setToolTip(kit ? "Choose a kit recipe's file" : "Choose a file");
    row->addWidget(choose);
    QObject::connect(field, &QLineEdit::editingFinished, line, [place, field] {
        if (field->isModified() && !field->isReadOnly()) place.write(field->text().trimmed().toStdString());
    });
    const QString endings = kit ? QString("Bricol recipes (*.bricol)") : text_of(p.file_filter);
    QObject::connect(choose, &QToolButton::clicked, line, [place, line, kit, endings] {
        const QString file =
            QFileDialog::getOpenFileName(line, kit ? "Kit recipe" : "File", place.session->folder(), endings);
        if (!file.isEmpty()) place.write(QDir(place.session->folder()).relativeFilePath(file).toStdString());
    });
    refresh = [field, place](const Values&) {
        const Json written = place.written();
        field->setReadOnly(written.is_object());
        if (!field->hasFocus())
            field->setText(written.is_object()   ? "packed steps"
                           : written.is_string() ? QString::fromStdString(written.get<std::string>())
                                                 : QString());
    };
    return line;
}

QWidget* dial_rows(const Spot& place, const ParameterInfo& p, std::function<void(const Values&)>& refresh) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(3);
    auto shown = std::make_shared<std::string>("\n");
    auto rows = std::make_shared<std::vector<std::pair<std::string, QPointer<NumberRow>>>>();
    refresh = [box, column, place, p, shown, rows](const Values&) {
        const auto inner = recipe_inside(place.session->recipe(), place.part, place.step,
                                         place.session->environment().find_kit, place.session->folder().toStdString());
        std::string names;
        if (inner)
            for (const Dial& dial : inner->dials)
                names += dial.name + dial.unit + format_number(dial.low) + format_number(dial.high) + "\n";
        if (*shown != names) {
            *shown = names;
            rows->clear();
            empty(column);
            if (inner && !inner->dials.empty()) column->addWidget(label_for(p, box));
            if (inner)
                for (const Dial& dial : inner->dials) {
                    ParameterInfo info;
                    info.label = "";
                    info.quantity = dial.unit == "m"       ? Quantity::length
                                    : dial.unit == "deg"   ? Quantity::angle
                                    : dial.unit == "count" ? Quantity::count
                                                           : Quantity::plain;
                    info.low = info.soft_low = dial.low, info.high = info.soft_high = dial.high;
                    info.standard = dial.value;
                    auto* row = new NumberRow(*place.session,
                                              {place.part, place.step, "", -1, "/" + place.key + "/" + dial.name}, info,
                                              QString::fromStdString(dial.name).replace('_', ' '), box);
                    row->setToolTip(QString::fromStdString(dial.help));
                    column->addWidget(row);
                    rows->emplace_back(dial.name, row);
                }
        }
        if (!inner) return;
        for (const auto& [name, row] : *rows) {
            if (!row) continue;
            const Json written =
                written_at(place.session->recipe(), {place.part, place.step, "", -1, "/" + place.key + "/" + name});
            const auto value = written.is_null() ? Result<double>(inner->dial(name)->value)
                                                 : place.session->resolver().number(place.part, written);
            row->refresh(value ? *value : 0);
        }
    };
    return box;
}

}  // namespace

QWidget* value_editor(Session& session, const std::string& part, const std::string& step, const ParameterInfo& p,
                      std::function<void(const Values&)>& refresh) {
    const Spot place{&session, part, step, std::string(p.key), text_of(p.label)};
    switch (p.kind) {
        case ParameterKind::colour:
            return colour_row(place, p, refresh);
        case ParameterKind::ramp:
            return ramp_rows(place, p, refresh);
        case ParameterKind::gradient:
            return gradient_rows(place, p, refresh);
        case ParameterKind::rows:
            return formula_rows(place, p, refresh);
        case ParameterKind::points:
            return point_rows(place, p, refresh);
        case ParameterKind::lists:
            return index_rows(place, p, refresh);
        case ParameterKind::attribute:
            return attribute_row(place, p, refresh);
        case ParameterKind::kit:
        case ParameterKind::file:
            return file_row(place, p, refresh);
        case ParameterKind::dials:
            return dial_rows(place, p, refresh);
        default:
            return nullptr;
    }
}

}  // namespace bricol
