// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/strip/step_card.h"

#include <QPainterPath>
#include <algorithm>

#include "app/document/step_edits.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/kernels/stand_ins.h"
#include "core/kernels/transform.h"

namespace bricol {

QString count_text(const Shape& shape) {
    std::size_t copies = 0;
    for (const Instances& group : shape.instances) copies += group.count();
    if (copies > 1) return QString("%1 × %2").arg(copies).arg(grouped(shape.face_count() / copies));
    if (shape.face_count() > 0) return grouped(shape.face_count()) + (shape.face_count() == 1 ? " face" : " faces");
    if (!shape.curves.empty()) return grouped(shape.knot_count()) + (shape.knot_count() == 1 ? " knot" : " knots");
    return shape.mesh.empty()
               ? "nothing"
               : grouped(shape.mesh.vertex_count()) + (shape.mesh.vertex_count() == 1 ? " point" : " points");
}

namespace {

/// A finding folds the corner over; the sign in it says how bad it is without needing the colour.
void paint_finding_mark(QPainter& painter, const QRect& r, const Session& session, const Step& step,
                        const StepOutcome* outcome) {
    using theme::Role;
    std::vector<Finding> findings = outcome ? outcome->findings : std::vector<Finding>{};
    const PartOutcome* made = session.made() ? session.made()->part(session.made_recipe(), session.part()) : nullptr;
    if (made && made->result_step == step.id)
        findings.insert(findings.end(), made->findings.begin(), made->findings.end());
    Severity worst = Severity::note;
    for (const Finding& f : findings) worst = std::max(worst, f.severity);
    if (worst != Severity::note) {
        QPainterPath corner;
        corner.moveTo(r.right() - 17, r.top() + 1);
        corner.lineTo(r.right(), r.top() + 1);
        corner.lineTo(r.right(), r.top() + 18);
        corner.closeSubpath();
        painter.fillPath(corner, theme::color(worst == Severity::error ? Role::error : Role::caution));
        painter.setPen(theme::color(Role::card));
        painter.setFont(theme::text_font(7.5, 600));
        painter.drawText(QRect(r.right() - 10, r.top() + 1, 9, 10), Qt::AlignCenter,
                         worst == Severity::error ? "!" : "?");
    }
}

}  // namespace

void paint_step_card(QPainter& painter, const QRect& r, const Session& session, const Step& step, bool chosen,
                     double device_ratio) {
    using theme::Role;
    const StepInfo* info = find_step_info(step.type);
    const StepOutcome* outcome = session.outcome(session.part(), step.id);
    const bool peeked = step.id == session.peek();
    if (peeked || step.ghost) {  // a tab on top says that it is looked at
        const QString text = peeked ? "peek" : "ghost";
        const QRect tab(r.center().x() - 22, r.top() - 16, 44, 18);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::color(peeked ? Role::chosen : Role::act));
        painter.drawRoundedRect(tab, 3, 3);
        painter.setPen(theme::color(Role::card));
        painter.setFont(theme::text_font(8));
        painter.drawText(tab.adjusted(0, 0, 0, -2), Qt::AlignCenter, text);
    }
    QPen edge(theme::color(chosen ? Role::chosen : step.skipped ? Role::soft_ink : Role::ink), chosen ? 2 : 1.2);
    if (step.skipped) edge.setStyle(Qt::DashLine);
    painter.setPen(edge);
    painter.setBrush(step.skipped ? theme::color(Role::panel) : theme::color(Role::card));
    painter.drawRoundedRect(QRectF(r).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    // The punched notch.
    painter.setPen(QPen(theme::color(chosen ? Role::chosen : Role::ink), 1));
    painter.setBrush(theme::color(Role::desk));
    painter.drawPie(QRect(r.left() + 13, r.top() - 5, 11, 11), 180 * 16, 180 * 16);
    const QColor ink = theme::color(step.skipped ? Role::soft_ink : Role::ink);
    if (info) painter.drawPixmap(r.left() + 8, r.top() + 11, theme::glyph(info->glyph, 18, ink, device_ratio));
    if (!info || !info->aside) {  // the result's tongue
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::color(chosen ? Role::chosen : Role::ink));
        painter.drawRect(QRect(r.right(), r.center().y() - 4, 3, 9));
    }

