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

#include "app/theme/theme.h"
#include "app/theme/text.h"
#include "core/kernels/measure.h"
#include "core/kernels/choose.h"

namespace bricol {

namespace {

constexpr std::array<Domain, 6> shown_domains = {Domain::vertex, Domain::edge,     Domain::face,
                                                 Domain::corner, Domain::instance, Domain::whole};

int components_of(const Column& column) {
    return std::string_view(column_type(column)).starts_with("vec") ? column_type(column)[3] - '0' : 1;
}

double read(const Column& column, std::size_t i, int component) {
    return std::visit(
        [&](const auto& values) -> double {
            using T = typename std::decay_t<decltype(values)>::value_type;
            if (i >= values.size()) return 0;
            if constexpr (std::is_arithmetic_v<T>)
                return static_cast<double>(values[i]);
            else
                return static_cast<double>(values[i][std::max(0, component)]);
        },
        column);
}

}  // namespace

std::size_t AttributeModel::count() const {
    if (!shape_) return 0;
    if (domain_ != Domain::instance) return shape_->mesh.domain_sizes()[static_cast<std::size_t>(domain_)];
    std::size_t n = 0;
    for (const Instances& group : shape_->instances) n += group.count();
    return n;
}

void AttributeModel::show(ShapePtr shape, Domain domain, const std::string& set) {
    beginResetModel();
    shape_ = std::move(shape);
    domain_ = domain;
    fields_.clear();
    rows_.clear();
    whole_.clear();
    if (shape_ && domain == Domain::whole) {
        const Measures m = measured(*shape_);
        const auto row = [&](const QString& name, const QString& value) { whole_.emplace_back(name, value); };
        row("vertices", QString::number(m.vertices)), row("edges", QString::number(m.edges)),
            row("faces", QString::number(m.faces));
        row("triangles", QString::number(m.triangles)), row("pieces", QString::number(m.pieces)),
            row("closed", m.closed ? "yes" : "no");
        row("area (m²)", QString::number(m.area, 'g', 7));
        if (m.volume) row("volume (m³)", QString::number(*m.volume, 'g', 7));
        for (const SetInfo& one : sets_of(shape_->mesh))
            row("set " + QString::fromStdString(one.name),
                QString("%1 %2").arg(one.size).arg(text_of(plural_name(one.domain))));
        for (const Attribute& a : shape_->mesh.attributes.all())
            if (a.domain == Domain::whole && column_size(*a.values) > 0)
                row(QString::fromStdString(a.name), QString::number(read(*a.values, 0, 0)));
    } else if (shape_) {
        for (int axis = 0; axis < 3; ++axis) fields_.push_back({QString("xyz"[axis]), nullptr, -1, axis + 1, 0});
        if (domain == Domain::vertex || domain == Domain::face)
            fields_.push_back({domain == Domain::vertex ? "edges" : "corners", nullptr, -1, 4, 0});
        if (domain == Domain::edge || domain == Domain::face)
            fields_.push_back({domain == Domain::edge ? "length" : "area", nullptr, -1, 5, 0});
        const auto add = [&](const Attributes& attributes, std::size_t group) {
            for (const Attribute& a : attributes.all()) {
                if (a.domain != domain) continue;
                const int n = components_of(*a.values);
                for (int c = 0; c < n; ++c)
                    fields_.push_back(
                        {QString::fromStdString(a.name) +
                             (n > 1 ? QString(".") + (a.name == attribute_name::colour ? "rgba" : "xyzw")[c]
                                    : QString()),
                         a.values, n > 1 ? c : -1, 0, group});
            }
        };
        if (domain == Domain::instance) {
            if (!shape_->instances.empty()) add(shape_->instances.front().attributes, 0);
        } else {
            add(shape_->mesh.attributes, 0);
        }
        const std::size_t n = count();
        const auto members = set.empty() || domain == Domain::instance || domain == Domain::corner
                                 ? std::nullopt
                                 : set_members(shape_->mesh, domain, set);
        rows_.reserve(n);
        for (std::size_t i = 0; i < n; ++i)
            if (!members || (*members)[i]) rows_.push_back(static_cast<std::uint32_t>(i));
    }
    endResetModel();
}

int AttributeModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid()           ? 0
           : domain_ == Domain::whole ? static_cast<int>(whole_.size())
                                      : static_cast<int>(rows_.size());
}
int AttributeModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : domain_ == Domain::whole ? 2 : static_cast<int>(fields_.size()) + 1;
}

