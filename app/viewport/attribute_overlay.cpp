// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/viewport/attribute_overlay.h"

#include <algorithm>
#include <cmath>

#include "app/theme/theme.h"
#include "app/viewport/screen.h"
#include "core/formula/units.h"
#include "core/kernels/choose.h"
#include "core/kernels/normals.h"
#include "core/kernels/numbers_on.h"

namespace bricol {

namespace {

/// The domain an attribute stands on, in the order they are looked for.
const Attribute* found_on(const Mesh& mesh, std::string_view name, Domain& domain) {
    const std::string_view base = name.substr(0, name.find('.'));
    for (const Domain d : {Domain::vertex, Domain::face, Domain::corner, Domain::edge})
        if (const Attribute* found = mesh.attributes.find(d, base)) {
            domain = d;
            return found;
        }
    return nullptr;
}

}  // namespace

std::vector<std::string> AttributeOverlay::names(const std::vector<ShapePtr>& shapes) {
    std::vector<std::string> list;
    const auto add = [&](const std::string& name) {
        if (std::ranges::find(list, name) == list.end()) list.push_back(name);
    };
    for (const ShapePtr& shape : shapes)
        for (const Attribute& a : shape->mesh.attributes.all()) {
            if (a.domain == Domain::whole || a.name == attribute_name::material) continue;
            const std::string_view type = column_type(*a.values);
            if (!type.starts_with("vec")) {
                add(a.name);
                continue;
            }
            for (int i = 0; i < type[3] - '0'; ++i)
                add(a.name + "." + (a.name == attribute_name::colour ? "rgba" : "xyzw")[i]);
        }
    return list;
}

Paint AttributeOverlay::paint(const std::vector<ShapePtr>& shapes) {
    const std::vector<std::string> known = names(shapes);
    if (name.empty() && !known.empty()) {
        // The value an artist most likely means comes first.
        const auto weight = std::ranges::find(known, std::string(attribute_name::weight));
        name = weight != known.end() ? *weight : known.front();
    }
    shown = {name, 1e300, -1e300};
    for (const ShapePtr& shape : shapes)
        if (const auto values = numbers_on(shape->mesh, Domain::vertex, name))
            for (const float v : *values)
                shown.low = std::min(shown.low, static_cast<double>(v)),
                shown.high = std::max(shown.high, static_cast<double>(v));
    if (shown.low > shown.high) shown.low = 0, shown.high = 1;
    return shown;
}

void AttributeOverlay::draw(QPainter& painter, const Camera& camera, QSize view,
                            const std::vector<ShapePtr>& shapes) const {
    using theme::Role;
    const Projector projector(camera, view.width(), view.height());
    for (const ShapePtr& shape : shapes) {
        const Mesh& mesh = shape->mesh;
        Domain domain = Domain::vertex;
        const Attribute* found = found_on(mesh, name, domain);
        if (!found || (!numbers && !arrows)) continue;
        const Array<Vec3> normals = domain == Domain::face ? face_normals(mesh) : vertex_normals(mesh);
        const std::size_t count = domain == Domain::corner ? 0 : mesh.domain_sizes()[static_cast<std::size_t>(domain)];
        const auto faces_us = [&](std::size_t i, const DVec3& at) {
            if (mesh.face_count() == 0 || domain == Domain::edge) return true;
            const DVec3 towards = camera.flat() ? camera.direction() : camera.eye() - at;
            return glm::dot(DVec3(normals[i]), towards) > 0;
        };
        if (const auto* vectors = std::get_if<Array<Vec3>>(found->values.get());
            arrows && vectors && domain != Domain::corner) {
            double longest = 1e-12;
            for (const Vec3& v : *vectors) longest = std::max(longest, static_cast<double>(glm::length(v)));
            const double scale = camera.metres_per_pixel(view.height()) * 26 / longest;
            painter.setPen(QPen(theme::color(Role::act), 1.4));
            const std::size_t stride = std::max<std::size_t>(1, count / 4000);
            for (std::size_t i = 0; i < count; i += stride) {
                const DVec3 at = middle_of(mesh, domain, i);
                if (!faces_us(i, at)) continue;
                const QPointF a = point(projector.to_screen(at)),
                              b = point(projector.to_screen(at + DVec3((*vectors)[i]) * scale)), d = b - a;
                painter.drawLine(a, b);
                const double length = std::hypot(d.x(), d.y());
                if (length < 5) continue;
                const QPointF u = d / length, side(-u.y(), u.x());
                painter.drawLine(b, b - u * 5 + side * 2.5);
                painter.drawLine(b, b - u * 5 - side * 2.5);
            }
        }
        const auto values = numbers_on(mesh, domain, name);
        if (numbers && values) {
            painter.setFont(theme::number_font(8));
            painter.setPen(theme::color(Role::ink));
            std::vector<QRectF> taken;  // numbers do not cover one another
            for (std::size_t i = 0; i < count && taken.size() < 300; ++i) {
                const DVec3 at = middle_of(mesh, domain, i);
                if (!faces_us(i, at)) continue;
                const QPointF p = point(projector.to_screen(at));
                if (!QRectF(0, 40, view.width(), view.height() - 40).contains(p)) continue;
                const QString text = QString::number(static_cast<double>((*values)[i]), 'g', 3);
                const QRectF box(p + QPointF(3, -13), QSizeF(7.0 * static_cast<double>(text.size()) + 2, 12));
                if (std::ranges::any_of(taken, [&](const QRectF& other) { return other.intersects(box); })) continue;
                taken.push_back(box);
                painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, text);
            }
        }
    }
    // The legend: the scale from low to high with its ends and middle.
    const QRectF bar(view.width() - 30, 76, 12, 150);
    QLinearGradient gradient(bar.bottomLeft(), bar.topLeft());
    for (int i = 0; i <= 10; ++i) {
        const Vec3 c = scale_colour(i / 10.0);
        gradient.setColorAt(i / 10.0, QColor::fromRgbF(c.x, c.y, c.z));
    }
    QColor ground = theme::color(Role::card);
    ground.setAlpha(225);
    painter.setPen(QPen(theme::color(Role::line), 1));
    painter.setBrush(ground);
    painter.drawRoundedRect(bar.adjusted(-70, -26, 10, 12), 4, 4);
    painter.setBrush(gradient);
    painter.setPen(QPen(theme::color(Role::ink), 1));
    painter.drawRect(bar);
    painter.setFont(theme::text_font(8.5, 600));
    painter.setPen(theme::color(Role::ink));
    painter.drawText(QRectF(bar.left() - 64, bar.top() - 23, 78, 16), Qt::AlignRight | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(QString::fromStdString(name.empty() ? "no attribute" : name),
                                                      Qt::ElideRight, 78));
    painter.setFont(theme::number_font(8));
    for (const double share : {0.0, 0.5, 1.0}) {
        const double y = bar.bottom() - share * bar.height();
        painter.drawLine(QPointF(bar.left() - 3, y), QPointF(bar.left(), y));
        painter.drawText(QRectF(bar.left() - 82, y - 8, 74, 16), Qt::AlignRight | Qt::AlignVCenter,
                         QString::fromStdString(format_number(shown.low + (shown.high - shown.low) * share, 4)));
    }
}

}  // namespace bricol