    const QString title = !step.title.empty() ? QString::fromStdString(step.title)
                          : info              ? text_of(info->name)
                                              : QString::fromStdString(step.type);
    painter.setPen(ink);
    painter.setFont(theme::text_font(9.5, 600));
    painter.drawText(QRect(r.left() + 32, r.top() + 6, r.width() - 46, 17), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(title, Qt::ElideRight, r.width() - 46));
    paint_finding_mark(painter, r, session, step, outcome);
    painter.setPen(ink);
    if (info && info->aside) {  // no shape: the words or the value take the whole card
        const QString text = telling_value(session, step, *info);
        painter.setFont(text.size() > 24 ? theme::text_font(8.5) : theme::number_font(9));
        painter.drawText(r.adjusted(10, 26, -8, -5), Qt::TextWordWrap | Qt::AlignLeft | Qt::AlignTop, text);
        return;
    }
    painter.setFont(theme::number_font(8.5));
    const QString telling = info ? telling_value(session, step, *info) : "unknown step";
    painter.drawText(QRect(r.left() + 32, r.top() + 23, r.width() - 40, 15), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(telling, Qt::ElideRight, r.width() - 40));
    painter.setPen(theme::color(Role::line));
    painter.drawLine(r.left() + 8, r.top() + 43, r.right() - 8, r.top() + 43);
    painter.setPen(theme::color(Role::soft_ink));
    painter.setFont(theme::text_font(8));
    const QRect foot(r.left() + 9, r.top() + 45, r.width() - 18, 16);
    painter.drawText(foot, Qt::AlignLeft | Qt::AlignVCenter,
                     step.skipped ? "skipped"
                     : outcome    ? count_text(*outcome->shape)
                                  : "…");
    if (outcome && !step.skipped)
        painter.drawText(foot, Qt::AlignRight | Qt::AlignVCenter, time_text(outcome->milliseconds));
}

void paint_at_work(QPainter& painter, const QRect& r, double of_step) {
    using theme::Role;
    const QRect foot(r.left() + 2, r.top() + 45, r.width() - 4, r.height() - 47);
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme::color(Role::card));
    painter.drawRect(foot);
    const QRectF bar(r.left() + 9, r.bottom() - 5, r.width() - 18, 3);
    painter.setBrush(theme::color(Role::line));
    painter.drawRect(bar);
    painter.setBrush(theme::color(Role::chosen));
    painter.drawRect(QRectF(bar.topLeft(), QSizeF(bar.width() * std::clamp(of_step, 0.04, 1.0), bar.height())));
    painter.setPen(theme::color(Role::chosen));
    painter.setFont(theme::text_font(8));
    painter.drawText(foot.adjusted(7, 0, -7, -5), Qt::AlignLeft | Qt::AlignVCenter,
                     of_step >= 0 ? QString("making, %1 %").arg(of_step * 100, 0, 'f', 0) : QString("making …"));
}

QString step_hover_text(const Session& session, const Step& step) {
    const StepInfo* info = find_step_info(step.type);
    QString text = "<p style='white-space:pre'><b>" +
                   QString::fromStdString(step.title.empty() ? step.id : step.title).toHtmlEscaped() + "</b>";
    if (info) text += "  " + text_of(info->purpose).toHtmlEscaped();
    if (!step.note.empty()) text += "\n<i>" + QString::fromStdString(step.note).toHtmlEscaped() + "</i>";
    const StepOutcome* outcome = session.outcome(session.part(), step.id);
    if (!outcome || (info && info->aside)) return text + "</p>";
    const Shape& shape = *outcome->shape;
    const Mesh& mesh = shape.mesh;
    QStringList counts;
    if (mesh.vertex_count())
        counts << grouped(mesh.vertex_count()) + " vertices" << grouped(mesh.edge_count()) + " edges"
               << grouped(mesh.face_count()) + " faces";
    if (!shape.curves.empty())
        counts << QString("%1 curves, %2 knots").arg(shape.curves.size()).arg(shape.knot_count());
    std::size_t copies = 0;
    for (const Instances& group : shape.instances) copies += group.count();
    if (copies) counts << QString("%1 copies of %2 shapes").arg(copies).arg(shape.instances.size());
    text += "\n" + (counts.isEmpty() ? QString("nothing on it") : counts.join(", "));
    QStringList attributes, sets;
    const Attributes carried = attributes_on(shape);
    for (const Attribute& a : carried.all()) {
        if (a.domain == Domain::whole) continue;
        if (column_type(*a.values) == "bool") continue;
        attributes << QString("%1 (%2, %3)")
                          .arg(QString::fromStdString(a.name).toHtmlEscaped(), text_of(column_type(*a.values)),
                               text_of(plural_name(a.domain)));
    }
    for (const SetInfo& set : sets_on(shape))
        sets << QString("%1 (%2 %3)")
                    .arg(QString::fromStdString(set.name).toHtmlEscaped())
                    .arg(set.size)
                    .arg(text_of(plural_name(set.domain)));
    if (!attributes.isEmpty()) text += "\nattributes: " + attributes.join(", ");
    if (!sets.isEmpty()) text += "\nsets: " + sets.join(", ");
    if (const auto box = box_of(shape)) {
        const std::string unit = session.recipe().unit;
        const auto length = [&](double v) { return QString::fromStdString(format_value(v, Quantity::length, unit)); };
        text += "\n" + length(box->size().x) + " × " + length(box->size().y) + " × " + length(box->size().z);
    }
    text += QString("\n%1 kB, %2 ms%3")
                .arg(shape.bytes() / 1024)
                .arg(outcome->milliseconds, 0, 'f', 2)
                .arg(outcome->kept ? ", kept from before" : "");
    return text + "</p>";
}

}  // namespace bricol
