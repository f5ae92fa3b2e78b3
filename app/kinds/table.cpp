// SPDX-License-Identifier: GPL-3.0-or-later
// A table of numbers typed cell by cell, or pasted from a sheet of figures; and the row that is chosen of it.
#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QKeyEvent>
#include <QPushButton>
#include <QRegularExpression>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/kinds/editor.h"
#include "app/kinds/list_rows.h"
#include "app/kinds/name_combo.h"
#include "app/theme/theme.h"
#include "core/catalogue/number_table.h"
#include "core/formula/formula.h"
#include "core/recipe/edit.h"

namespace bricol {

namespace {

/// More rows than this are kept but not shown.
constexpr int most_rows_shown = 500;

Json table_of(const Json& written) {
    Json table{{"heads", Json::array()}, {"rows", Json::array()}};
    if (!written.is_object()) return table;
    for (const char* key : {"heads", "rows"})
        if (written.contains(key) && written[key].is_array()) table[key] = written[key];
    return table;
}

/// The table with room for a row and a column (0 is the rows' names).
void widened(Json& table, std::size_t rows, std::size_t heads) {
    while (table["heads"].size() < heads)
        table["heads"].push_back("number" + std::to_string(table["heads"].size() + 1));
    while (table["rows"].size() < rows) table["rows"].push_back(Json::array());
    for (Json& row : table["rows"]) {
        if (!row.is_array()) row = Json::array();
        if (row.empty()) row.push_back("row" + std::to_string(&row - &table["rows"][0] + 1));
        while (row.size() < table["heads"].size() + 1) row.push_back(0);
    }
}

/// The name formulas know a head by: its unit stands behind it.
std::string name_of_head(const Json& head) {
    return head.is_string() ? head_name(head.get_ref<const std::string&>()) : std::string();
}

/// The first line of the grid holds the heads, its first column the rows' names.
void put_text(Json& table, int line, int column, const QString& text) {
    if (line == 0 && column == 0) return;
    widened(table, static_cast<std::size_t>(line), static_cast<std::size_t>(column));
    const auto at = static_cast<std::size_t>(column);
    if (line == 0)
        table["heads"][at - 1] = text.toStdString();
    else if (column == 0)
        table["rows"][static_cast<std::size_t>(line) - 1][0] = text.toStdString();
    else
        table["rows"][static_cast<std::size_t>(line) - 1][at] = typed_number(text);
}

QString text_at(const Json& table, int line, int column) {
    if (line == 0 && column == 0) return {};
    if (line == 0) return number_as_typed(table["heads"][static_cast<std::size_t>(column) - 1]);
    const Json& row = table["rows"][static_cast<std::size_t>(line) - 1];
    const auto at = static_cast<std::size_t>(column);
    return at < row.size() ? number_as_typed(row[at]) : QString();
}

class TableGrid : public QTableWidget {
public:
    TableGrid(EditorPlace place, QWidget* parent) : QTableWidget(parent), place_(std::move(place)) {
        setObjectName("table:" + QString::fromStdString(place_.key()));
        setFont(theme::number_font(8.5));
        verticalHeader()->hide();
        horizontalHeader()->hide();
        verticalHeader()->setDefaultSectionSize(22);
        horizontalHeader()->setDefaultSectionSize(76);
        setFixedHeight(190);
        setStyleSheet(QString("QTableWidget{background:%1;gridline-color:%2;border:1px solid %2;}")
                          .arg(theme::color(theme::Role::card).name(), theme::color(theme::Role::line).name()));
        setToolTip(
            "The first line holds the heads (a name, and its unit behind it), the first column the rows' names. "
            "Ctrl+V pastes figures from a sheet; Del clears.");
        connect(this, &QTableWidget::cellChanged, this, [this](int line, int column) {
            Json table = table_of(place_.written());
            const std::string before =
                line == 0 ? name_of_head(table["heads"][static_cast<std::size_t>(column) - 1]) : "";
            put_text(table, line, column, item(line, column)->text().trimmed());
            if (line == 0)
                rename_head(table, before, name_of_head(table["heads"][static_cast<std::size_t>(column) - 1]));
            else
                place_.write(table);
        });
    }
    /// Formulas that ask for a head follow its new name, unless another head has it: then it is for them to say which.
    void rename_head(const Json& table, const std::string& before, const std::string& after) {
        const auto named = [&](const Json& head) { return name_of_head(head) == after; };
        if (before.empty() || before == after || !usable_name(after) ||
            std::ranges::count_if(table["heads"], named) > 1)
            return place_.write(table);
        const Recipe renamed = with_given_renamed(place_.session->recipe(), place_.part, place_.step, before, after);
        place_.session->edit(set_setting(renamed, place_.part, place_.step, place_.key(), table), "Rename a head");
    }
    void show_table() {
        const Json table = table_of(place_.written());
        const std::string text = json_text(table);
        if (text == shown_ || state() == EditingState) return;
        shown_ = text;
        const QSignalBlocker quiet(this);
        setRowCount(1 + std::min<int>(most_rows_shown, static_cast<int>(table["rows"].size())));
        setColumnCount(1 + static_cast<int>(table["heads"].size()));
        setColumnWidth(0, 60);
        for (int line = 0; line < rowCount(); ++line)
            for (int column = 0; column < columnCount(); ++column) {
                auto* cell = new QTableWidgetItem(text_at(table, line, column));
                if (line == 0 || column == 0) {
                    cell->setFont(theme::text_font(8.5, 600));
                    cell->setBackground(theme::color(theme::Role::panel));
                } else {
                    cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
                }
                if (line == 0 && column == 0) cell->setFlags(Qt::ItemIsEnabled);
                setItem(line, column, cell);
            }
    }
    void add(bool row) {
        Json table = table_of(place_.written());
        widened(table, table["rows"].size() + (row ? 1 : 0), table["heads"].size() + (row ? 0 : 1));
        place_.write(table);
    }
    void remove(bool row) {
        Json table = table_of(place_.written());
        const int at = (row ? currentRow() : currentColumn()) - 1;
        if (at < 0 || at >= static_cast<int>(table[row ? "rows" : "heads"].size())) {
            place_.session->say(row ? "Choose a cell of the row first." : "Choose a cell of the column first.", true);
            return;
        }
        widened(table, table["rows"].size(), table["heads"].size());
        if (row) {
            table["rows"].erase(static_cast<std::size_t>(at));
        } else {
            table["heads"].erase(static_cast<std::size_t>(at));
            for (Json& one : table["rows"]) one.erase(static_cast<std::size_t>(at) + 1);
        }
        place_.write(table);
    }

protected:
    /// Figures are pasted and cleared here, not steps of the recipe.
    bool event(QEvent* event) override {
        if (event->type() == QEvent::ShortcutOverride) {
            auto* key = static_cast<QKeyEvent*>(event);
            if (key->matches(QKeySequence::Paste) || key->key() == Qt::Key_Delete || key->key() == Qt::Key_Backspace) {
                event->accept();
                return true;
            }
        }
        return QTableWidget::event(event);
    }
    void keyPressEvent(QKeyEvent* event) override {
        if (event->matches(QKeySequence::Paste)) {
            paste();
        } else if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) {
            Json table = table_of(place_.written());
            for (const QModelIndex& cell : selectedIndexes())
                if (cell.row() > 0 && cell.column() > 0) put_text(table, cell.row(), cell.column(), "0");
            place_.write(table);
        } else {
            QTableWidget::keyPressEvent(event);
        }
    }

private:
    void paste() {
        Json table = table_of(place_.written());
        const int from_line = std::max(0, currentRow()), from_column = std::max(0, currentColumn());
        const QStringList lines = QApplication::clipboard()->text().trimmed().split('\n');
        static const QRegularExpression gap("[\t;]");
        for (int line = 0; line < lines.size(); ++line) {
            const QStringList cells = lines[line].split(gap);
            for (int column = 0; column < cells.size(); ++column)
                put_text(table, from_line + line, from_column + column, cells[column].trimmed());
        }
        place_.write(table);
    }

