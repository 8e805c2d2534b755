#pragma once
#include <QHeaderView>
#include <map>

#include "core/feature/order.h"
#include "session/column_facts.h"

namespace ledge::app {

class TableModel;

/// The head of the attribute table: for each column its name, how rows are ordered by it, and what
/// its values come to, with a small histogram.
class TableHead : public QHeaderView {
    Q_OBJECT

public:
    TableHead(const TableModel& model, QWidget* parent = nullptr);
    void setOrder(std::vector<OrderBy> order);
    void setFacts(std::size_t field, session::ColumnFacts facts);
    void clearFacts();
    /// What is told to this head is told to another too: that of the columns that stay.
    void tellAlso(TableHead* other) { m_other = other; }
    const session::ColumnFacts* facts(std::size_t field) const;

protected:
    QSize sizeHint() const override;
    void paintSection(QPainter* painter, const QRect& rect, int logical) const override;
    QSize sectionSizeFromContents(int logical) const override;
    bool viewportEvent(QEvent* event) override;

private:
    const TableModel& m_model;
    TableHead* m_other = nullptr;
    std::vector<OrderBy> m_order;
    std::map<std::size_t, session::ColumnFacts> m_facts;
};

}  // namespace ledge::app
