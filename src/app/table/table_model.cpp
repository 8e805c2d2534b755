#include "app/table/table_model.h"

#include <QBrush>
#include <QFont>

#include "app/theme.h"

namespace ledge::app {

TableModel::TableModel(QObject* parent) : QAbstractTableModel(parent) {}

void TableModel::show(TablePtr table, std::vector<std::uint32_t> rows,
                      std::vector<session::ShownColumn> columns) {
    beginResetModel();
    m_table = std::move(table);
    m_rows = std::move(rows);
    m_columns = std::move(columns);
    endResetModel();
}

void TableModel::setColumns(std::vector<session::ShownColumn> columns) {
    beginResetModel();
    m_columns = std::move(columns);
    endResetModel();
}

void TableModel::setPicked(const std::vector<FeatureKey>& keys) {
    m_picked = {keys.begin(), keys.end()};
    if (m_rows.empty() || m_columns.empty()) return;
    Q_EMIT dataChanged(index(0, 0), index(rowCount() - 1, columnCount() - 1), {Qt::BackgroundRole});
    Q_EMIT headerDataChanged(Qt::Vertical, 0, rowCount() - 1);
}

const Field& TableModel::field(int column) const {
    return m_table->info.fields[m_columns[static_cast<std::size_t>(column)].field];
}

FeatureKey TableModel::keyOf(int row) const {
    return m_table->key(m_rows[static_cast<std::size_t>(row)]);
}

int TableModel::rowOf(FeatureKey key) const {
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        if (m_table->key(m_rows[i]) == key) return static_cast<int>(i);
    return -1;
}

int TableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}
int TableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_columns.size());
}

QVariant TableModel::data(const QModelIndex& at, int role) const {
    if (!at.isValid()) return {};
    const auto& column = m_columns[static_cast<std::size_t>(at.column())];
    const std::size_t row = m_rows[static_cast<std::size_t>(at.row())];
    switch (role) {
    case Qt::DisplayRole:
        return QString::fromStdString(
            session::shownText(m_table->value(row, column.field), column.look));
    case Qt::EditRole: return QString::fromStdString(exactText(m_table->value(row, column.field)));
    case Qt::TextAlignmentRole: {
        const FieldType type = field(at.column()).type;
        const bool isNumber = type == FieldType::Integer || type == FieldType::Real;
        return QVariant(Qt::AlignVCenter | (isNumber ? Qt::AlignRight : Qt::AlignLeft));
    }
    case Qt::BackgroundRole:
        if (isPicked(at.row())) {
            QColor lit = theme().lichen;
            lit.setAlpha(60);
            return QBrush(lit);
        }
        return {};
    case Qt::ForegroundRole:
        return m_table->isMissing(row, column.field) ? QVariant(QBrush(theme().muted)) : QVariant();
    default: return {};
    }
}

QVariant TableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Horizontal) {
        if (section >= columnCount()) return {};
        return role == Qt::DisplayRole ? QVariant(QString::fromStdString(field(section).name))
                                       : QVariant();
    }
    if (section >= rowCount()) return {};
    if (role == Qt::DisplayRole) return section + 1;
    if (role == Qt::BackgroundRole && isPicked(section)) return QBrush(theme().lichen);
    return {};
}

bool TableModel::setData(const QModelIndex& at, const QVariant& value, int role) {
    if (role != Qt::EditRole || !at.isValid()) return false;
    if (value.toString() == data(at, Qt::EditRole).toString()) return false;
    Q_EMIT typed(keyOf(at.row()), QString::fromStdString(field(at.column()).name),
                 value.toString());
    return true;
}

Qt::ItemFlags TableModel::flags(const QModelIndex& at) const {
    auto out = QAbstractTableModel::flags(at);
    if (m_isEditable && at.isValid() && field(at.column()).type != FieldType::Bytes)
        out |= Qt::ItemIsEditable;
    return out;
}

}  // namespace ledge::app