    EditorPlace place_;
    std::string shown_ = "\n";
};

Editor table_editor(const EditorPlace& place) {
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 2, 4, 2);
    column->setSpacing(3);
    column->addWidget(setting_label(place.info, box));
    auto* grid = new TableGrid(place, box);
    column->addWidget(grid);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(3);
    const auto button = [&](const QString& text, const QString& name, const auto& act) {
        auto* one = new QPushButton(text, box);
        one->setObjectName(name + ":" + QString::fromStdString(place.key()));
        QObject::connect(one, &QPushButton::clicked, grid, act);
        buttons->addWidget(one);
    };
    button("+ row", "addTableRow", [grid] { grid->add(true); });
    button("+ head", "addTableHead", [grid] { grid->add(false); });
    button("− row", "removeTableRow", [grid] { grid->remove(true); });
    button("− head", "removeTableHead", [grid] { grid->remove(false); });
    buttons->addStretch();
    column->addLayout(buttons);
    return {box, [grid](const Values&) { grid->show_table(); }};
}

const EditorOf table_kind(ParameterKind::table, table_editor);

/// The rows' names, and the dials that may choose one.
Editor row_editor(const EditorPlace& place) {
    return name_combo(place, "row", "the first", [place] {
        QStringList names;
        const Step* step = place.step_now();
        const auto table = step ? step->settings.find("table") : Json::const_iterator{};
        const Json rows = step && table != step->settings.end() ? table_of(*table)["rows"] : Json::array();
        for (const Json& row : rows)
            if (row.is_array() && !row.empty() && row[0].is_string())
                names << QString::fromStdString(row[0].get<std::string>());
        for (const Dial& dial : place.session->recipe().dials)
            if (dial.kind == DialKind::choice) names << "= " + QString::fromStdString(dial.name);
        return names;
    });
}

const EditorOf row_kind(ParameterKind::row, row_editor);

}  // namespace

}  // namespace bricol
