// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/table/attribute_table.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "app/theme/small_parts.h"
#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/kernels/measure.h"
#include "core/kernels/choose.h"
#include "core/kernels/stand_ins.h"

namespace bricol {

namespace {

constexpr std::array<Domain, 7> shown_domains = {Domain::vertex, Domain::edge,     Domain::face, Domain::corner,
                                                 Domain::knot,   Domain::instance, Domain::whole};

}  // namespace

void AttributeModel::show(ShapePtr shape, Domain domain, const std::string& set) {
    beginResetModel();
    whole_ = shape && domain == Domain::whole ? whole_values(*shape) : decltype(whole_){};
    values_ = ElementValues(std::move(shape), domain, set);
    rows_ = values_.rows();
    endResetModel();
}

int AttributeModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid()            ? 0
           : domain() == Domain::whole ? static_cast<int>(whole_.size())
                                       : static_cast<int>(rows_.size());
}
int AttributeModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : domain() == Domain::whole ? 2 : static_cast<int>(values_.columns());
}

QVariant AttributeModel::data(const QModelIndex& index, int role) const {
    if (role == Qt::TextAlignmentRole) return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    if (domain() == Domain::whole) {
        const auto& [name, value] = whole_[static_cast<std::size_t>(index.row())];
        return text_of(index.column() == 0 ? name : value);
    }
    const std::size_t i = element(index.row());
    if (index.column() == 0) return static_cast<qulonglong>(i);
    if (values_.yes_or_no(static_cast<std::size_t>(index.column()))) return value(i, index.column()) > 0 ? "yes" : "·";
    const double number = value(i, index.column());
    return QString::number(std::abs(number) < 1e-12 ? 0 : number, 'g', 5);  // what sums leave behind is nothing
}

QVariant AttributeModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::ToolTipRole && domain() != Domain::whole && section > 0) return statistics(section);
    if (role != Qt::DisplayRole) return {};
    if (domain() == Domain::whole) return section == 0 ? "what" : "value";
    return text_of(values_.name(static_cast<std::size_t>(section)));
}

void AttributeModel::sort(int column, Qt::SortOrder order) {
    if (domain() == Domain::whole || column < 0 || column >= columnCount()) return;
    beginResetModel();
    std::vector<std::pair<double, std::uint32_t>> keys;
    keys.reserve(rows_.size());
    for (const std::uint32_t i : rows_) keys.emplace_back(value(i, column), i);
    std::ranges::stable_sort(keys, [&](const auto& a, const auto& b) {
        return a.first != b.first ? (order == Qt::AscendingOrder ? a.first < b.first : a.first > b.first)
                                  : a.second < b.second;
    });
    for (std::size_t r = 0; r < rows_.size(); ++r) rows_[r] = keys[r].second;
    endResetModel();
}

int AttributeModel::row_of(std::size_t element) const {
    const auto found = std::ranges::find(rows_, static_cast<std::uint32_t>(element));
    return found == rows_.end() ? -1 : static_cast<int>(found - rows_.begin());
}

QString AttributeModel::statistics(int column) const {
    if (domain() == Domain::whole || column < 1 || column >= columnCount()) return {};
    const auto spread = values_.spread(static_cast<std::size_t>(column), rows_);
    if (!spread) return {};
    return QString("%1: least %2, mean %3, most %4, deviation %5")
        .arg(headerData(column, Qt::Horizontal).toString())
        .arg(spread->least, 0, 'g', 5)
        .arg(spread->mean, 0, 'g', 5)
        .arg(spread->most, 0, 'g', 5)
        .arg(spread->deviation, 0, 'g', 4);
}

QString AttributeModel::as_text(const QModelIndexList& cells) const {
    QModelIndexList list = cells;
    std::ranges::sort(list, [](const QModelIndex& a, const QModelIndex& b) {
        return a.row() != b.row() ? a.row() < b.row() : a.column() < b.column();
    });
    QString out;
    std::set<int> columns;
    for (const QModelIndex& cell : list) columns.insert(cell.column());
    QStringList heads;
    for (const int c : columns) heads << headerData(c, Qt::Horizontal).toString();
    out += heads.join('\t') + "\n";
    int row = -1;
    for (const QModelIndex& cell : list) {
        out += cell.row() == row ? "\t" : row < 0 ? "" : "\n";
        row = cell.row();
        out += data(cell).toString();
    }
    return out + "\n";
}