Vec3 AttributeModel::place(std::size_t element) const {
    if (domain_ == Domain::instance) {
        for (const Instances& group : shape_->instances) {
            if (element < group.count()) return Vec3(group.places[element][3]);
            element -= group.count();
        }
        return Vec3(0);
    }
    if (domain_ == Domain::corner) return (*shape_->mesh.positions)[shape_->mesh.topology->corner_vertex[element]];
    return Vec3(middle_of(shape_->mesh, domain_, element));
}

double AttributeModel::value(std::size_t element, int column) const {
    if (column == 0) return static_cast<double>(element);
    const Field& field = fields_[static_cast<std::size_t>(column - 1)];
    if (field.worked_out >= 1 && field.worked_out <= 3)
        return static_cast<double>(place(element)[field.worked_out - 1]);
    const Topology& t = *shape_->mesh.topology;
    if (field.worked_out == 4)
        return domain_ == Domain::vertex
                   ? static_cast<double>(t.adjacency().edges_of_vertex(static_cast<Index>(element)).size())
                   : static_cast<double>(t.face(element).size());
    if (field.worked_out == 5) {
        const Array<Vec3>& p = *shape_->mesh.positions;
        if (domain_ == Domain::edge) return glm::distance(DVec3(p[t.edges[element][0]]), DVec3(p[t.edges[element][1]]));
        DVec3 sum(0);
        const auto face = t.face(element);
        for (std::size_t i = 1; i + 1 < face.size(); ++i)
            sum += glm::cross(DVec3(p[face[i]]) - DVec3(p[face[0]]), DVec3(p[face[i + 1]]) - DVec3(p[face[0]]));
        return glm::length(sum) / 2;
    }
    if (domain_ == Domain::instance) {
        std::size_t i = element;
        for (const Instances& group : shape_->instances) {
            if (i >= group.count()) {
                i -= group.count();
                continue;
            }
            const QString base = field.name.section('.', 0, 0);
            const Attribute* found = group.attributes.find(Domain::instance, base.toStdString());
            return found ? read(*found->values, i, field.component) : 0;
        }
        return 0;
    }
    return read(*field.values, element, field.component);
}

QVariant AttributeModel::data(const QModelIndex& index, int role) const {
    if (role == Qt::TextAlignmentRole) return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    if (domain_ == Domain::whole) {
        const auto& [name, value] = whole_[static_cast<std::size_t>(index.row())];
        return index.column() == 0 ? name : value;
    }
    const std::size_t i = element(index.row());
    if (index.column() == 0) return static_cast<qulonglong>(i);
    const Field& field = fields_[static_cast<std::size_t>(index.column() - 1)];
    if (field.values && column_type(*field.values) == "bool") return value(i, index.column()) > 0 ? "yes" : "·";
    return QString::number(value(i, index.column()), 'g', 5);
}

QVariant AttributeModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation != Qt::Horizontal) return {};
    if (role == Qt::ToolTipRole && domain_ != Domain::whole && section > 0) return statistics(section);
    if (role != Qt::DisplayRole) return {};
    if (domain_ == Domain::whole) return section == 0 ? "what" : "value";
    return section == 0 ? text_of(domain_name(domain_)) : fields_[static_cast<std::size_t>(section - 1)].name;
}

void AttributeModel::sort(int column, Qt::SortOrder order) {
    if (domain_ == Domain::whole || column < 0 || column >= columnCount()) return;
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
    if (rows_.empty() || domain_ == Domain::whole || column < 1 || column >= columnCount()) return {};
    double least = 1e300, most = -1e300, sum = 0;
    for (const std::uint32_t i : rows_) {
        const double v = value(i, column);
        least = std::min(least, v), most = std::max(most, v), sum += v;
    }
    const double mean = sum / static_cast<double>(rows_.size());
    double spread = 0;
    for (const std::uint32_t i : rows_) spread += std::pow(value(i, column) - mean, 2);
    return QString("%1: least %2, mean %3, most %4, deviation %5")
        .arg(headerData(column, Qt::Horizontal).toString())
        .arg(least, 0, 'g', 5)
        .arg(mean, 0, 'g', 5)
        .arg(most, 0, 'g', 5)
        .arg(std::sqrt(spread / static_cast<double>(rows_.size())), 0, 'g', 4);
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
    title_ = new QLabel(this);
    title_->setObjectName("soft");
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
    statistics_ = new QLabel(this);
    statistics_->setObjectName("soft");
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
            for (const SetInfo& one : sets_of(shape->mesh))
                set_->addItem("set " + QString::fromStdString(one.name), QString::fromStdString(one.name));
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
