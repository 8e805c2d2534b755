#pragma once
#include <QAbstractTableModel>
#include <unordered_set>

#include "session/column_facts.h"

namespace ledge::app {

/// Rows of an attribute table in some order, with the columns that a layer shows. It computes
/// nothing: order and facts come from workers.
class TableModel : public QAbstractTableModel {
    Q_OBJECT

public:
    explicit TableModel(QObject* parent = nullptr);

    /// Other data: a table, the rows shown in their order, and its columns.
    void show(TablePtr table, std::vector<std::uint32_t> rows,
              std::vector<session::ShownColumn> columns);
    void setColumns(std::vector<session::ShownColumn> columns);
    void setPicked(const std::vector<FeatureKey>& keys);
    /// Cells may be edited; else they are only read.
    void setEditable(bool isEditable) { m_isEditable = isEditable; }

    const TablePtr& table() const { return m_table; }
    const std::vector<session::ShownColumn>& columns() const { return m_columns; }
    const std::vector<std::uint32_t>& rows() const { return m_rows; }
    const Field& field(int column) const;
    FeatureKey keyOf(int row) const;
    /// Where a feature stands; -1 when it is not shown.
    int rowOf(FeatureKey key) const;
    bool isPicked(int row) const { return m_picked.contains(keyOf(row)); }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;

Q_SIGNALS:
    /// A cell was typed into; an empty text means no value.
    void typed(FeatureKey key, const QString& field, const QString& text);

private:
    TablePtr m_table;
    std::vector<std::uint32_t> m_rows;
    std::vector<session::ShownColumn> m_columns;
    std::unordered_set<FeatureKey> m_picked;
    bool m_isEditable = true;
};

}  // namespace ledge::app
