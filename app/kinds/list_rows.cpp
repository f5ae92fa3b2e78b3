// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/kinds/list_rows.h"

#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/theme/theme.h"

namespace bricol {

Editor list_rows(const EditorPlace& place, const QStringList& heads,
                 const std::function<QStringList(const Json&)>& read,
                 const std::function<Json(const QStringList&)>& write, const QString& add_text,
                 const std::function<void(QLineEdit* field, int column)>& dress) {
    const ParameterInfo& p = place.info;
    auto* box = new QWidget;
    box->setObjectName("rows:" + QString::fromStdString(place.key()));
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 4, 2);
    column->setSpacing(2);
    column->addWidget(setting_label(p, box));
    auto* rows = new QVBoxLayout;
    rows->setSpacing(2);
    column->addLayout(rows);
    auto* add = new QPushButton(add_text, box);
    add->setObjectName("addRow:" + QString::fromStdString(place.key()));
    column->addWidget(add, 0, Qt::AlignLeft);
    auto shown = std::make_shared<std::string>("\n");
    const auto build = [box, rows, place, heads, read, write, shown, dress] {
        const Json list = place.written().is_array() ? place.written() : Json::array();
        const std::string text = json_text(list);
        if (*shown == text) return;
        // A field in hand is not pulled away under the fingers: only its neighbours change.
        *shown = text;
        empty_layout(rows);
        constexpr std::size_t most = 200;
        for (std::size_t i = 0; i < list.size() && i < most; ++i) {
            auto* line = new QWidget(box);
            auto* row = new QHBoxLayout(line);
            row->setContentsMargins(0, 0, 0, 0);
            row->setSpacing(2);
            const QStringList texts = read(list[i]);
            for (int c = 0; c < heads.size(); ++c) {
                auto* field = new QLineEdit(c < texts.size() ? texts[c] : QString(), line);
                field->setObjectName(QString("cell:%1:%2:%3").arg(QString::fromStdString(place.key())).arg(i).arg(c));
                field->setPlaceholderText(heads[c]);
                field->setFont(theme::number_font(9));
                field->setFixedHeight(23);
                field->setCursorPosition(0);
                if (heads.size() == 2 && c == 0) field->setFixedWidth(64);
                if (dress) dress(field, c);
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
            gone->setObjectName(QString("removeRow:%1:%2").arg(QString::fromStdString(place.key())).arg(i));
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
    const auto refresh = [build](const Values&) { build(); };
    return {box, refresh};
}

Json typed_number(const QString& text) {
    bool plain = false;
    const double value = text.toDouble(&plain);
    if (text.isEmpty()) return 0;
    if (plain) return value;
    return text.startsWith('=') ? text.toStdString() : "= " + text.toStdString();
}

QString number_as_typed(const Json& json) {
    return json.is_string()   ? QString::fromStdString(json.get<std::string>())
           : json.is_number() ? QString::fromStdString(format_number(json.get<double>(), 9))
                              : QString();
}

}  // namespace bricol
