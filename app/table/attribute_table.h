// SPDX-License-Identifier: GPL-3.0-or-later
// The values on a step's elements as a table: vertices, edges, faces, corners, instances, and the shape as a whole.
#pragma once

#include <QAbstractTableModel>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QTableView>
#include <QWidget>

#include "app/document/session.h"
#include "core/inspect/element_values.h"

namespace bricol {

/// Rows are elements of one domain, columns their numbers: place, neighbours, attributes by component. Reads the shape
/// in place, so a million rows cost nothing until they are looked at.
class AttributeModel : public QAbstractTableModel {
    Q_OBJECT
public:
    using QAbstractTableModel::QAbstractTableModel;
    void show(ShapePtr shape, Domain domain, const std::string& set);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role = Qt::DisplayRole) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role = Qt::DisplayRole) const override;
    void sort(int column, Qt::SortOrder order) override;

    std::size_t element(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    int row_of(std::size_t element) const;  ///< -1 when it is filtered out
    Domain domain() const { return values_.domain(); }
    const ShapePtr& shape() const { return values_.shape(); }
    double value(std::size_t element, int column) const {
        return values_.value(element, static_cast<std::size_t>(column));
    }
    Vec3 place(std::size_t element) const { return values_.place(element); }
    /// Least, mean and most of a column over the rows shown.
    QString statistics(int column) const;
    QString as_text(const QModelIndexList& cells) const;

private:
    ElementValues values_;
    std::vector<std::uint32_t> rows_;  ///< elements in the order they are shown
    std::vector<std::pair<std::string, std::string>> whole_;
};

class AttributeTable : public QWidget {
    Q_OBJECT
public:
    explicit AttributeTable(Session& session, QWidget* parent = nullptr);
    AttributeModel& model() { return *model_; }
    QTableView& view() { return *view_; }
    /// Shows the row of an element that was picked in the viewport.
    void go_to(Domain domain, std::size_t element);

signals:
    void showPlaces(const std::vector<bricol::Vec3>& places);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void showEvent(QShowEvent*) override { refresh(); }

private:
    void refresh();
    void copy();
    Session& session_;
    AttributeModel* model_;
    QTableView* view_;
    QComboBox *domain_, *set_;
    QLabel *title_, *statistics_;
    ShapePtr shown_;
};

}  // namespace bricol