AttributeTable::AttributeTable(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("table");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(8, 6, 8, 6);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    title_ = soft_label("", this);
    row->addWidget(title_);
    row->addSpacing(12);
    domain_ = new QComboBox(this);
    domain_->setObjectName("tableDomain");
    for (const Domain d : shown_domains)
        domain_->addItem(d == Domain::whole ? QString("whole shape") : text_of(plural_name(d)), static_cast<int>(d));
    domain_->setToolTip("The kind of element that is listed");
    row->addWidget(domain_);
    set_ = new QComboBox(this);
    set_->setObjectName("tableSet");
    set_->setToolTip("Lists the members of a set only");
    row->addWidget(set_);
    row->addSpacing(12);
    statistics_ = soft_label("", this);
    statistics_->setFont(theme::number_font(8.5));
    row->addWidget(statistics_, 1);
    auto* copy_button = new QPushButton("Copy", this);
    copy_button->setObjectName("tableCopy");
    copy_button->setToolTip("Copies the chosen cells, or everything, as text with tabs (Ctrl+C)");
    connect(copy_button, &QPushButton::clicked, this, &AttributeTable::copy);
    row->addWidget(copy_button);
    column->addLayout(row);
    model_ = new AttributeModel(this);
    view_ = new QTableView(this);
    view_->setObjectName("tableView");
    view_->setModel(model_);
    view_->setSortingEnabled(true);
    view_->sortByColumn(0, Qt::AscendingOrder);
    view_->verticalHeader()->hide();
    view_->verticalHeader()->setDefaultSectionSize(21);
    view_->horizontalHeader()->setDefaultSectionSize(96);
    view_->horizontalHeader()->setHighlightSections(false);
    view_->setFont(theme::number_font(9));
    view_->setSelectionBehavior(QAbstractItemView::SelectRows);
    view_->setAlternatingRowColors(false);
    view_->setToolTip("Enter or a double click shows the element in the view");
    column->addWidget(view_, 1);
    connect(domain_, &QComboBox::currentIndexChanged, this, [this] {
        shown_.reset();
        refresh();
    });
    connect(set_, &QComboBox::activated, this, [this] {
        shown_.reset();
        refresh();
    });
    const auto jump = [this](const QModelIndex& cell) {
        if (!cell.isValid() || model_->domain() == Domain::whole) return;
        emit showPlaces({model_->place(model_->element(cell.row()))});
    };
    connect(view_, &QTableView::activated, this, jump);
    connect(view_->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& cell) { statistics_->setText(model_->statistics(cell.column())); });
    connect(view_->horizontalHeader(), &QHeaderView::sectionClicked, this,
            [this](int section) { statistics_->setText(model_->statistics(section)); });
    connect(&session, &Session::madeChanged, this, &AttributeTable::refresh);
    connect(&session, &Session::choiceChanged, this, &AttributeTable::refresh);
}

void AttributeTable::refresh() {
    if (!isVisible()) {  // made anew when it is looked at
        shown_.reset();
        return;
    }
    const StepOutcome* outcome = session_.outcome(session_.part(), session_.step());
    const ShapePtr shape = outcome ? outcome->shape : nullptr;
    title_->setText(session_.step().empty() ? QString("no step chosen")
                                            : "on “" + QString::fromStdString(session_.step()) + "”");
    if (shape == shown_ && shape) return;
    shown_ = shape;
    const auto domain = static_cast<Domain>(domain_->currentData().toInt());
    const QString set = set_->currentData().toString();
    {
        const QSignalBlocker quiet(set_);
        set_->clear();
        set_->addItem("all", QString());
        if (shape)
            for (const SetInfo& one : sets_on(*shape))
                if (const QString name = QString::fromStdString(one.name); set_->findData(name) < 0)
                    set_->addItem("set " + name, name);
        set_->setCurrentIndex(std::max(0, set_->findData(set)));
    }
    const int column = view_->horizontalHeader()->sortIndicatorSection();
    const Qt::SortOrder order = view_->horizontalHeader()->sortIndicatorOrder();
    model_->show(shape, domain, set_->currentData().toString().toStdString());
    if (column > 0 && column < model_->columnCount()) model_->sort(column, order);
    view_->horizontalHeader()->setStretchLastSection(domain == Domain::whole);
    if (domain == Domain::whole) view_->setColumnWidth(0, 180);
    statistics_->clear();
}

void AttributeTable::go_to(Domain domain, std::size_t element) {
    const int at = domain_->findData(static_cast<int>(domain));
    if (at >= 0) domain_->setCurrentIndex(at);
    if (model_->row_of(element) < 0) {  // not of the set that is listed: everything is, then
        set_->setCurrentIndex(0);
        shown_.reset();
        refresh();
    }
    if (const int row = model_->row_of(element); row >= 0) {
        view_->setCurrentIndex(model_->index(row, 0));
        view_->selectRow(row);
        view_->scrollTo(model_->index(row, 0), QAbstractItemView::PositionAtCenter);
    }
}

void AttributeTable::copy() {
    QModelIndexList cells = view_->selectionModel()->selectedIndexes();
    if (cells.isEmpty())
        for (int r = 0; r < std::min(model_->rowCount(), 100000); ++r)
            for (int c = 0; c < model_->columnCount(); ++c) cells << model_->index(r, c);
    QApplication::clipboard()->setText(model_->as_text(cells));
    session_.say(QString("Copied %1 cells.").arg(cells.size()));
}

void AttributeTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy))
        copy();
    else
        QWidget::keyPressEvent(event);
}

}  // namespace bricol
